import { beforeAll, describe, expect, it } from 'vitest'
import { analyse } from '../../analysis/index.ts'
import type { Point } from '../../geometry/index.ts'
import { edit, edits, type Investigation, type Mutator, newInvestigation } from '../../investigation/index.ts'
import { normalSource, randomSource } from '../../random/index.ts'
import { REPEATS, SCATTER_MARGIN, SHARE_MARGIN } from '../../testing/extent.ts'
import { ErrorSensitivity, QUANTITIES } from '../index.ts'

/** Ids of two bodies in a made-up motion. */
const [ONE, OTHER] = ['b0000000-0000-4000-8000-000000000001', 'b0000000-0000-4000-8000-000000000002']
const FRAMES = 15
const PIXELS_PER_METRE = 250
const GRAPHS = ['1', '2'].map((one) =>
  ['3', '4'].map((other) => `a0000000-0000-4000-8000-0000000000${one}${other}`),
)
/** Pixels. */
const ERROR = 0.4
const MASSES = [2, 0.5]
/** The axes are turned by this much against the picture. */
const TILT = 0.3
const G = 9.81

/** Positions are parabolas, for which three neighbouring points give velocity and acceleration exactly. */
const MOTIONS = [
  { x: [0.3, 1.7, 0.8], y: [0.5, 2.1, -3] },
  { x: [1.5, -0.9, -0.3], y: [0.2, 0.4, 0.9] },
]
const at = ([a, b, c]: number[], t: number) => a + b * t + c * t * t
const rate = ([, b, c]: number[], t: number) => b + 2 * c * t
const bend = ([, , c]: number[]) => 2 * c
const TURN = (t: number) => 0.4 + 5 * t
/** Uneven times, as a phone's are, in ticks. */
const TICKS = Array.from({ length: FRAMES }, (_, i) => i * 1024 + Math.round(180 * Math.sin(3.7 * i)) + 180)
const seconds = (frame: number) => (TICKS[frame] - TICKS[0]) / 15360

/** Returns where two bodies are seen that move as stated, in tilted axes. */
function seenIn(frame: number, i: number): { mark: Point; second: Point } {
  const inPicture = (x: number, y: number) => ({
    x: 200 + PIXELS_PER_METRE * (Math.cos(TILT) * x - Math.sin(TILT) * y),
    y: 500 - PIXELS_PER_METRE * (Math.sin(TILT) * x + Math.cos(TILT) * y),
  })
  const t = seconds(frame)
  const [x, y] = [at(MOTIONS[i].x, t), at(MOTIONS[i].y, t)]
  return {
    mark: inPicture(x, y),
    second: inPicture(x + 0.1 * Math.cos(TURN(t)), y + 0.1 * Math.sin(TURN(t))),
  }
}

/** Two bodies, marked without errors; their marks are taken to have some of 0.4 px. */
const made: Investigation = edit(newInvestigation('Two'), (draft) => {
  const mutators: Mutator[] = [
    edits.setFootage({
      id: 'f0000000-0000-4000-8000-000000000001',
      name: 'two.mp4',
      size: 1,
      width: 1280,
      height: 720,
      rotation: 0,
      timeBase: { numerator: 1, denominator: 15360 },
      ticks: { first: TICKS[0], runs: TICKS.slice(1).map((tick, i) => [tick - TICKS[i], 1]) },
      notedCaptureRate: null,
      converted: false,
    }),
    edits.addReference('c0000000-0000-4000-8000-000000000001', [
      { x: 0, y: 0, frame: 0 },
      { x: PIXELS_PER_METRE, y: 0, frame: 0 },
    ]),
    edits.changeReference('c0000000-0000-4000-8000-000000000001', { length: 1 }),
    edits.setAxes({ origin: { x: 200, y: 500, frame: 0 }, tilt: TILT }),
    ...[ONE, OTHER].flatMap((id, i) => [
      edits.addBody(id, { position: GRAPHS[i][0], velocity: GRAPHS[i][1] }),
      edits.changeBody(id, { mass: { value: MASSES[i], error: 0 }, markError: ERROR }),
    ]),
  ]
  for (const mutator of mutators) mutator(draft)
  draft.freeFall.value = G
  draft.direction = 0.7
  for (const [i, id] of [ONE, OTHER].entries())
    for (let frame = 0; frame < FRAMES; frame++) {
      const { mark, second } = seenIn(frame, i)
      draft.bodies[id].marks[frame] = { ...mark, by: 'hand' }
      draft.bodies[id].second[frame] = second
    }
}).document

/** Returns the same with every mark and second point off by as much as they are taken to be. */
function noisy(normal: () => number): Investigation {
  const off = ({ x, y }: Point) => ({ x: x + ERROR * normal(), y: y + ERROR * normal() })
  const bodies = Object.entries(made.bodies).map(([id, body]) => [
    id,
    {
      ...body,
      marks: Object.fromEntries(
        Object.entries(body.marks).map(([frame, mark]) => [frame, { ...mark, ...off(mark) }]),
      ),
      second: Object.fromEntries(Object.entries(body.second).map(([frame, second]) => [frame, off(second)])),
    },
  ])
  return { ...made, bodies: Object.fromEntries(bodies) }
}

/** Returns what each quantity truly is at a time, by theory. */
function truth(t: number): Record<string, number> {
  const [one, other] = MOTIONS.map(({ x, y }, i) => ({
    m: MASSES[i],
    x: at(x, t),
    y: at(y, t),
    vx: rate(x, t),
    vy: rate(y, t),
    ax: bend(x),
    ay: bend(y),
  }))
  const { m, x, y, vx, vy, ax, ay } = one
  const v = Math.hypot(vx, vy)
  const [downX, downY] = [-Math.sin(TILT), -Math.cos(TILT)]
  const [Ek, Ep] = [0.5 * m * v * v, -m * G * (downX * x + downY * y)]
  const all = (of: (body: typeof one) => number) => of(one) + of(other)
  const mass = all((body) => body.m)
  const [sumPx, sumPy] = [all((body) => body.m * body.vx), all((body) => body.m * body.vy)]
  return {
    x,
    y,
    vx,
    vy,
    v,
    ax,
    ay,
    Ek,
    Ep,
    sumPx,
    sumPy,
    r: Math.hypot(x, y),
    s: x * Math.cos(0.7) + y * Math.sin(0.7),
    theta: Math.atan2(y, x),
    turn: TURN(t),
    heading: Math.atan2(vy, vx),
    omega: (x * vy - y * vx) / (x * x + y * y),
    spin: 5,
    a: Math.hypot(ax, ay),
    at: (ax * vx + ay * vy) / v,
    ac: Math.abs(vx * ay - vy * ax) / v,
    felt: Math.hypot(ax / G - downX, ay / G - downY),
    px: m * vx,
    py: m * vy,
    p: m * v,
    E: Ek + Ep,
    cmx: all((body) => body.m * body.x) / mass,
    cmy: all((body) => body.m * body.y) / mass,
    cmvx: sumPx / mass,
    cmvy: sumPy / mass,
    sumP: Math.hypot(sumPx, sumPy),
    sumEk: all((body) => 0.5 * body.m * (body.vx ** 2 + body.vy ** 2)),
    d: Math.hypot(other.x - x, other.y - y),
    bearing: Math.atan2(other.y - y, other.x - x),
    path: pathTo(t),
  }
}

/** Length of the first body's path, by Simpson's rule. */
function pathTo(t: number): number {
  const pieces = 200
  let sum = 0
  for (let i = 0; i <= pieces; i++) {
    const weight = i === 0 || i === pieces ? 1 : i % 2 === 1 ? 4 : 2
    const at = (t * i) / pieces
    sum += weight * Math.hypot(rate(MOTIONS[0].x, at), rate(MOTIONS[0].y, at))
  }
  return (sum * t) / pieces / 3
}

const IDS = Object.keys(QUANTITIES)
/** Parabolas are exact for all but what is derived from an angle, and the path's length between marks. */
const EXACT = (id: string) => id !== 'omega' && id !== 'path'

describe('every quantity', () => {
  const exact = analyse(made).table(ONE)

  it.each(IDS.filter(EXACT))('%s is what theory says', (id) => {
    const { values, rows, missing: asks } = exact.column(id)
    expect(asks).toBeNull()
    expect(rows.length).toBeGreaterThanOrEqual(FRAMES - 2)
    for (const row of rows) expect(values[row]).toBeCloseTo(truth(exact.times[row])[id], 7)
  })

  it('that is not exact is within its bound, but for what the marks don’t tell of the bend', () => {
    for (const id of ['omega', 'path']) {
      const { values, rows, bias } = exact.column(id)
      const bounds = bias()
      for (const row of rows)
        expect(Math.abs(values[row] - truth(exact.times[row])[id])).toBeLessThanOrEqual(
          1.15 * bounds[row] + 1e-9,
        )
    }
  })

  describe('over noisy repeats', () => {
    const picked = [4, 7, 11]
    const seen = new Map(
      IDS.map((id) => [id, picked.map(() => ({ inside: 0, judged: 0, sum: 0, squares: 0, stated: 0 }))]),
    )
    beforeAll(() => {
      const normal = normalSource(randomSource(41))
      for (let repeat = 0; repeat < REPEATS; repeat++) {
        const derivation = { method: 'parabola', reach: 3, weighted: false } as const
        const table = analyse(noisy(normal)).table(ONE, { derivation })
        for (const [id, places] of seen) {
          const { values, errors, bias } = table.column(id)
          const bounds = bias()
          picked.forEach((row, k) => {
            const off = values[row] - TRUTH[k][id]
            if (!Number.isFinite(off)) return
            const one = places[k]
            one.judged++
            one.sum += off
            one.squares += off * off
            one.stated += errors[row]
            if (Math.abs(off) < 1.96 * errors[row] + (EXACT(id) ? 0 : bounds[row])) one.inside++
          })
        }
      }
    })
    const TRUTH = picked.map((frame) => truth(seconds(frame)))

    it.each(IDS)('%s scatters by its standard error, and its 95 % interval holds the truth', (id) => {
      let told = 0
      seen.get(id)!.forEach(({ inside, judged, sum, squares, stated }, k) => {
        const error = stated / judged
        if (Math.abs(TRUTH[k][id]) < 5 * error) return
        told++
        expect(judged).toBe(REPEATS)
        const scatter = Math.sqrt(squares / judged - (sum / judged) ** 2)
        // The scatter of 2,000 repeats is known to 1.6 %.
        expect(Math.abs(scatter / error - 1)).toBeLessThan(0.05 + SCATTER_MARGIN)
        expect(inside / judged).toBeGreaterThanOrEqual(0.93 - SHARE_MARGIN)
        if (EXACT(id)) expect(inside / judged).toBeLessThanOrEqual(0.97 + SHARE_MARGIN)
      })
      expect(told).toBeGreaterThan(0)
    })
  })
})

describe('what is missing', () => {
  it('is asked for, and nothing is shown until it is there', () => {
    const { document } = edit(made, (draft) => {
      draft.bodies[OTHER].mass = null
      draft.references = {}
    })
    const table = analyse(document).table(ONE)
    expect(table.column('Ek').missing).toBeNull()
    expect(table.column('Ek').unit).toBe('kg·px²/s²')
    expect(table.column('Ep').missing).toEqual({ code: 'scale' })
    expect(table.column('E').missing).toEqual({ code: 'scale' })
    expect(table.column('sumPx').missing).toEqual({ code: 'masses' })
    expect(table.column('sumPx').rows).toEqual([])
    expect(analyse(document).table(OTHER).column('px').missing).toEqual({ code: 'mass' })
    expect(() => table.column('nothing')).toThrow(RangeError)
  })
})

describe('directions', () => {
  it('are empty where the speed can’t be told from 0', () => {
    const { document } = edit(made, (draft) => {
      for (const mark of Object.values(draft.bodies[ONE].marks)) Object.assign(mark, { x: 300, y: 300 })
    })
    for (const id of ['heading', 'at', 'ac']) expect(analyse(document).table(ONE).column(id).rows).toEqual([])
  })
})

describe('the path of a body that rests', () => {
  it('does not grow by the marks’ errors', () => {
    const normal = normalSource(randomSource(5))
    const { document } = edit(made, (draft) => {
      for (const mark of Object.values(draft.bodies[ONE].marks))
        Object.assign(mark, { x: 300 + 0.4 * normal(), y: 300 + 0.4 * normal() })
    })
    const { values } = analyse(document).table(ONE).column('path')
    // Added up from mark to mark it would be some 20 px.
    expect(Math.max(...values)).toBeLessThan(3 / PIXELS_PER_METRE)
  })

  it('has a mean over a stretch whose error agrees with repeats', () => {
    const normal = normalSource(randomSource(9))
    const found = Array.from({ length: 300 }, () => {
      const { values, addSensitivity: sensitivity } = analyse(noisy(normal)).table(ONE).column('path')
      const one = new ErrorSensitivity()
      for (let row = 3; row < 13; row++) sensitivity(row, 1 / 10, one)
      return { mean: values.slice(3, 13).reduce((sum, value) => sum + value / 10, 0), error: one.size() }
    })
    const middle = found.reduce((sum, { mean }) => sum + mean / found.length, 0)
    const scatter = Math.sqrt(found.reduce((sum, { mean }) => sum + (mean - middle) ** 2 / found.length, 0))
    expect(Math.abs(scatter / found[0].error - 1)).toBeLessThan(0.12)
  })
})
