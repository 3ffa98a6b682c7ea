import { analyse, type GraphFit, readingOf } from '@apokinema/core/analysis'
import { nameTex, type ShownCalculation } from '@apokinema/core/calculations'
import { type ColumnFit, type Estimate, shares, symbolTex, throwReadings } from '@apokinema/core/fitting'
import { lowered } from '@apokinema/core/graphs'
import { AS_MEASURED, type Investigation, type ValueSource } from '@apokinema/core/investigation'
import { comparedReading, type LiveValue, liveValue, otherReading, valueText } from '@apokinema/core/report'
import { measurement, significant, withUnit } from '@apokinema/core/units'
import { comparisonText, pairText } from '../comparisons.ts'
import { ERROR_SOURCES } from '../errorSources.ts'
import { expressionProblemText } from '../expressionProblems.ts'
import { closeness } from '../fitText.ts'
import { problemText } from '../problems.ts'
import {
  type Content,
  missing,
  NO_LONGER_THERE,
  type Run,
  type Shown,
  type ShownResiduals,
  symbolRuns,
  textRun,
} from './shown.ts'

const capitalised = (text: string) => text.replace(/^./, (first) => first.toUpperCase())

/** Returns a fit with words for what it is of; null if it is gone. */
function fitOf(document: Investigation, id: string): { fit: GraphFit; what: string } | null {
  const fit = analyse(document).fit(id)
  if (!fit) return null
  const graph = document.graphs[fit.range.graph]
  const body = document.bodies[graph.body]?.name ?? ''
  const quantity = analyse(document).quantity(graph.quantity)?.name ?? ''
  return { fit, what: `${quantity} of ${body}` }
}

/** Shows a fit: its law with the numbers in place, its parameters and how close it is. */
export function fitResult(
  document: Investigation,
  { fit: id, parameters, closeness: hasCloseness, residuals }: Content<'fit'>,
): Shown {
  const found = fitOf(document, id)
  if (!found) return missing('fit')
  const { fit, what } = found
  const title = `${fit.settings.name || (fit.fit?.name ?? 'Fit')}: ${lowered(what)}, frames ${fit.range.from} to ${fit.range.to}`
  if (!fit.fit) return { ...plainResult(title), sentences: fit.error ? [problemText(fit.error)] : [] }
  const tex = fit.all.flatMap(({ quantity, loop, formula, numbers }) => {
    const left = loop ? '' : `${symbolTex(quantity.symbol, quantity.subscript)} = `
    return formula === '' ? [] : [left + formula, left + numbers]
  })
  const shownParameters = fit.all.flatMap(({ parameters: all }) =>
    all.map(({ symbol, subscript, value, error, unit, isFixed }): [Run[], string] => [
      symbolRuns(symbol, subscript),
      isFixed ? `${withUnit(significant(value, 6), unit)} (fixed)` : measurement(value, error, unit),
    ]),
  )
  const rows: [Run[], string][] = [
    ...(parameters ? shownParameters : []),
    ...(hasCloseness ? closenessRows(fit.fit) : []),
    ...throwReadings(fit.all).map(({ name, value, error, unit }): [Run[], string] => [
      [textRun(name)],
      measurement(value, error, unit),
    ]),
  ]
  return {
    kind: 'result',
    title,
    tex,
    rows,
    sentences: [],
    residuals: residuals ? residualsOf(fit.fit) : null,
  }
}

/** Returns how close a fit is: RMSE with R², and χ² where the errors of the points are known. */
export function closenessRows(fit: ColumnFit): [Run[], string][] {
  const chi = fit.solution.reducedChiSquare
  return [
    [[textRun('RMSE')], closeness(fit)],
    ...(chi !== null
      ? [[[textRun('χ²/ν')], `${significant(chi, 2)}, ${fit.freedom} degrees of freedom`] as [Run[], string]]
      : []),
  ]
}

/** Returns what the points are off the curve by. */
export function residualsOf(fit: ColumnFit): ShownResiduals {
  const residuals = fit.residuals()
  const most = residuals.reduce((largest, { value }) => Math.max(largest, Math.abs(value)), 0)
  const shareOf = (share: number) => Number(share.toFixed(4))
  const largest = withUnit(significant(most, 2), fit.residualUnit)
  return {
    points: residuals.map(({ place, value }) => [
      shareOf((place - fit.from) / (fit.to - fit.from || 1)),
      shareOf(most > 0 ? value / most : 0),
    ]),
    most: largest,
    alternative: `Residuals of ${residuals.length} points, up to ${largest}`,
  }
}

/** Shows a reading of a fit, and where its error comes from. */
export function readingResult(
  document: Investigation,
  { fit: id, reading: key, budget }: Content<'reading'>,
): Shown {
  const found = fitOf(document, id)
  const reading = found && readingOf(found.fit, key)
  if (!reading) return missing('reading')
  const { name, value, error, unit } = reading
  return {
    ...plainResult(capitalised(lowered(found.what))),
    rows: [[[textRun(name)], measurement(value, error, unit)]],
    sentences: budget ? budgetSentences(reading) : [],
  }
}

/** Shows a reading beside what was expected. */
export function comparisonResult(document: Investigation, { fit: id }: Content<'comparison'>): Shown {
  const found = fitOf(document, id)
  const compared = found && comparedReading(found.fit)
  if (!compared) return missing('comparison')
  const { reading, against } = compared
  const own: [Run[], string] = [
    [textRun(reading.name)],
    measurement(reading.value, reading.error, reading.unit),
  ]
  if (against.kind !== 'reading') {
    const expected = liveValue(document, { of: 'fit-comparison', fit: id, value: 'expected' })
    return expectedResult(own, expected, comparisonText(document, reading, against))
  }
  const other = otherReading(document, reading, against)
  const title = 'Comparison of two readings'
  if (!other) return { ...plainResult(title), rows: [own, [[textRun('The other')], NO_LONGER_THERE]] }
  const times = against.factor === 1 ? '' : `${significant(against.factor, 3)} × `
  return {
    ...plainResult(title),
    rows: [
      own,
      [
        [textRun(capitalised(`${times}${lowered(other.name)} of the other fit`))],
        measurement(against.factor * other.value, Math.abs(against.factor) * other.error, other.unit),
      ],
    ],
    sentences: [pairText(document, reading, other, against.factor)],
  }
}

/** Shows a calculation of an investigation or a series beside what was expected. */
export function calculationComparisonResult(
  { document, calculations, value }: CalculationSource,
  { calculation: id }: Content<'calculation-comparison'>,
): Shown {
  const shown = calculations().find((one) => one.id === id)
  const against = shown?.calculation.against
  if (!shown?.result || !against || against.kind === 'reading') return missing('comparison')
  const { calculation, result } = shown
  return expectedResult(
    [calculationName(calculation.symbol), measurement(result.value, result.error, result.unit)],
    value({ of: 'calculation-comparison', calculation: id, value: 'expected' }),
    comparisonText(document, result, against),
  )
}

/** Calculations, the values of what they show, and the investigation whose constants count for them. */
export interface CalculationSource {
  document: Investigation
  calculations: () => readonly ShownCalculation[]
  value: (source: ValueSource) => LiveValue | null
}

/** Returns a result with a title and nothing else. */
export const plainResult = (title: string): Extract<Shown, { kind: 'result' }> => ({
  kind: 'result',
  title,
  tex: [],
  rows: [],
  sentences: [],
  residuals: null,
})

/** Shows a value beside the one that was expected. */
export const expectedResult = (
  own: [Run[], string],
  expected: LiveValue | null,
  sentence: string,
): Shown => ({
  ...plainResult('Comparison with the expected value'),
  rows: [own, [[textRun('Expected')], expected ? valueText(expected, AS_MEASURED) : NO_LONGER_THERE]],
  sentences: [sentence],
})

/** Returns the symbol of a calculation as it is set: what follows its first "_" stands below. */
function calculationName(symbol: string): Run[] {
  const [name, ...below] = symbol.split('_')
  return symbolRuns(name, below.join('_'))
}

/** Shows a calculation of an investigation or a series with the numbers in place. */
export function calculationResult(
  { document, calculations }: CalculationSource,
  { calculation: id, budget }: Content<'calculation'>,
): Shown {
  const shown = calculations().find((one) => one.id === id)
  if (!shown) return missing('calculation')
  const { calculation, result, error } = shown
  const title = calculation.name || calculation.symbol
  if (!result) return { ...plainResult(title), sentences: error ? [expressionProblemText(error)] : [] }
  const left = `${nameTex(calculation.symbol)} = `
  const { against } = calculation
  const compared = against && against.kind !== 'reading' ? [comparisonText(document, result, against)] : []
  return {
    kind: 'result',
    title,
    tex: [left + result.formula, left + result.numbers],
    rows: [[calculationName(calculation.symbol), measurement(result.value, result.error, result.unit)]],
    sentences: [...compared, ...(budget ? budgetSentences(result) : [])],
    residuals: null,
  }
}

/** Returns the error budget in a sentence; nothing where there is no error. */
export function budgetSentences(reading: Estimate): string[] {
  const parts = shares(reading)
    .sort((a, b) => b.share - a.share)
    .filter(({ share }) => share >= 0.005)
    .map(({ source, share }) => `${ERROR_SOURCES[source]} ${withUnit(String(Math.round(100 * share)), '%')}`)
  return parts.length > 0 ? [`Of the error: ${parts.join(', ')}.`] : []
}
