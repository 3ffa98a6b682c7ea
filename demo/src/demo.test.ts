import { existsSync, statSync } from 'node:fs'
import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { frameCount } from '@apokinema/core/time'
import { describe, expect, it } from 'vitest'
import { readTruth } from './fill.ts'
import { truthOf } from './film.ts'
import { SAMPLES } from './samples/index.ts'
import { TRIAL_SAMPLES } from './series/index.ts'

const ALL = [
  ...SAMPLES.map((sample) => ({ sample, kind: 'samples' as const, id: sample.id })),
  ...TRIAL_SAMPLES.map((sample) => ({ sample, kind: 'series' as const, id: sample.id })),
]

describe.each(ALL)('$kind: $id', ({ sample, kind }) => {
  const folder = join(import.meta.dirname, '..', kind, sample.id)

  it('stands committed with its truth, and is small', () => {
    for (const name of ['footage.mp4', 'poster.jpg', 'sample.json', 'truth.json'])
      expect(existsSync(join(folder, name))).toBe(true)
    expect(statSync(join(folder, 'footage.mp4')).size).toBeLessThan(1_500_000)
  })

  it('has a truth that its own motion gives', () => {
    expect(readTruth(sample.id, kind)).toEqual(JSON.parse(JSON.stringify(truthOf(sample))))
  })

  it('has the facts of its footage beside it', async () => {
    const { footage, order } = JSON.parse(await readFile(join(folder, 'sample.json'), 'utf8'))
    // Trials of a series are not offered by themselves.
    expect(SAMPLES[order]?.id).toBe(kind === 'samples' ? sample.id : undefined)
    expect(footage.notedCaptureRate).toBe(sample.captureRate ?? null)
    expect(footage.size).toBe(statSync(join(folder, 'footage.mp4')).size)
    expect([footage.width, footage.height]).toEqual([sample.width, sample.height])
    expect(frameCount(footage.ticks)).toBe(sample.frames)
    const [[step]] = footage.ticks.runs
    expect((step * footage.timeBase.numerator) / footage.timeBase.denominator).toBeCloseTo(
      1 / sample.rate,
      12,
    )
  })

  it('never moves further than its speed allows from frame to frame', () => {
    for (const { frames } of readTruth(sample.id, kind).bodies)
      frames.slice(1).forEach(({ x, y }, i) => {
        expect(Math.hypot(x - frames[i].x, y - frames[i].y)).toBeLessThan(40)
      })
  })
})

describe('fender', () => {
  it('leaves each bounce with the stated share of its speed', () => {
    const { constants, pixelsPerMetre, bodies } = readTruth('fender')
    const { restitution, drop, secondHit, firstHit } = constants
    // Heights above the quay: the highest after the first bounce is the drop times the share's square.
    const between = bodies[0].frames.filter(({ t }) => t > firstHit && t < secondHit)
    const ground = Math.max(...bodies[0].frames.map(({ y }) => y))
    const highest = (ground - Math.min(...between.map(({ y }) => y))) / pixelsPerMetre
    expect(highest).toBeCloseTo(drop * restitution ** 2, 1)
    expect(secondHit - firstHit).toBeCloseTo(2 * restitution * Math.sqrt((2 * drop) / constants.g), 9)
  })
})

describe('net float', () => {
  it('falls freely with g while it flies: equal second differences of position', () => {
    const truth = readTruth('net-float')
    const flying = truth.bodies[0].frames.filter(({ phase }) => phase === 'flying')
    const g = truth.constants.g * truth.pixelsPerMetre
    for (let i = 1; i + 1 < flying.length; i++) {
      const [a, b, c] = flying.slice(i - 1, i + 2)
      expect((c.y - 2 * b.y + a.y) * truth.rate ** 2).toBeCloseTo(g, 1)
      expect((c.x - 2 * b.x + a.x) * truth.rate ** 2).toBeCloseTo(0, 1)
    }
  })

  it('has a staff of 1.40 m at the scale of the motion', () => {
    const { reference, pixelsPerMetre } = readTruth('net-float')
    const [a, b] = reference.ends
    expect(Math.hypot(b.x - a.x, b.y - a.y) / reference.length).toBeCloseTo(pixelsPerMetre, 9)
  })
})
