import { type FreeForm, readFreeForm } from '@apokinema/core/fitting'
import { ExpressionError } from '@apokinema/core/motion'
import { FitError } from '@apokinema/core/regression'
import { problemText } from '@apokinema/words/problems'

/** Returns a free form as somebody has written it, or a sentence that says what is wrong with it. */
export function readForm(
  expression: string,
  variable: string,
): { form: FreeForm; error: null } | { form: null; error: string } {
  try {
    return { form: readFreeForm(expression, variable), error: null }
  } catch (error) {
    if (error instanceof ExpressionError || error instanceof FitError)
      return { form: null, error: problemText(error) }
    throw error
  }
}
