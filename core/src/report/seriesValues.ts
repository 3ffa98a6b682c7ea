import type { ColumnStatistic, ValueSource } from '../investigation/index.ts'
import { comparedOf, type Series, type SeriesAnalysis, totalError } from '../series/index.ts'
import { comparedValue, fitStatistic, type LiveValue, quantity } from './liveValues.ts'

/** Returns the present value of a source in a series; null if it is gone, has no value, or is one of an investigation alone. */
export function seriesValue(
  { title }: Pick<Series, 'title'>,
  analysis: SeriesAnalysis,
  source: ValueSource,
): LiveValue | null {
  if ('fit' in source) return ofLaw(analysis, source)
  switch (source.of) {
    case 'calculation':
    case 'calculation-comparison': {
      const shown = analysis.calculations().find(({ id }) => id === source.calculation)
      if (!shown?.result) return null
      if (source.of === 'calculation') return quantity(shown.result)
      return comparedValue(
        analysis.constantsDocument(),
        shown.result,
        shown.calculation.against,
        source.value,
      )
    }
    case 'column':
      return ofColumn(analysis, source.column, source.statistic)
    case 'cell': {
      const { trials, columns } = analysis.series
      if (!Object.hasOwn(trials, source.trial) || !Object.hasOwn(columns, source.column)) return null
      const cell = analysis.table.cell(source.trial, source.column)
      if (cell.kind === 'word') return { kind: 'text', text: cell.word }
      if (cell.kind !== 'number') return null
      const unit = analysis.table.column(source.column)?.unit ?? ''
      return quantity({ value: cell.value.value, error: totalError(cell.value), unit })
    }
    case 'trials':
      return { kind: 'count', value: analysis.table.countingRows().length }
    case 'free-fall':
      return quantity({ ...analysis.constantsDocument().freeFall, unit: 'm/s²' })
    case 'title':
      return { kind: 'text', text: title }
    default:
      return null
  }
}

function ofLaw(analysis: SeriesAnalysis, source: Extract<ValueSource, { fit: string }>): LiveValue | null {
  const law = analysis.fit(source.fit)
  if (!law?.fit) return null
  switch (source.of) {
    case 'reading': {
      const reading = law.readings.find(({ id }) => id === source.reading)
      return reading ? quantity(reading) : null
    }
    case 'parameter': {
      const parameter = law.fit.parameters.find(({ key }) => key === source.parameter)
      return parameter ? quantity(parameter) : null
    }
    case 'statistic':
      return fitStatistic(law.fit, source.statistic)
    case 'fit-comparison': {
      const compared = comparedOf(law)
      return (
        compared &&
        comparedValue(analysis.constantsDocument(), compared.reading, compared.against, source.value)
      )
    }
  }
}

function ofColumn(analysis: SeriesAnalysis, id: string, statistic: ColumnStatistic): LiveValue | null {
  const column = analysis.table.column(id)
  const mean = column && analysis.table.shownMean(id)
  if (!mean) return null
  const { unit } = column
  switch (statistic) {
    case 'mean':
      return quantity({ ...mean.mean, unit })
    case 'weighted-mean':
      return quantity({ ...mean.weighted, unit })
    case 'deviation':
      return quantity({ value: mean.deviation, error: 0, unit })
  }
}
