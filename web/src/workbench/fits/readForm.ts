import { type FreeForm, readFreeForm } from '@apokinema/core/fitting'
import { ExpressionError } from '@apokinema/core/motion'
import { FitError } from '@apokinema/core/regression'

/** A free form as somebody has written it, or what is wrong with it. */
export function readForm(
  expression: string,
  variable: string,
): { form: FreeForm; trouble: null } | { form: null; trouble: string } {
  try {
    return { form: readFreeForm(expression, variable), trouble: null }
  } catch (error) {
    if (error instanceof ExpressionError || error instanceof FitError)
      return { form: null, trouble: error.message }
    throw error
  }
}
