import { type FreeForm, readFreeForm } from '@apokinema/core/fitting'
import { ExpressionError } from '@apokinema/core/motion'
import { FitError } from '@apokinema/core/regression'
import { problemText } from '@apokinema/words/problems'

/** Returns a parsed free form, or a message if it can't be read. */
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
