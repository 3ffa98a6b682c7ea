import { describe, expect, it } from 'vitest'
import { analyse } from '../analysis/index.ts'
import { edit, edits } from '../investigation/index.ts'
import type { Range } from '../motion/index.ts'
import { normalSource, randomSource } from '../random/index.ts'
import { REPEATS, SHARE_MARGIN } from '../testing/extent.ts'
import { THROWN, thrown } from '../testing/thrown.ts'
import { doubtsOf, fitPath, halfWidth, variableOf } from './index.ts'

const whole = { from: 0, to: 1000 }

const noisy = (seed: number, size: number) => {
  const normal = normalSource(randomSource(seed))
  return ({ x, y }: { x: number; y: number }) => ({ x: x + size * normal(), y: y + size * normal() })
}
/** Returns a swing along x: 0.4 m, 6 rad/s. */
const swing = (t: number) => ({ x: 1 + 0.4 * Math.cos(6 * t), y: 0.5 })

describe('a relation between two quantities', () => {
  it('finds the path of a throw: a parabola in x', () => {
    const fit = fitPath(analyse(thrown({})).table(THROWN.body), 'y', 'x', whole, {
      model: 'uniform-acceleration',
    })
    // y = 4.2/2.6·x − 9.81/(2·2.6²)·x².
    const [c0, c1, c2] = fit.parameters
    expect(c0.value).toBeCloseTo(0, 7)
    expect(c1.value).toBeCloseTo(4.2 / 2.6, 7)
    expect(c2.value).toBeCloseTo(-9.81 / (2 * 2.6 ** 2), 6)
    expect([c0.unit, c1.unit, c2.unit]).toEqual(['m', '', '1/m'])
  })

  it('finds what somebody has written of it, by the name of what it is drawn against', () => {
    const settings = { model: 'free-form', expression: 'p*x + k*x^2', start: {} } as const
    const { parameters } = fitPath(analyse(thrown({})).table(THROWN.body), 'y', 'x', whole, settings)
    const [p, k] = ['p', 'k'].map((key) => parameters.find((one) => one.key === key)!)
    expect(p.value).toBeCloseTo(4.2 / 2.6, 7)
    expect(k.value).toBeCloseTo(-9.81 / (2 * 2.6 ** 2), 6)
    expect([p.unit, k.unit]).toEqual(['', '1/m'])
  })

  it('calls a quantity that somebody has defined by its symbol', () => {
    const id = '00000000-0000-4000-8000-0000000000a7'
    const { document } = edit(
      thrown({}),
      edits.setQuantity(id, { name: 'Way', symbol: 'w', unit: '', expression: 'x*1' }),
    )
    const table = analyse(document).table(THROWN.body)
    expect(variableOf(table.column(id).info)).toBe('w')
    const settings = { model: 'free-form', expression: 'q*w + k*w^2', start: {} } as const
    const { parameters } = fitPath(table, 'y', id, whole, settings)
    expect(parameters.find(({ key }) => key === 'q')!.value).toBeCloseTo(4.2 / 2.6, 6)
  })

  it('finds a line as it is where both have as large errors: the total least squares of it', () => {
    // Along a line of slope 0.8 to and fro in place: plain least squares would find it too flat.
    const place = noisy(5, 12)
    const motion = (t: number) => ({ x: 1 + t, y: 0.5 + 0.8 * t })
    const { document } = edit(
      thrown({ frames: 60, motion, place }),
      edits.changeBody(THROWN.body, { markError: 12 }),
    )
    const table = analyse(document).table(THROWN.body)
    const { parameters } = fitPath(table, 'y', 'x', whole, { model: 'uniform' })
    const [x, y] = [table.column('x').values, table.column('y').values]
    const mean = (all: Float64Array) => all.reduce((sum, one) => sum + one / all.length, 0)
    const [mx, my] = [mean(x), mean(y)]
    let [xx, yy, xy] = [0, 0, 0]
    x.forEach((one, i) => {
      xx += (one - mx) ** 2
      yy += (y[i] - my) ** 2
      xy += (one - mx) * (y[i] - my)
    })
    // Adcock's orthogonal line.
    const slope = (yy - xx + Math.sqrt((yy - xx) ** 2 + 4 * xy * xy)) / (2 * xy)
    expect(parameters[1].value).toBeCloseTo(slope, 6)
  })

  it('reads the angular frequency off a phase plot', () => {
    const table = analyse(thrown({ frames: 80, motion: swing, place: noisy(6, 0.3) })).table(THROWN.body, {
      derivation: { method: 'cubic', reach: 2, weighted: false },
    })
    const fit = fitPath(table, 'vx', 'x', whole, { model: 'ellipse' })
    expect(fit.reading.name).toBe('Angular frequency')
    expect(fit.reading.unit).toBe('rad/s')
    expect(Math.abs(fit.reading.value / 6 - 1)).toBeLessThan(0.01)
    expect(Math.abs(fit.reading.value - 6)).toBeLessThan(3 * fit.reading.error)
    expect(fit.loop).toHaveLength(161)
    // A distance from a loop has the unit of neither quantity; it is given in standard errors.
    expect(fit.residualUnit).toBe('standard errors')
    expect(fit.placeUnit).toBe('m')
  })

  it('reads the frequency of a pendulum that swings far off its loop', () => {
    // By Runge and Kutta, 70° at first: its period is a tenth longer than at a small amplitude.
    const omega = 3
    const angles = pendulum(omega, (70 * Math.PI) / 180, 1 / 60, 130)
    const motion = (t: number) => {
      const angle = angles[Math.round(t * 60)]
      return { x: 1.2 * Math.sin(angle), y: 1.5 - 1.2 * Math.cos(angle) }
    }
    const { document } = edit(
      thrown({ frames: 130, motion, place: noisy(7, 0.3) }),
      edits.setAxes({ origin: { x: 238, y: 560 - 225 * 1.5, frame: 0 }, tilt: -Math.PI / 2 }),
    )
    const fit = fitPath(analyse(document).table(THROWN.body), 'omega', 'theta', whole, {
      model: 'pendulum-loop',
    })
    expect(Math.abs(fit.reading.value / omega - 1)).toBeLessThan(0.005)
    const [, amplitude] = fit.parameters
    expect(amplitude.value).toBeCloseTo((70 * Math.PI) / 180, 2)
  })

  it('has a part for a stated mass: how kinetic energy goes with height', () => {
    const { document } = edit(
      thrown({ place: noisy(9, 0.3) }),
      edits.changeBody(THROWN.body, { mass: { value: 0.25, error: 0.02 } }),
    )
    const { reading } = fitPath(analyse(document).table(THROWN.body), 'Ek', 'y', whole, { model: 'uniform' })
    expect(Math.abs(reading.value + 0.25 * 9.81)).toBeLessThan(0.1)
    const part = reading.parts.find(({ source }) => source === 'stated')!
    expect(part.error).toBeCloseTo(0.02 * 9.81, 2)
    // It moves all points alike: their scatter has nothing of it.
    const exact = edit(document, edits.changeBody(THROWN.body, { mass: { value: 0.25, error: 0 } })).document
    const plain = fitPath(analyse(exact).table(THROWN.body), 'Ek', 'y', whole, { model: 'uniform' })
    expect(reading.value).toBeCloseTo(plain.reading.value, 9)
    const marks = ({ parts }: typeof reading) => parts.find(({ source }) => source === 'marks')!.error
    expect(marks(reading)).toBeCloseTo(marks(plain.reading), 9)
  })

  it('covers the truth in 93 to 97 % of 2,000 repeats: the slope of a line with errors in both', () => {
    let covered = 0
    for (let repeat = 0; repeat < REPEATS; repeat++) {
      const motion = (t: number) => ({ x: 1 + 2 * t, y: 0.5 + 1.3 * t })
      const document = thrown({ frames: 20, motion, place: noisy(20_000 + repeat, 1.5) })
      const { parameters } = fitPath(analyse(document).table(THROWN.body), 'y', 'x', whole, {
        model: 'uniform',
      })
      if (Math.abs(parameters[1].value - 0.65) <= halfWidth(parameters[1])) covered++
    }
    expect(covered / REPEATS).toBeGreaterThanOrEqual(0.93 - SHARE_MARGIN)
    expect(covered / REPEATS).toBeLessThanOrEqual(0.97 + SHARE_MARGIN)
  })

  it('covers the truth of a loop in nearly as many repeats as it says: the frequency of a swing', () => {
    let covered = 0
    for (let repeat = 0; repeat < REPEATS; repeat++) {
      const document = thrown({ frames: 80, motion: swing, place: noisy(40_000 + repeat, 0.5) })
      const { reading } = fitPath(analyse(document).table(THROWN.body), 'vx', 'x', whole, {
        model: 'ellipse',
      })
      // Three neighbouring points make so much less of the velocity of a swing.
      const truth = 60 * Math.sin(6 / 60)
      if (Math.abs(reading.value - truth) <= halfWidth(reading)) covered++
    }
    expect(covered / REPEATS).toBeGreaterThanOrEqual(0.91 - SHARE_MARGIN)
    expect(covered / REPEATS).toBeLessThanOrEqual(0.97 + SHARE_MARGIN)
  })

  it('comes to rest on a loop whose bends are narrower than the points’ errors, and says so', () => {
    const settings = { model: 'ellipse' } as const
    const doubtsAbout = (frames: number, motion: (t: number) => { x: number; y: number }, seed: number) => {
      const table = analyse(thrown({ frames, motion, place: noisy(seed, 0.4) })).table(THROWN.body)
      const refit = (range: Range) => [fitPath(table, 'vx', 'x', range, settings)]
      return doubtsOf(refit(whole), refit, whole, settings).map(({ code }) => code)
    }
    // Slow against the frames: neighbouring points differ by little more than their errors.
    const slow = (t: number) => ({ x: 1 + 0.4 * Math.cos(1.5 * t), y: 0.5 })
    for (let seed = 50; seed < 60; seed++) {
      expect(doubtsAbout(500, slow, seed)).toContain('fold')
      expect(doubtsAbout(80, swing, seed)).not.toContain('fold')
    }
  })

  it('says what it lacks', () => {
    const table = analyse(thrown({})).table(THROWN.body)
    expect(() => fitPath(table, 'y', 'x', { from: 3, to: 4 }, { model: 'ellipse' })).toThrow(
      /too-few-points.*4/,
    )
    expect(() => fitPath(table, 'y', 'x', whole, { model: 'pendulum-loop' })).toThrow(/model-does-not-apply/)
    expect(() => fitPath(table, 'y', 'x', { from: 900, to: 999 }, { model: 'uniform' })).toThrow(
      /no-point-in-stretch/,
    )
  })
})

/** Angles of a pendulum that is let go, by Runge and Kutta with fine steps. */
function pendulum(omega: number, first: number, step: number, count: number): number[] {
  const fine = 200
  const h = step / fine
  const change = (angle: number) => -omega * omega * Math.sin(angle)
  const angles = [first]
  let [angle, rate] = [first, 0]
  for (let i = 1; i < count; i++) {
    for (let k = 0; k < fine; k++) {
      const a1 = rate
      const b1 = change(angle)
      const a2 = rate + (h / 2) * b1
      const b2 = change(angle + (h / 2) * a1)
      const a3 = rate + (h / 2) * b2
      const b3 = change(angle + (h / 2) * a2)
      const a4 = rate + h * b3
      const b4 = change(angle + h * a3)
      angle += (h / 6) * (a1 + 2 * a2 + 2 * a3 + a4)
      rate += (h / 6) * (b1 + 2 * b2 + 2 * b3 + b4)
    }
    angles.push(angle)
  }
  return angles
}
