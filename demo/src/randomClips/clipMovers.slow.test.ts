import { describe, expect, it } from 'vitest'
import { clipMovers, moversLine } from './clipMovers.ts'
import { type ClipChoices, randomClip } from './randomClip.ts'

/** What moves, on clips of which everything is known: the same ones each time, and as many that nobody has seen. */

const NOW = Math.floor(Date.now() / 1000)
const seeds = (from: number, count: number) => Array.from({ length: count }, (_, i) => from + i)

/** Clips in which something else moves, or the body does not move all the time. */
const SPECIAL: Partial<ClipChoices>[] = [
  { extra: 'walker', motion: 'throw' },
  { extra: 'walker', motion: 'swing' },
  { extra: 'walker', motion: 'fall' },
  { extra: 'flag', motion: 'throw' },
  { extra: 'flag', motion: 'roll' },
  { extra: 'flag', motion: 'slide' },
  { rest: 1, motion: 'roll' },
  { rest: 1.5, motion: 'slide' },
  { returns: true, motion: 'throw' },
]

describe('what moves in random clips', () => {
  const found: { isFirst: boolean; isAmong: boolean }[] = []

  const look = async (seed: number, stated: Partial<ClipChoices> = {}) => {
    const clip = randomClip(seed, stated)
    const movers = await clipMovers(clip)
    console.log(moversLine(clip, movers))
    return movers
  }

  it.each([
    // Filmed from a little before it moves.
    ...[...seeds(9300, 12), ...seeds(NOW, 12)].map((seed) => [seed, { rest: 0.7 }] as const),
    ...[9400, NOW + 100].flatMap((from) => SPECIAL.map((stated, i) => [from + i, stated] as const)),
  ])('seed %i, %j', async (seed, stated) => {
    const movers = await look(seed, stated)
    found.push({ isFirst: movers[0]?.isBody ?? false, isAmong: movers.some(({ isBody }) => isBody) })
    expect(movers.length).toBeLessThanOrEqual(3)
  })

  it('is the body in 95 %, and the body first in 85 %', () => {
    const [first, among] = [found.filter((one) => one.isFirst), found.filter((one) => one.isAmong)]
    console.log(`${found.length} clips: the body among ${among.length}, first in ${first.length}`)
    expect(among.length / found.length).toBeGreaterThanOrEqual(0.95)
    expect(first.length / found.length).toBeGreaterThanOrEqual(0.85)
  })

  it.each([...seeds(9500, 4), ...seeds(NOW + 200, 4)])(
    'is nothing where nothing moves, seed %i',
    async (seed) => {
      const extra = (['none', 'flicker'] as const)[seed % 2]
      expect(await look(seed, { body: false, extra, frames: 60 })).toEqual([])
    },
  )
})
