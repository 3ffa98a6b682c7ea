import { IS_SLOW } from '@apokinema/core/testing/extent'
import { beforeEach, describe, expect, it } from 'vitest'
import { Hands, MEASURED } from './measuring.ts'
import { pageTests } from './pageTests.ts'
import { openPrepared } from './work.ts'

/** From a clip that has just been opened to the right reading in a few actions, by what is proposed. */

/** A free flight, a motion along a tilted line, and slow motion; the others are like one of these. */
const QUICK = ['net-float', 'barrel-on-plank', 'crane-pebble']

const given = pageTests({ background: ['survey'] })

beforeEach(() => given.page.setDefaultTimeout(120_000))

describe('from opening to the reading', () => {
  it.each(MEASURED.filter(({ sample }) => IS_SLOW || QUICK.includes(sample)))(
    '$title takes at most $most actions and is right',
    async ({ sample, truth, within, most, measure }) => {
      await openPrepared(given.server, given.page, sample)
      const hands = new Hands(given.page, sample)
      const { value, error } = await measure(hands)
      expect(Math.abs(value - truth)).toBeLessThan(3 * error)
      expect(Math.abs(value / truth - 1)).toBeLessThan(within)
      expect(hands.actions).toBeLessThanOrEqual(most)
    },
  )
})
