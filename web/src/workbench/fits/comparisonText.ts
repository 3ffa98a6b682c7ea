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

/** Returns what is expected as it stands in the field. */
export function expectedText(against: Against | null, factor: number): string {
  if (!against || against.kind === 'reading') return ''
  if (against.kind === 'expression') return against.expression
  const { value, error } = against
  const shown = (number: number) => String(Number((number / factor).toPrecision(8)))
  return error > 0 ? `${shown(value)} ± ${shown(error)}` : shown(value)
}

/** Returns a reading or a result beside what is expected of it: a sentence that neither overclaims nor scolds. */
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

/** Two readings beside each other. */
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

/** A correlation from which on it is worth a word. */
const NOTABLE = 0.3

/** Returns what a class says of so many percent, where it has said within how many a result counts as right. */
function toleranceText({ tolerance }: Investigation, percent: number | null): string {
  if (tolerance === null || percent === null) return ''
  const limit = withUnit(String(tolerance), '%')
  return percent <= tolerance
    ? ` Within the ${limit} that this class allows.`
    : ` Beyond the ${limit} that this class allows.`
}

/** Returns how many of the SI's a unit is; 1 for what has none. */
export const unitFactor = (unit: string) => parseUnit(unit)?.factor ?? 1

/** Returns what is expected, in a unit; throws an ExpressionError where it can't be told. */
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

/** Returns the same; null where there is nothing, or it can't be told. */
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

/** Combined standard errors from which on a reading misses what is expected. */
const MISSED = 2

/** Returns true if something misses what is expected of it. */
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
