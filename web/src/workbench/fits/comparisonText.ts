import { analyse } from '@apokinema/core/analysis'
import {
  compare,
  comparePair,
  type Estimate,
  type ExpectedValue,
  expectedByExpression,
  type NamedReading,
} from '@apokinema/core/fitting'
import type { Against, Investigation } from '@apokinema/core/investigation'
import { ExpressionError } from '@apokinema/core/motion'
import { fixed, measurement, parseUnit, significant, withUnit } from '@apokinema/core/units'
import { problemText } from '@apokinema/words/problems'

/** Returns the expected value as the text of its field. */
export function expectedText(against: Against | null, factor: number): string {
  if (!against || against.kind === 'reading') return ''
  if (against.kind === 'expression') return against.expression
  const { value, error } = against
  const shown = (number: number) => String(Number((number / factor).toPrecision(8)))
  return error > 0 ? `${shown(value)} ± ${shown(error)}` : shown(value)
}

/** Returns the sentence that compares a reading or a result with the expected value. */
export function comparisonText(
  investigation: Investigation,
  reading: Estimate,
  against: Exclude<Against, { kind: 'reading' }>,
): string {
  try {
    const expected = expectedValue(investigation, against, reading.unit)
    const { percent, standardErrors, bySize } = compare(reading, expected.value, expected.error)
    const beside =
      against.kind === 'expression'
        ? ` It gives ${measurement(expected.value, expected.error, reading.unit)}.`
        : ''
    const sizes = bySize
      ? ` Sizes compared: ${reading.value < 0 ? 'the reading points along the negative axis' : 'the expected value has the other sign'}.`
      : ''
    return `${apart(percent, standardErrors)}.${beside}${sizes}${toleranceText(investigation, percent)}`
  } catch (error) {
    if (error instanceof ExpressionError) return problemText(error)
    throw error
  }
}

/** Returns the sentence that compares two readings. */
export function pairText(
  investigation: Investigation,
  reading: NamedReading,
  other: NamedReading,
  times: number,
): string {
  const factor = (times * unitFactor(other.unit)) / unitFactor(reading.unit)
  const { percent, standardErrors, difference, error, correlation } = comparePair(reading, other, factor)
  const shared =
    Math.abs(correlation) > NOTABLE
      ? ' Both rest in part on the same marks or scale; that is reckoned in.'
      : ''
  return `${apart(percent, standardErrors)}. Difference ${measurement(difference, error, reading.unit)}.${shared}${toleranceText(investigation, percent)}`
}

/** Correlation above which it is mentioned. */
const NOTABLE = 0.3

/** Returns what a deviation in percent means by the class's tolerance; empty if it has none. */
function toleranceText({ tolerance }: Investigation, percent: number | null): string {
  if (tolerance === null || percent === null) return ''
  const limit = withUnit(String(tolerance), '%')
  return percent <= tolerance
    ? ` Within the ${limit} that this class allows.`
    : ` Beyond the ${limit} that this class allows.`
}

/** Returns the factor from a unit to SI; 1 for no unit. */
export const unitFactor = (unit: string) => parseUnit(unit)?.factor ?? 1

/** Returns the expected value in a unit. Throws an ExpressionError if it can't be evaluated. */
function expectedValue(
  investigation: Investigation,
  against: Exclude<Against, { kind: 'reading' }>,
  unit: string,
): ExpectedValue {
  const factor = unitFactor(unit)
  return against.kind === 'value'
    ? { value: against.value / factor, error: against.error / factor }
    : expectedByExpression(investigation, analyse(investigation).numbers(), against.expression, unit)
}

/** Returns the expected value in a unit; null if there is none, or it can't be evaluated. */
export function expectedOf(
  investigation: Investigation,
  against: Against | null,
  unit: string,
): ExpectedValue | null {
  if (!against || against.kind === 'reading') return null
  try {
    return expectedValue(investigation, against, unit)
  } catch (error) {
    if (error instanceof ExpressionError) return null
    throw error
  }
}

/** Number of combined standard errors above which a reading misses the expected value. */
const MISSED = 2

/** Returns true if a value misses the expected one. */
export const isMissed = (reading: Estimate, { value, error }: ExpectedValue) =>
  (compare(reading, value, error).standardErrors ?? 0) > MISSED

function apart(percent: number | null, standardErrors: number | null): string {
  const parts = [
    percent === null ? null : `${withUnit(significant(percent, 2), '%')} off`,
    standardErrors === null ? null : `${fixed(standardErrors, 1)} standard errors`,
  ].filter((part) => part !== null)
  const verdict =
    standardErrors === null
      ? ''
      : standardErrors <= 2
        ? ' – agrees within its error'
        : standardErrors <= 3
          ? ' – agrees just about'
          : ' – does not agree within its error'
  return `${parts.join(', ')}${verdict}`
}
