import { describe, expect, it } from 'vitest'
import { type Body, edit, edits, newInvestigation } from '../investigation/index.ts'
import { normalSource, randomSource } from '../random/index.ts'
import { diagnoseTrack } from './trackDiagnosis.ts'

type Motion = (t: number) => { x: number; y: number }
const BODY = '00000000-0000-4000-8000-0000000000b1'
/** Standard error of the simulated marks, in pixels. */
const ERROR = 0.4

/** Motions of a second or more in pixels, with the time at which they break, where they do. */
const MOTIONS: Record<string, { at: Motion; breaks: number[] }> = {
  parabola: { at: (t) => ({ x: 80 + 560 * t, y: 500 - 900 * t + 1100 * t * t }), breaks: [] },
  sine: { at: (t) => ({ x: 300 + 4 * t, y: 300 + 120 * Math.sin(3.1 * t) }), breaks: [] },
  collision: {
    at: (t) => ({ x: t < 0.5 ? 100 + 500 * t : 350 + 90 * (t - 0.5), y: 200 + 20 * t }),
    breaks: [0.5],
  },
  bounce: {
    at: (t) => {
      const fall = (s: number) => 100 + 1960 * s * s
      return {
        x: 200 + 60 * t,
        y: t < 0.45 ? fall(t) : fall(0.45) - 1400 * (t - 0.45) + 1960 * (t - 0.45) ** 2,
      }
    },
    breaks: [0.45],
  },
  'terminal speed': {
    at: (t) => ({ x: 400, y: 60 + 300 * (t - 0.25 * (1 - Math.exp(-t / 0.25))) }),
    breaks: [],
  },
}
const COUNTS = [12, 24, 46, 120, 600]

function simulated(
  motion: Motion,
  count: number,
  seed: number,
  by: 'hand' | 'follow' = 'hand',
): { body: Body; seconds: number[] } {
  const normal = normalSource(randomSource(seed))
  const seconds = Array.from({ length: count }, (_, i) => i / count)
  const { document } = edit(newInvestigation('made up'), (draft) => {
    edits.addBody(BODY, { position: BODY, velocity: BODY })(draft)
    seconds.forEach((t, frame) => {
      const { x, y } = motion(t)
      const at = { x: x + ERROR * normal(), y: y + ERROR * normal() }
      if (by === 'hand') edits.setMark(BODY, frame, at)(draft)
      else edits.setFollowed(BODY, { [frame]: { ...at, certainty: 1 } }, true)(draft)
    })
  })
  return { body: JSON.parse(JSON.stringify(document.bodies[BODY])) as Body, seconds }
}

describe('stray marks', () => {
  it('of 8 errors and more are found, at the ends too, and good marks are left alone', () => {
    const tally = { inside: [0, 0], ends: [0, 0], good: [0, 0] }
    let seed = 1
    for (const { at } of Object.values(MOTIONS))
      for (const count of COUNTS)
        for (let run = 0; run < 8; run++) {
          const { body, seconds } = simulated(at, count, seed++)
          const random = randomSource(seed)
          const isEnd = run >= 4
          const frame = isEnd ? [0, 1, count - 2, count - 1][run - 4] : 2 + Math.floor(random() * (count - 4))
          const far = ERROR * (8 + 12 * random())
          const way = 2 * Math.PI * random()
          body.marks[frame].x += far * Math.cos(way)
          body.marks[frame].y += far * Math.sin(way)
          const { outliers } = diagnoseTrack(body, seconds)
          const found = outliers.some((outlier) => outlier.frame === frame)
          const kind = isEnd ? tally.ends : tally.inside
          kind[0] += found ? 1 : 0
          kind[1]++
          tally.good[0] += outliers.filter((outlier) => outlier.frame !== frame).length
          tally.good[1] += count - 1
        }
    expect(tally.inside[1]).toBe(100)
    expect(tally.inside[0] / tally.inside[1]).toBeGreaterThanOrEqual(0.95)
    expect(tally.ends[0] / tally.ends[1]).toBeGreaterThanOrEqual(0.8)
    expect(tally.good[0] / tally.good[1]).toBeLessThanOrEqual(0.005)
  })

  it.each(['collision', 'bounce'])('a %s is a break, not a row of strays', (name) => {
    const { at, breaks } = MOTIONS[name]
    for (const count of [24, 46, 120])
      for (let seed = 1; seed <= 5; seed++) {
        const { body, seconds } = simulated(at, count, 100 * count + seed)
        const diagnosis = diagnoseTrack(body, seconds)
        expect(diagnosis.outliers.length).toBeLessThanOrEqual(1)
        expect(diagnosis.breaks).toHaveLength(1)
        expect(Math.abs(seconds[diagnosis.breaks[0]] - breaks[0])).toBeLessThanOrEqual(1.01 / count)
      }
  })

  it.each(['parabola', 'sine', 'terminal speed'])('a %s has no break', (name) => {
    for (const count of COUNTS)
      for (let seed = 1; seed <= 5; seed++) {
        const { body, seconds } = simulated(MOTIONS[name].at, count, 200 * count + seed)
        expect(diagnoseTrack(body, seconds).breaks).toEqual([])
      }
  })

  it('finds a bounce at its place where marks are missing before it', () => {
    const { at, breaks } = MOTIONS.bounce
    const { body, seconds } = simulated(at, 120, 5)
    const before = Math.round(120 * breaks[0])
    for (let frame = before - 20; frame < before - 14; frame++) delete body.marks[frame]
    const diagnosis = diagnoseTrack(body, seconds)
    expect(diagnosis.breaks.map((frame) => Math.abs(frame / 120 - breaks[0]) <= 1 / 120)).toContain(true)
    expect(diagnosis.outliers).toEqual([])
  })

  it('proposes none where somebody has said that there is none, nor one that is known', () => {
    const { body, seconds } = simulated(MOTIONS.bounce.at, 120, 6)
    const [found, ...others] = diagnoseTrack(body, seconds).breaks
    for (const word of ['break', 'none'] as const)
      expect(diagnoseTrack({ ...body, breaks: { [found]: word } }, seconds).breaks).toEqual(others)
  })

  it('leaves a mark alone that somebody has said to be right', () => {
    const { body, seconds } = simulated(MOTIONS.parabola.at, 24, 3)
    body.marks[9].x += 30
    expect(diagnoseTrack(body, seconds).outliers.map(({ frame }) => frame)).toEqual([9])
    body.marks[9].right = true
    expect(diagnoseTrack(body, seconds).outliers).toEqual([])
  })

  it('does not suspect what was followed finely for a slip of half a pixel, but for one of two', () => {
    const { body, seconds } = simulated(MOTIONS.parabola.at, 60, 5)
    for (const [frame, mark] of Object.entries(body.marks)) {
      const { x, y } = MOTIONS.parabola.at(seconds[Number(frame)])
      Object.assign(mark, { x: x + (mark.x - x) / 10, y: y + (mark.y - y) / 10 })
    }
    body.marks[20].y += 0.5
    body.marks[40].y += 2
    expect(diagnoseTrack(body, seconds).outliers.map(({ frame }) => frame)).toEqual([40])
  })

  it('says nothing of a handful of marks', () => {
    const { body, seconds } = simulated(MOTIONS.parabola.at, 5, 3)
    body.marks[2].x += 100
    expect(diagnoseTrack(body, seconds)).toEqual({ outliers: [], breaks: [], jumps: [] })
  })
})

describe('jumps of followed marks', () => {
  const TRIES = 40

  it('are none in motions that can be, bounces and collisions among them', () => {
    let [marks, found] = [0, 0]
    let seed = 1
    for (const { at } of Object.values(MOTIONS))
      for (const count of COUNTS)
        for (let run = 0; run < 8; run++) {
          const { body, seconds } = simulated(at, count, seed++, 'follow')
          marks += count
          found += diagnoseTrack(body, seconds).jumps.length
        }
    expect(marks).toBeGreaterThan(30_000)
    expect(found).toBeLessThan(marks / 5000)
  })

  it('are found where following goes over to something else, and back, and not taken for breaks', () => {
    let [there, back, breaks] = [0, 0, 0]
    for (let seed = 1; seed <= TRIES; seed++) {
      const motion: Motion = (t) => {
        const { x, y } = MOTIONS.sine.at(3 * t)
        const isOff = t > 0.4 - 1e-9 && t < 0.6 - 1e-9
        return isOff ? { x: x - 5, y: y + 4 } : { x, y }
      }
      const { body, seconds } = simulated(motion, 120, seed, 'follow')
      const diagnosis = diagnoseTrack(body, seconds)
      const isAt = (frame: number) => diagnosis.jumps.some((jump) => Math.abs(jump.frame - frame) <= 1)
      if (isAt(48)) there++
      if (isAt(72)) back++
      breaks += diagnosis.breaks.length
    }
    expect(there).toBeGreaterThanOrEqual(0.95 * TRIES)
    expect(back).toBeGreaterThanOrEqual(0.95 * TRIES)
    expect(breaks).toBeLessThan(0.05 * TRIES)
  })

  it('are told with their length, and no more once a person has said that the marks are right', () => {
    const motion: Motion = (t) => ({
      x: 100 + 300 * t + (t < 0.5 - 1e-9 ? 0 : 12),
      y: 200 - 5 * (t < 0.5 - 1e-9 ? 0 : 1),
    })
    const { body, seconds } = simulated(motion, 60, 5, 'follow')
    const { jumps } = diagnoseTrack(body, seconds)
    expect(jumps.map(({ frame }) => frame)).toEqual([30])
    // What lies along the way could be made in the time between two frames, at another speed.
    expect(jumps[0].length).toBeGreaterThan(4)
    expect(jumps[0].length).toBeLessThan(14)
    expect(diagnoseTrack({ ...body, breaks: { 30: 'none' } }, seconds).jumps).toEqual([])
  })
})
