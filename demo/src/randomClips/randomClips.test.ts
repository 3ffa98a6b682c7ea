import { IS_SLOW } from '@apokinema/core/testing/extent'
import { describe, expect, it } from 'vitest'
import { type ClipResult, clipResult, resultLine } from './clipResult.ts'
import { type ClipChoices, randomClip } from './randomClip.ts'

/** Following and the errors of readings on clips of which everything is known, rendered anew. */

/** Clips that are quick to render, and show what is filmed most. */
const FEW: { name: string; seed: number; scatter: number; stated: Partial<ClipChoices> }[] = [
  {
    name: 'a striped ball that rolls in front of crates',
    ...{ seed: 20, scatter: 0.6 },
    stated: { motion: 'roll', extra: 'none', wall: 'crates', radius: 11, rate: 24, shutter: 0.4, width: 480 },
  },
  {
    name: 'a stick that tumbles beside its shadow',
    ...{ seed: 5, scatter: 0.8 },
    stated: {
      motion: 'tumble',
      extra: 'shadow',
      wall: 'plain',
      radius: 20,
      rate: 30,
      shutter: 0.2,
      width: 480,
    },
  },
]

describe.each(FEW)('$name', ({ seed, scatter: most, stated }) => {
  it('is followed, and its readings hold the truth', async () => {
    const { marked, visible, far, scatter, readings } = await clipResult(randomClip(seed, stated))
    expect(marked).toBeGreaterThan(0.95 * visible)
    expect(far).toBe(0)
    expect(scatter).toBeLessThan(most)
    expect(readings.length).toBeGreaterThan(0)
    for (const { value, truth, half } of readings) expect(Math.abs(value - truth)).toBeLessThan(1.6 * half)
  })
})

/** Of the clips in the slow run: the same ones each time, and as many that nobody has seen. */
const SAME = Array.from({ length: 20 }, (_, i) => 101 + i)
const NEW = Array.from({ length: 20 }, (_, i) => Math.floor(Date.now() / 1000) + i)

if (IS_SLOW)
  describe('forty random clips', () => {
    const results: ClipResult[] = []

    it.each([...SAME, ...NEW])('with seed %i', async (seed) => {
      const result = await clipResult(randomClip(seed))
      results.push(result)
      console.log(resultLine(result))
      expect(result.visible).toBeGreaterThan(0)
    })

    it('are followed, and the readings of all of them hold the truth as often as they say', () => {
      const sum = (of: (one: ClipResult) => number) => results.reduce((all, one) => all + of(one), 0)
      const [visible, marked, marks, far] = [
        sum((one) => one.visible),
        sum((one) => one.marked),
        sum((one) => one.marks),
        sum((one) => one.far),
      ]
      const readings = results.flatMap((one) => one.readings)
      const covered = readings.filter(({ value, truth, half }) => Math.abs(value - truth) <= half).length
      console.log(
        `${results.length} clips: ${marked} of ${visible} visible bodies marked, ${far} of ${marks} marks farther off than 3 px, ${covered} of ${readings.length} readings within their 95 % interval`,
      )
      expect(marked / visible).toBeGreaterThan(0.9)
      expect(far / marks).toBeLessThan(0.06)
      expect(covered / readings.length).toBeGreaterThan(0.8)
    })
  })
