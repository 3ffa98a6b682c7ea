import { analyse, expectedOf, type GraphFit, readingOf } from '../analysis/index.ts'
import {
  type ColumnFit,
  type Comparison,
  compare,
  comparePair,
  type Estimate,
  type NamedReading,
} from '../fitting/index.ts'
import { relativeScaleError } from '../geometry/index.ts'
import type {
  Against,
  ComparedValue,
  FitStatistic,
  Investigation,
  ValueSource,
} from '../investigation/index.ts'
import { clockOf, probeReading } from '../scene/index.ts'
import { metresIn } from '../units/index.ts'

/** What a live value shows: a quantity with its standard error (0 for exact or unknown), or a text. */
export type LiveValue =
  | { kind: 'quantity'; value: number; error: number; unit: string }
  | { kind: 'count'; value: number }
  | { kind: 'text'; text: string }

/** Returns a number as a live value; null if it is not finite. */
export const quantity = ({
  value,
  error,
  unit,
}: {
  value: number
  error: number
  unit: string
}): LiveValue | null =>
  Number.isFinite(value) ? { kind: 'quantity', value, error: Number.isFinite(error) ? error : 0, unit } : null

/** Returns the reading of a fit that is compared with an expected value, and that value; null if there is none. */
export function comparedReading(
  fit: GraphFit,
): { reading: NamedReading; against: NonNullable<Against> } | null {
  const { expected } = fit.settings
  const reading = expected && readingOf(fit, expected.reading)
  return reading && expected.against ? { reading, against: expected.against } : null
}

type Compared = Pick<Comparison, 'percent' | 'standardErrors'>

/** Returns how far apart two values are, in percent or in standard errors; null if that is not known. */
function apart(
  { percent, standardErrors }: Compared,
  which: 'percent' | 'standard-errors',
): LiveValue | null {
  const value = which === 'percent' ? percent : standardErrors
  return value === null ? null : quantity({ value, error: 0, unit: which === 'percent' ? '%' : '' })
}

/** Returns a value of the comparison of an estimate with what is expected; null if it has none. */
export function comparedValue(
  document: Investigation,
  estimate: Estimate,
  against: Against | null,
  which: ComparedValue,
): LiveValue | null {
  const expected = expectedOf(document, against, estimate.unit)
  if (!expected) return null
  if (which === 'expected') return quantity({ ...expected, unit: estimate.unit })
  return apart(compare(estimate, expected.value, expected.error), which)
}

/** Returns the reading that another one is compared with; null if it is gone or in another unit. */
export function otherReading(
  document: Investigation,
  { unit }: NamedReading,
  { fit, reading }: Extract<Against, { kind: 'reading' }>,
): NamedReading | null {
  const shown = analyse(document).fit(fit)
  const other = shown && readingOf(shown, reading)
  return other && other.unit === unit ? other : null
}

/** Returns a value of the comparison of two readings, which may share errors; null if the other is gone or in another unit. */
function comparedPair(
  document: Investigation,
  one: NamedReading,
  against: Extract<Against, { kind: 'reading' }>,
  which: ComparedValue,
): LiveValue | null {
  const other = otherReading(document, one, against)
  if (!other) return null
  const { factor } = against
  if (which === 'expected')
    return quantity({ value: factor * other.value, error: Math.abs(factor) * other.error, unit: one.unit })
  return apart(comparePair(one, other, factor), which)
}

/** Returns a statistic of a fit. */
export function fitStatistic(fit: ColumnFit, which: FitStatistic): LiveValue | null {
  switch (which) {
    case 'rmse':
      return quantity({ value: fit.rmse, error: 0, unit: fit.residualUnit })
    case 'r-squared':
      return quantity({ value: fit.rSquared, error: 0, unit: '' })
    case 'reduced-chi-square':
      return quantity({ value: fit.solution.reducedChiSquare ?? Number.NaN, error: 0, unit: '' })
    case 'points':
      return { kind: 'count', value: fit.points }
  }
}

function ofFit(document: Investigation, source: Extract<ValueSource, { fit: string }>): LiveValue | null {
  const fit = analyse(document).fit(source.fit)
  if (!fit?.fit) return null
  switch (source.of) {
    case 'reading': {
      const reading = readingOf(fit, source.reading)
      return reading && quantity(reading)
    }
    case 'parameter': {
      const parameter = fit.fit.parameters.find(({ key }) => key === source.parameter)
      return parameter ? quantity(parameter) : null
    }
    case 'statistic':
      return fitStatistic(fit.fit, source.statistic)
    case 'fit-comparison': {
      const compared = comparedReading(fit)
      if (!compared) return null
      const { reading, against } = compared
      return against.kind === 'reading'
        ? comparedPair(document, reading, against, source.value)
        : comparedValue(document, reading, against, source.value)
    }
  }
}

/** Returns a value that stands in the document itself, or follows from its scene. */
function ofDocument(
  document: Investigation,
  source: Exclude<ValueSource, { fit: string } | { calculation: string }>,
): LiveValue | null {
  switch (source.of) {
    case 'column':
    case 'cell':
    case 'trials':
      return null
    case 'reference': {
      const reference = document.references[source.reference]
      if (!reference || reference.length === null) return null
      const metres = metresIn(document.lengthUnit)
      return quantity({
        value: reference.length / metres,
        error: reference.lengthError / metres,
        unit: document.lengthUnit,
      })
    }
    case 'constant':
      return document.constants[source.constant] ? quantity(document.constants[source.constant]) : null
    case 'probe': {
      const probe = document.probes[source.probe]
      const reading = probe && probeReading(analyse(document).scene(), probe)
      return reading ? shownProbe(reading, document) : null
    }
    case 'mass': {
      const mass = document.bodies[source.body]?.mass
      return mass ? quantity({ ...mass, unit: 'kg' }) : null
    }
    case 'marks': {
      const body = document.bodies[source.body]
      return body ? { kind: 'count', value: analyse(document).table(source.body).frames.length } : null
    }
    case 'body-name': {
      const body = document.bodies[source.body]
      return body ? { kind: 'text', text: body.name } : null
    }
    case 'scale': {
      const { scale } = analyse(document).scene()
      if (!scale) return null
      const value = 1 / scale.metresPerPixel
      return quantity({ value, error: value * relativeScaleError(scale), unit: 'px/m' })
    }
    case 'frame-rate': {
      const clock = clockOf(document)
      return clock ? quantity({ value: clock.rate, error: 0, unit: '/s' }) : null
    }
    case 'free-fall':
      return quantity({ ...document.freeFall, unit: 'm/s²' })
    case 'title':
      return { kind: 'text', text: document.title }
  }
}

function shownProbe(
  { value, error, unit }: NonNullable<ReturnType<typeof probeReading>>,
  { lengthUnit }: Investigation,
): LiveValue | null {
  if (unit === 'rad')
    return quantity({ value: (value * 180) / Math.PI, error: (error * 180) / Math.PI, unit: '°' })
  if (unit === 'px') return quantity({ value, error, unit })
  return quantity({
    value: value / metresIn(lengthUnit),
    error: error / metresIn(lengthUnit),
    unit: lengthUnit,
  })
}

/** Returns the present value of a source in an investigation; null if it is gone, or has no value. */
export function liveValue(document: Investigation, source: ValueSource): LiveValue | null {
  if ('fit' in source) return ofFit(document, source)
  if (source.of === 'calculation' || source.of === 'calculation-comparison') {
    const shown = analyse(document).calculation(source.calculation)
    if (!shown?.result) return null
    if (source.of === 'calculation') return quantity(shown.result)
    return comparedValue(document, shown.result, shown.calculation.against, source.value)
  }
  return ofDocument(document, source)
}
