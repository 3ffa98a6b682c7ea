import { describe, expect, it } from 'vitest'
import { analyse } from '../analysis/index.ts'
import { edit, edits } from '../investigation/index.ts'
import { normalSource, randomSource } from '../random/index.ts'
import { FitError } from '../regression/index.ts'
import { THROWN, thrown } from '../testing/thrown.ts'
import {
  type FitSettings,
  fitColumn,
  fitColumns,
  MODELS,
  namedReadings,
  PLAIN,
  throwReadings,
} from './index.ts'
import { fitPoints } from './solve.ts'

const whole = { from: 0, to: 1000 }
const noisy = (seed: number) => {
  const normal = normalSource(randomSource(seed))
  return ({ x, y }: { x: number; y: number }) => ({ x: x + 0.4 * normal(), y: y + 0.4 * normal() })
}

describe('columns that are fitted together', () => {
  it('tell what a throw was: speed, angle, apex, range and time of flight', () => {
    const table = analyse(thrown({})).table(THROWN.body)
    const fits = fitColumns(
      [
        { table, quantity: 'y', model: 'uniform-acceleration' },
        { table, quantity: 'x', model: 'uniform' },
      ],
      whole,
      { model: 'uniform-acceleration' },
    )
    const found = Object.fromEntries(throwReadings(fits).map(({ key, value }) => [key, value]))
    expect(found['throw-speed']).toBeCloseTo(Math.hypot(2.6, 4.2), 6)
    expect(found['throw-angle']).toBeCloseTo((Math.atan2(4.2, 2.6) * 180) / Math.PI, 6)
    expect(found['throw-apex']).toBeCloseTo(4.2 ** 2 / (2 * 9.81), 6)
    expect(found['throw-range']).toBeCloseTo((2 * 2.6 * 4.2) / 9.81, 6)
    expect(found['throw-time']).toBeCloseTo((2 * 4.2) / 9.81, 6)
    expect(namedReadings(fits)[0].name).toBe('Acceleration, y')
  })

  it('share a parameter: it is the mean of both, weighed by what each knows', () => {
    const table = analyse(thrown({ place: noisy(3) })).table(THROWN.body)
    const settings: FitSettings = { model: 'uniform-acceleration' }
    const early = { from: 0, to: 24 }
    const columns = ['y', 's'].map((quantity) => ({ table, quantity, model: settings.model }))
    const apart = ['y', 's'].map((quantity) => fitColumn(table, quantity, early, settings))
    const [one, other] = fitColumns(columns, early, { ...settings, shared: { a: true } })
    expect(one.reading.value).toBe(other.reading.value)
    // Displacement goes along x, which knows the acceleration as well as y: their plain mean.
    const mean = (apart[0].reading.value + apart[1].reading.value) / 2
    expect(one.reading.value).toBeCloseTo(mean, 4)
    expect(one.parameters[1].value).not.toBeCloseTo(other.parameters[1].value, 2)
  })

  it('keep a fixed parameter, and determine the others as the rest of the model would', () => {
    const table = analyse(thrown({ place: noisy(4) })).table(THROWN.body)
    const fixed = fitColumn(table, 'y', whole, { model: 'uniform-acceleration', fixed: { a: -9.81 } })
    expect(fixed.parameters[2]).toMatchObject({ value: -9.81, isFixed: true })
    expect(fixed.parameters[2].error).toBe(0)
    expect(fixed.freedom).toBe(50 - 2)
    // With a known, the velocity is known better.
    const free = fitColumn(table, 'y', whole, { model: 'uniform-acceleration' })
    const marks = (fit: typeof free) =>
      fit.parameters[1].parts.find(({ source }) => source === 'marks')!.error
    expect(marks(fixed)).toBeLessThan(0.6 * marks(free))
    expect(fixed.parameters[1].value).toBeCloseTo(4.2, 1)
    expect(() => fitColumn(table, 'y', whole, { model: 'rest', fixed: { y0: 1 } })).toThrow(
      /all-parameters-fixed/,
    )
  })

  it('stay where they are by a robust fit, whatever one point does', () => {
    const document = edit(
      thrown({ place: noisy(5) }),
      edits.setMark(THROWN.body, 20, { x: 0, y: 0 }),
    ).document
    const table = analyse(document).table(THROWN.body)
    const robust = fitColumn(table, 'y', whole, { model: 'uniform-acceleration', robust: 'bisquare' })
    expect(robust.residuals().find(({ frame }) => frame === 20)!.weight).toBe(0)
    expect(Math.abs(robust.reading.value + 9.81)).toBeLessThan(3 * robust.reading.error)
  })
})

describe('what can’t be fitted', () => {
  const table = analyse(thrown({ frames: 30 })).table(THROWN.body)
  it.each<[FitSettings, { from: number; to: number }, RegExp]>([
    [{ model: 'uniform-acceleration' }, { from: 3, to: 4 }, /too-few-points/],
    [{ model: 'uniform' }, { from: 900, to: 950 }, /no-point-in-stretch/],
    [{ model: 'swing' }, { from: 0, to: 29 }, /parameter-undetermined|less-than-a-period/],
    [{ model: 'free-form', expression: '2*t' }, { from: 0, to: 29 }, /nothing-to-fit/],
    [{ model: 'free-form', expression: 'a*b*t' }, { from: 0, to: 29 }, /parameters-indistinguishable/],
    [{ model: 'free-form', expression: 'exp(exp(a*1e9*t))' }, { from: 0, to: 29 }, /./],
    [{ model: 'pieces' }, { from: 0, to: 29 }, /no-break/],
    [{ model: 'power' }, { from: 0, to: 29 }, /not-positive/],
  ])('says why: %j', (settings, range, words) => {
    expect(() => fitColumn(table, 'y', range, settings)).toThrow(words)
    expect(() => fitColumn(table, 'y', range, settings)).toThrow(FitError)
  })

  it('where all values are equal a line has no slope, and a swing is none', () => {
    const still = analyse(thrown({ frames: 30, motion: () => ({ x: 1, y: 1 }) })).table(THROWN.body)
    const { reading } = fitColumn(still, 'y', { from: 0, to: 29 }, { model: 'uniform' })
    expect(reading.value).toBeCloseTo(0, 9)
    expect(() => fitColumn(still, 'y', { from: 0, to: 29 }, { model: 'swing' })).toThrow(FitError)
  })

  it('is none of a hundred thousand points', () => {
    const normal = normalSource(randomSource(9))
    const times = Float64Array.from({ length: 100_000 }, (_, i) => i / 1000)
    const values = times.map((t) => 2 + 3 * Math.sin(0.7 * t + 1) + 0.5 * normal())
    const law = MODELS.swing.law(PLAIN)!
    const { parameters, covariance, members } = fitPoints(law, times, values)
    const [middle, amplitude, omega] = members[0].shownParameters(parameters)
    expect(Math.abs(omega - 0.7)).toBeLessThan(4 * Math.sqrt(covariance[3][3]))
    expect(middle).toBeCloseTo(2, 1)
    expect(amplitude).toBeCloseTo(3, 1)
  })
})
