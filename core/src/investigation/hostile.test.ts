import { describe, expect, it } from 'vitest'
import { full } from '../testing/built.ts'
import { IS_SLOW } from '../testing/extent.ts'
import { builtIns, HostilePatches } from '../testing/hostile.ts'
import {
  applyPatch,
  checkInvestigation,
  checkPatch,
  type Investigation,
  readInvestigation,
  summarise,
} from './index.ts'

/** Returns true if two looks at what JavaScript has are alike; compared one by one, since there are a thousand of them. */
const areAlike = (a: unknown[], b: unknown[]) =>
  a.length === b.length && a.every((one, i) => Object.is(one, b[i]))

/** Returns the document after a patch from outside, as the server makes it; null where it is refused with a reason. */
function patched(document: Investigation, patch: unknown): Investigation | null {
  try {
    return checkInvestigation(applyPatch(document, checkPatch(patch)))
  } catch (error) {
    if (error instanceof RangeError) return null
    throw error
  }
}

describe('patches that mean harm', () => {
  it.each([18, 28, 1117])(
    'with seed %i are refused with a reason, or leave a document that can be opened; JavaScript stays as it is',
    (seed) => {
      const hostile = new HostilePatches(seed)
      const born = builtIns()
      let document = full()
      let [taken, refused] = [0, 0]
      for (let n = 0; n < (IS_SLOW ? 34_000 : 700); n++) {
        const patch = hostile.next(document)
        const next = patched(document, patch)
        expect(areAlike(builtIns(), born), JSON.stringify(patch)).toBe(true)
        if (!next) refused++
        else {
          taken++
          const opened = readInvestigation(JSON.parse(JSON.stringify(next)))
          expect(opened, JSON.stringify(patch)).toEqual(next)
          expect(Number.isFinite(summarise(opened).marks)).toBe(true)
          // What was taken is gone on with for a while.
          document = n % 50 === 0 ? full() : next
        }
      }
      // Neither all nor none: otherwise nothing is tried.
      expect(taken).toBeGreaterThan(0.01 * refused)
      expect(refused).toBeGreaterThan(taken)
    },
  )
})
