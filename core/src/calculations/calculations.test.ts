import { describe, expect, it } from 'vitest'
import { analyse } from '../analysis/index.ts'
import { covarianceOf, fitColumn } from '../fitting/index.ts'
import { type Calculation, edit, edits, type Investigation } from '../investigation/index.ts'
import { normalSource, randomSource } from '../random/index.ts'
import { REPEATS, SCATTER_MARGIN } from '../testing/extent.ts'
import { THROWN, thrown } from '../testing/thrown.ts'
import { calculateAll, calculationProblem, knownValues } from './index.ts'

const ID = (number: number) => `00000000-0000-4000-8000-0000000000a${number}`
const plain = (symbol: string, expression: string, unit = ''): Omit<Calculation, 'order'> => ({
  symbol,
  expression,
  unit,
  name: symbol,
  against: null,
})

/** Marks as a hand sets them, with the same reference length for all. */
function marked(seed: number): Investigation {
  const normal = normalSource(randomSource(seed))
  return edit(
    thrown({ frames: 40, place: ({ x, y }) => ({ x: x + 0.4 * normal(), y: y + 0.4 * normal() }) }),
    (draft) => {
      for (const reference of Object.values(draft.references)) reference.lengthError = 0.02
      draft.freeFall = { value: 9.81, error: 0.01 }
    },
  ).document
}

/** Returns what calculations come to, with the acceleration along y as a_1 and the velocity along x as v_2. */
function worked(investigation: Investigation, ...calculations: Omit<Calculation, 'order'>[]) {
  const document = edit(investigation, (draft) => {
    calculations.forEach((one, i) => {
      edits.setCalculation(ID(i), one)(draft)
    })
  }).document
  const table = analyse(document).table(THROWN.body)
  const range = { from: 0, to: 1000 }
  const a = fitColumn(table, 'y', range, { model: 'uniform-acceleration' })
  const v = fitColumn(table, 'x', range, { model: 'uniform' })
  const known = knownValues(document, analyse(document).numbers(), [
    { number: 1, fits: [[a]] },
    { number: 2, fits: [[v]] },
  ])
  return { a, v, known, document, shown: calculateAll(document, known) }
}

describe('calculations', () => {
  it('go with the errors of what they are made of, as the rule for products of independent numbers says', () => {
    const { a, shown } = worked(marked(1), plain('k', 'a_1/g'))
    const { result } = shown[0]
    expect(result!.value).toBeCloseTo(a.reading.value / 9.81, 12)
    const relative = Math.hypot(a.reading.error / a.reading.value, 0.01 / 9.81)
    expect(result!.error).toBeCloseTo(Math.abs(result!.value) * relative, 9)
    expect(result!.unit).toBe('')
  })

  it('know that two readings rest on the same scale: their ratio does not depend on it', () => {
    const { a, v, shown } = worked(marked(2), plain('k', 'a_1/v_2'), plain('d', 'a_1 - a_1'))
    const marks = ({ parts }: typeof a.reading) => parts.find(({ source }) => source === 'marks')!.error
    const byMarks = Math.hypot(marks(a.reading) / a.reading.value, marks(v.reading) / v.reading.value)
    const [ratio, nothing] = shown.map(({ result }) => result!)
    // The scale's 1.4 % is in both, and the clock's error is next to nothing here.
    expect(ratio.error / Math.abs(ratio.value)).toBeCloseTo(byMarks, 4)
    expect([nothing.value, nothing.error]).toEqual([0, 0])
  })

  it('know which constant a custom quantity rests on: it cancels with itself and with no other', () => {
    const quantity = '00000000-0000-4000-8000-0000000000b1'
    const document = edit(marked(3), (draft) => {
      draft.constants = {
        [ID(7)]: { order: 0, name: 'k1', value: 2, error: 0.2, unit: '' },
        [ID(8)]: { order: 1, name: 'k2', value: 5, error: 1.5, unit: '' },
      }
      draft.quantities[quantity] = {
        order: 0,
        name: 'scaled velocity',
        symbol: 'q',
        expression: 'k2*vy',
        unit: 'm/s',
      }
      edits.setCalculation(ID(1), plain('k', 'k_1/k2', 'm/s²'))(draft)
      edits.setCalculation(ID(2), plain('l', 'k_1/k1', 'm/s²'))(draft)
    }).document
    const table = analyse(document).table(THROWN.body)
    const range = { from: 0, to: 1000 }
    const scaled = fitColumn(table, quantity, range, { model: 'uniform' })
    const unscaled = fitColumn(table, 'vy', range, { model: 'uniform-acceleration' })
    const known = knownValues(document, analyse(document).numbers(), [{ number: 1, fits: [[scaled]] }])
    const [byItself, byAnother] = calculateAll(document, known).map(({ result }) => result!)
    const { value, error } = unscaled.reading
    expect(byItself.value / value).toBeCloseTo(1, 9)
    expect(byItself.error / error).toBeCloseTo(1, 6)
    expect(byAnother.error / Math.abs(byAnother.value)).toBeCloseTo(
      Math.hypot(error / value, 0.2 / 2, 1.5 / 5),
      4,
    )
  })

  it('state an error that is the spread over repeats: of the ratio of two readings of the same marks', () => {
    const found: number[] = []
    let stated = 0
    for (let repeat = 0; repeat < REPEATS; repeat++) {
      const normal = normalSource(randomSource(1000 + repeat))
      const document = thrown({
        frames: 24,
        place: ({ x, y }) => ({ x: x + 0.4 * normal(), y: y + 0.4 * normal() }),
      })
      const table = analyse(document).table(THROWN.body)
      const first = fitColumn(table, 'y', { from: 0, to: 15 }, { model: 'uniform-acceleration' })
      // Half of the marks are in both.
      const second = fitColumn(table, 'vy', { from: 8, to: 23 }, { model: 'uniform-acceleration' })
      const sheet = edit(document, edits.setCalculation(ID(1), plain('q', 'a_1/a_2'))).document
      const known = knownValues(sheet, analyse(sheet).numbers(), [
        { number: 1, fits: [[first]] },
        { number: 2, fits: [[second]] },
      ])
      const { result } = calculateAll(sheet, known)[0]
      found.push(result!.value)
      stated += result!.error / REPEATS
    }
    const mean = found.reduce((sum, value) => sum + value / REPEATS, 0)
    const spread = Math.sqrt(found.reduce((sum, value) => sum + (value - mean) ** 2, 0) / (REPEATS - 1))
    expect(Math.abs(stated / spread - 1)).toBeLessThan(0.057 + SCATTER_MARGIN)
  })

  it('stand on each other, in any order, and say where they go round', () => {
    const { shown } = worked(
      marked(3),
      plain('twice', '2*once'),
      plain('once', 'a_1', 'cm/s^2'),
      plain('p', 'q'),
      plain('q', 'p + 1'),
    )
    expect(shown[0].result!.value).toBeCloseTo(2 * shown[1].result!.value * 0.01, 9)
    expect(shown[1].result!.unit).toBe('cm/s^2')
    expect([shown[2].error, shown[3].error]).toEqual([
      { code: 'circular', name: 'p', isDirect: false },
      { code: 'circular', name: 'q', isDirect: false },
    ])
  })

  it('are worked out once each, however many stand on them: each of sixty stands on the two before', () => {
    const chain = Array.from({ length: 60 }, (_, n) =>
      plain(`u${n}`, n < 2 ? 'a_1' : `u${n - 1} + u${n - 2}`),
    )
    const { shown } = worked(marked(3), ...chain)
    const fibonacci = [1, 1]
    for (let n = 2; n < 60; n++) fibonacci.push(fibonacci[n - 1] + fibonacci[n - 2])
    const { value, error } = shown[59].result!
    expect(value / shown[0].result!.value / fibonacci[59]).toBeCloseTo(1, 9)
    // All of it is one number times another, so the errors go along.
    expect(error / value).toBeCloseTo(shown[0].result!.error / shown[0].result!.value, 9)
  })

  it('weigh a mean by how well each is known, and take a plain one as well', () => {
    const { a, shown } = worked(
      edit(marked(4), edits.setConstant(ID(9), { name: 'a_lamp', value: -9.9, error: 0.3, unit: 'm/s^2' }))
        .document,
      plain('w', 'weighted(a_1, a_lamp)'),
      plain('n', 'mean(a_1, a_lamp)'),
    )
    const weights = [1 / a.reading.error ** 2, 1 / 0.3 ** 2]
    const expected = (weights[0] * a.reading.value + weights[1] * -9.9) / (weights[0] + weights[1])
    expect(shown[0].result!.value).toBeCloseTo(expected, 9)
    expect(shown[0].result!.error).toBeCloseTo(1 / Math.sqrt(weights[0] + weights[1]), 9)
    expect(shown[1].result!.value).toBeCloseTo((a.reading.value - 9.9) / 2, 12)
  })

  it.each([
    ['a_1 + v_2', '', { code: 'different-units' }],
    ['a_1', 'm', { code: 'wrong-unit', found: 'm/s²', wanted: 'm' }],
    ['a_1/(v_2 - v_2)', '', { code: 'division-by-zero' }],
    ['nothing_3', '', { code: 'unknown-name', name: 'nothing_3' }],
    ['a_1 *', '', { code: 'unreadable' }],
    ['weighted(a_1)', '', { code: 'weighted-names' }],
    ['a_1', 'furlongs', { code: 'unknown-unit', unit: 'furlongs' }],
  ])('say what is wrong: %s', (expression, unit, problem) => {
    const { document, known } = worked(marked(5))
    const found = calculationProblem(document, known, ID(0), {
      order: 0,
      ...plain('x', expression, unit),
    })
    expect(found).toMatchObject(problem)
  })

  it('are shown with their formula and with the numbers in place', () => {
    const { shown } = worked(marked(6), plain('k', '-a_1/g'))
    expect(shown[0].result!.formula).toContain('a_{1}')
    expect(shown[0].result!.numbers).toMatch(/9\.\d+/)
    expect(shown[0].result!.numbers).toContain('9.81')
  })
})

describe('the covariance of two readings', () => {
  it('is the variance of a reading with itself', () => {
    const { reading } = worked(marked(7)).a
    expect(covarianceOf(reading.sensitivity(), reading.sensitivity()) / reading.error ** 2).toBeCloseTo(1, 6)
  })

  it('counts a stated mass once, where the reading rests on it', () => {
    const heavy = edit(
      marked(8),
      edits.changeBody(THROWN.body, { mass: { value: 0.25, error: 0.02 } }),
    ).document
    const { reading } = fitColumn(
      analyse(heavy).table(THROWN.body),
      'py',
      { from: 0, to: 1000 },
      { model: 'uniform' },
    )
    expect(reading.parts.find(({ source }) => source === 'stated')!.error).toBeCloseTo(0.02 * 9.81, 2)
    expect(covarianceOf(reading.sensitivity(), reading.sensitivity()) / reading.error ** 2).toBeCloseTo(1, 3)
  })
})
