import { describe, expect, it } from 'vitest'
import type { ClipChoices } from './clipChoices.ts'
import { clipResult } from './clipResult.ts'
import { randomClip } from './randomClip.ts'

/** Following and the errors of readings on clips of which everything is known; `randomClips.slow.test.ts` has many more. */

/** Clips that are quick to render, and show what is filmed most. */
const FEW: { name: string; seed: number; scatter: number; stated: Partial<ClipChoices> }[] = [
  {
    name: 'a striped ball that rolls in front of crates',
    seed: 20,
    scatter: 0.6,
    stated: { motion: 'roll', extra: 'none', wall: 'crates', radius: 11, rate: 24, shutter: 0.4, width: 480 },
  },
  {
    name: 'a stick that tumbles beside its shadow',
    seed: 5,
    scatter: 0.8,
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
  {
    name: 'a ball that is a streak of nine tenths of a frame',
    seed: 238,
    scatter: 1.2,
    stated: {},
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
