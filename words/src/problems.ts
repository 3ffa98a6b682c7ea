import type { ExpressionError } from '@apokinema/core/motion'
import { FitError } from '@apokinema/core/regression'
import { expressionProblemText } from './expressionProblems.ts'
import { fitProblemText } from './fitProblems.ts'

/** Returns why something that a person asked of the computation can't be done. */
export function problemText(error: FitError | ExpressionError): string {
  return error instanceof FitError ? fitProblemText(error.problem) : expressionProblemText(error.problem)
}
