/** Why points could not be fitted; `fitProblems.ts` in `words` has the sentences. */
export type FitProblem =
  /** Parameters that need so many points, at different times where they have to be. */
  | { code: 'too-few-points'; needed: number; points: number }
  | { code: 'too-few-for-swing'; isDamped: boolean; needed: number; points: number }
  /** A coordinate of the point with this number, from 1, is no number. */
  | { code: 'not-a-number'; point: number }
  | { code: 'no-point-in-stretch' }
  /** The iteration did not converge in so many steps. */
  | { code: 'too-many-iterations'; iterations: number }
  /** Name of the model. */
  | { code: 'model-does-not-apply'; model: string }
  /** Name of the parameter that the points leave undetermined. */
  | { code: 'parameter-undetermined'; parameter: string }
  /** Name of the variable of an expression without parameters. */
  | { code: 'nothing-to-fit'; variable: string }
  | { code: 'too-many-parameters'; parameters: number; most: number }
  | {
      code:
        | 'no-parameters'
        | 'all-parameters-fixed'
        | 'parameters-indistinguishable'
        | 'not-converged'
        | 'no-value-at-start'
        | 'no-start'
        | 'no-resemblance'
        | 'overflow'
        | 'errors-unknown'
        | 'weights-not-converged'
        | 'one-time'
        | 'less-than-a-period'
        | 'too-few-points-a-period'
        | 'no-break'
        | 'not-positive'
        | 'closed-curve'
        | 'quantity-missing'
    }

/** Problems of points that leave the model's parameters undetermined. */
const UNDETERMINED: readonly FitProblem['code'][] = [
  'parameter-undetermined',
  'less-than-a-period',
  'too-few-points-a-period',
]

/** Thrown if the data do not determine a fit. */
export class FitError extends Error {
  constructor(readonly problem: FitProblem) {
    super(JSON.stringify(problem))
  }

  /** Returns true if the points leave a parameter undetermined. */
  get isUndetermined(): boolean {
    return UNDETERMINED.includes(this.problem.code)
  }
}
