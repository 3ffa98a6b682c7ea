import { expectedValue } from '@apokinema/core/analysis'
import { compare, comparePair, type Estimate, type NamedReading } from '@apokinema/core/fitting'
import type { Against, Investigation } from '@apokinema/core/investigation'
import { ExpressionError } from '@apokinema/core/motion'
import { fixed, measurement, significant, unitFactor, withUnit } from '@apokinema/core/units'
import { problemText } from './problems.ts'

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
      ? ' Both depend on the same marks or scale; the error of the difference takes that into account.'
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
          ? ' – just about agrees'
          : ' – does not agree within its error'
  return `${parts.join(', ')}${verdict}`
}
