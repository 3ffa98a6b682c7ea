import { describe, expect, it } from 'vitest'
import type { ClipChoices } from './clipChoices.ts'
import { clipMovers, moversLine } from './clipMovers.ts'
import { randomClip } from './randomClip.ts'

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

/** Clips of a camera that moves: before a scene that tells what it does, and before one that hardly does. */
const FILMED_BY_HAND: Partial<ClipChoices>[] = (['pans', 'zooms out'] as const).flatMap((camera) => [
  ...(['throw', 'fall', 'roll', 'slide'] as const).map(
    (motion): Partial<ClipChoices> => ({ camera, motion, wall: 'crates', extra: 'none', rest: 0.5 }),
  ),
  { camera, motion: 'roll', wall: 'quay', extra: 'none', rest: 0.5 },
])

describe('what moves in random clips', () => {
  const found: { isFirst: boolean; isAmong: boolean }[] = []
  const byHand: { isFirst: boolean; isOther: boolean; isClear: boolean }[] = []

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

  it.each(
    [9600, NOW + 300].flatMap((from) => FILMED_BY_HAND.map((stated, i) => [from + i, stated] as const)),
  )('filmed by hand, seed %i, %j', async (seed, stated) => {
    const movers = await look(seed, stated)
    const isFirst = movers[0]?.isBody ?? false
    byHand.push({ isFirst, isOther: movers.length > 0 && !isFirst, isClear: stated.wall === 'crates' })
  })

  it('is the body, or nothing, where the camera moves', () => {
    const clear = byHand.filter(({ isClear }) => isClear)
    const [first, other] = [clear.filter((one) => one.isFirst), byHand.filter((one) => one.isOther)]
    console.log(
      `${byHand.length} clips filmed by hand: something else first in ${other.length}; the body in ${first.length} of ${clear.length} before a clear scene`,
    )
    expect(other.length / byHand.length).toBeLessThanOrEqual(0.15)
    expect(first.length / clear.length).toBeGreaterThanOrEqual(0.75)
  })

  it.each([...seeds(9500, 4), ...seeds(NOW + 200, 4)])(
    'is nothing where nothing moves, seed %i',
    async (seed) => {
      const extra = (['none', 'flicker'] as const)[seed % 2]
      expect(await look(seed, { body: false, extra, frames: 60 })).toEqual([])
    },
  )
})
