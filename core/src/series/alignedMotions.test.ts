import { describe, expect, it } from 'vitest'
import { edit, edits, type Mutator } from '../investigation/index.ts'
import { id } from '../testing/built.ts'
import { THROWN, thrown } from '../testing/thrown.ts'
import { type Alignment, alignedMotions, type TableTrial } from './index.ts'

const G = 9.81
const RATE = 60

/** Returns a trial in which something at rest is let go at a time, from a height in metres, and bounces once on the ground. */
function dropped(n: number, release: number, height: number, ...more: Mutator[]): TableTrial {
  const hit = Math.sqrt((2 * height) / G)
  const document = thrown({
    frames: 60,
    motion: (t) => {
      const after = Math.max(0, t - release)
      if (after < hit) return { x: 0, y: height - (G / 2) * after ** 2 }
      const since = after - hit
      return { x: 0, y: 0.7 * G * hit * since - (G / 2) * since ** 2 }
    },
  })
  const trial = { order: n, typed: {}, leftOut: null, view: null, measuring: null }
  const marked = [edits.changeGraph(THROWN.position, { quantity: 'y' }), ...more].reduce(
    (before, mutator) => edit(before, mutator).document,
    document,
  )
  return { id: id(100 + n), trial, document: marked }
}

const frameAt = (time: number) => Math.ceil(time * RATE)
const fall = (release: number, height: number, n: number) => {
  const hit = release + Math.sqrt((2 * height) / G)
  return dropped(
    n,
    release,
    height,
    edits.addStretch(id(20), THROWN.position, frameAt(release), frameAt(hit) - 1),
    edits.setBreak(THROWN.body, frameAt(hit), 'break'),
  )
}
const trials = [fall(0.1, 0.9, 0), fall(0.23, 0.7, 1), fall(0.05, 1.1, 2)]
const aligned = (alignment: Alignment, of = trials) =>
  alignedMotions(of, { graph: THROWN.position, alignment })

describe('motions of several trials', () => {
  it('cross a level at the same moment, as far as a straight line between two points tells', () => {
    const { motions, without } = aligned({ kind: 'level', level: 0.5 })
    expect(without).toEqual([])
    const truth = [
      [0.1, 0.9],
      [0.23, 0.7],
      [0.05, 1.1],
    ].map(([release, height]) => release + Math.sqrt((2 * (height - 0.5)) / G))
    // The parabola leaves its chord by g/8 Δt² at most: 0.3 mm, at 2 m/s and more.
    motions.forEach(({ zero }, i) => {
      expect(Math.abs(zero - truth[i])).toBeLessThan(G / 8 / RATE ** 2 / 1.9)
    })
  })

  it('begin together where their stretches begin, and end together where they hit the ground', () => {
    const released = aligned({ kind: 'release' }).motions.map(({ zero }) => zero)
    expect(released).toEqual([0.1, 0.23, 0.05].map((time) => frameAt(time) / RATE))
    const hits = [0.1 + Math.sqrt(1.8 / G), 0.23 + Math.sqrt(1.4 / G), 0.05 + Math.sqrt(2.2 / G)]
    aligned({ kind: 'impact' }).motions.forEach(({ zero }, i) => {
      // Half a frame is as well as a break is known.
      expect(Math.abs(zero - hits[i])).toBeLessThanOrEqual(0.5 / RATE + 1e-9)
    })
  })

  it('are drawn as filmed, or shifted by the moment and nothing else', () => {
    const [asFilmed] = aligned({ kind: 'film' }).motions
    const [shifted] = aligned({ kind: 'level', level: 0.5 }).motions
    expect(asFilmed.zero).toBe(0)
    expect(shifted.points).toHaveLength(asFilmed.points.length)
    shifted.points.forEach(({ x, y }, i) => {
      expect(x).toBeCloseTo(asFilmed.points[i].x - shifted.zero, 12)
      expect(y).toBe(asFilmed.points[i].y)
    })
  })

  it('end with their last stretch where nothing breaks', () => {
    const whole = dropped(3, 0.1, 0.9, edits.addStretch(id(20), THROWN.position, 6, 25))
    expect(aligned({ kind: 'impact' }, [whole]).motions[0].zero).toBeCloseTo(25 / RATE, 12)
  })

  it('that have no such moment, graph or mark are named with the reason', () => {
    const plain = dropped(3, 0.1, 0.9)
    const gone = { ...plain, id: id(104), document: null }
    const empty = dropped(5, 0.1, 0.9, (draft) => {
      draft.bodies[THROWN.body].marks = {}
    })
    const { motions, without } = aligned({ kind: 'level', level: 5 }, [plain, gone, empty])
    expect(motions).toEqual([])
    expect(without.map(({ trouble }) => trouble)).toEqual(['no-moment', 'no-graph', 'no-points'])
    expect(aligned({ kind: 'release' }, [plain]).without[0].trouble).toBe('no-moment')
  })
})
