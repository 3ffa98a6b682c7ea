/** Why an expression can't be used; `expressionProblems.ts` in `words` has the sentences. */
export type ExpressionProblem =
  | { code: 'unknown-unit'; unit: string }
  /** Units that the expression has and was to have; empty for a pure number. */
  | { code: 'wrong-unit'; found: string; wanted: string }
  /** A name that means nothing. */
  | { code: 'unknown-name'; name: string }
  /** A name that stands in its own definition, directly or through others. */
  | { code: 'circular'; name: string; isDirect: boolean }
  | { code: 'too-long'; most: number }
  /** The text from the place on that can't be read; null where that is not known. */
  | { code: 'unreadable'; at: { character: number; text: string } | null }
  | { code: 'unknown-function'; name: string; known: readonly string[] }
  | { code: 'argument-count'; name: string; count: number }
  | { code: 'argument-pure' | 'argument-angle' | 'arguments-alike'; name: string }
  | {
      code:
        | 'empty'
        | 'too-deep'
        | 'not-allowed'
        | 'operator'
        | 'different-units'
        | 'exponent-unit'
        | 'exponent-varies'
        | 'division-by-zero'
        | 'weighted-names'
        | 'weighted-errors'
    }

/** Thrown for an expression that can't be used. */
export class ExpressionError extends Error {
  constructor(readonly problem: ExpressionProblem) {
    super(JSON.stringify(problem))
  }
}
