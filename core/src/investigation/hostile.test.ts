import { describe, expect, it } from 'vitest'
import { full, id } from '../testing/built.ts'
import { IS_SLOW } from '../testing/extent.ts'
import { builtIns, HostilePatches } from '../testing/hostile.ts'
import {
  applyPatch,
  checkInvestigation,
  checkPatch,
  edit,
  edits,
  type Investigation,
  readInvestigation,
  summarise,
} from './index.ts'

/** Returns true if two looks at what JavaScript has are alike; compared one by one, since there are a thousand of them. */
const areAlike = (a: unknown[], b: unknown[]) =>
  a.length === b.length && a.every((one, i) => Object.is(one, b[i]))

/** Returns a full document with a report. */
const written = () =>
  edit(
    full(),
    edits.appendBlocks([
      [
        id(20),
        {
          kind: 'text',
          style: 'numbered',
          indent: 1,
          inlines: [
            { kind: 'text', text: 'See ', marks: ['bold'], link: 'https://example.org/' },
            { kind: 'reference', block: id(21) },
            { kind: 'equation', tex: '\\mu' },
          ],
        },
      ],
      [id(21), { kind: 'frame', frame: 12, width: 0.5, caption: null, alternative: 'a picture' }],
      [
        id(22),
        {
          kind: 'table',
          bodies: [id(3)],
          columns: ['x', 'vy'],
          rows: 5,
          rounded: true,
          errors: false,
          caption: null,
        },
      ],
      [id(23), { kind: 'question', question: 'Why?', answer: [] }],
    ]),
  ).document

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
      let document = written()
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
          document = n % 50 === 0 ? written() : next
        }
      }
      // Neither all nor none: otherwise nothing is tried.
      expect(taken).toBeGreaterThan(0.01 * refused)
      expect(refused).toBeGreaterThan(taken)
    },
  )
})
