import { type ExpectedValue, expectedByExpression } from '../fitting/index.ts'
import type { Against, Investigation } from '../investigation/index.ts'
import { ExpressionError } from '../motion/index.ts'
import { unitFactor } from '../units/index.ts'
import { analyse } from './analyse.ts'

/** Returns the expected value in a unit. Throws an ExpressionError if it can't be evaluated. */
export function expectedValue(
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
