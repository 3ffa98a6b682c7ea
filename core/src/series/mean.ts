import { combinedBySource, type ErrorPart, type Estimate, estimate } from '../fitting/index.ts'
import { chiSquareBeyond } from '../regression/index.ts'
import { varianceBetween } from './betweenTrials.ts'
import type { TrialValue } from './trialValue.ts'

/** How far values of trials scatter, relative to what their own errors promise. */
export interface Agreement {
  chiSquare: number
  freedom: number
  /** Ratio of the scatter to what the own errors promise: √(χ²/ν) (Birge, Phys. Rev. 40 (1932) 207). */
  birgeRatio: number
  /** Probability of at least this χ² if nothing but the own errors differs between trials. */
  probability: number
}

/** What several trials say together. */
export interface SeriesMean {
  count: number
  /** Arithmetic mean. Its error budget has the scatter between trials, divided by √n, and shared errors, which stay. */
  mean: Estimate
  /** Standard deviation of the values; NaN for one trial. */
  deviation: number
  /** Mean weighted by own variance plus variance between trials. */
  weighted: Estimate
  /** Standard deviation between trials, beyond their own errors. */
  between: number
  /** Null for one trial, or if own errors are not known. */
  agreement: Agreement | null
}

/**
 * Returns the mean and the weighted mean of the values of n trials, in the same unit. The scatter part of both is estimated from the
 * values themselves with n − 1 degrees of freedom; for the weighted mean as Hartung and Knapp do (Statistics in Medicine 20 (2001)
 * 3875), with the variance between trials by Paule and Mandel. Shared errors are not averaged away. The 95 % interval of the plain mean
 * covers up to 97 % where own errors differ by a factor of four.
 *
 * @param values at least one
 */
export function seriesMean(values: readonly TrialValue[], unit: string): SeriesMean {
  const count = values.length
  const alike = values.map(() => 1)
  const mean = weightedMean(values, alike, unit)
  const squares = chiSquareOf(values, alike)
  // 0/0 for one trial.
  const plain = { count, mean, deviation: Math.sqrt(squares / (count - 1)) }
  const areErrorsKnown = values.every(({ own }) => own > 0)
  if (count === 1 || !areErrorsKnown) return { ...plain, weighted: mean, between: 0, agreement: null }
  const chiSquareAt = (between: number) => chiSquareOf(values, weightsWith(values, between))
  const freedom = count - 1
  const between = varianceBetween(chiSquareAt, freedom, squares / freedom)
  const chiSquare = chiSquareAt(0)
  return {
    ...plain,
    weighted: weightedMean(values, weightsWith(values, between), unit),
    between: Math.sqrt(between),
    agreement: {
      chiSquare,
      freedom,
      birgeRatio: Math.sqrt(chiSquare / freedom),
      probability: chiSquareBeyond(chiSquare, freedom),
    },
  }
}

const weightsWith = (values: readonly TrialValue[], between: number) =>
  values.map(({ own }) => 1 / (own ** 2 + between))

/** Returns Σ w (x − x̄)², about the weighted mean. */
function chiSquareOf(values: readonly TrialValue[], weights: readonly number[]): number {
  const mean = meanOf(values, weights)
  return values.reduce((sum, { value }, i) => sum + weights[i] * (value - mean) ** 2, 0)
}

const total = (weights: readonly number[]) => weights.reduce((sum, weight) => sum + weight, 0)

const meanOf = (values: readonly TrialValue[], weights: readonly number[]) =>
  values.reduce((sum, { value }, i) => sum + weights[i] * value, 0) / total(weights)

/** Returns a weighted mean with its error budget; of a single trial the error of its own takes the place of the scatter. */
function weightedMean(values: readonly TrialValue[], weights: readonly number[], unit: string): Estimate {
  const freedom = values.length - 1
  const scatter: ErrorPart =
    freedom > 0
      ? {
          source: 'scatter',
          error: Math.sqrt(chiSquareOf(values, weights) / freedom / total(weights)),
          freedom,
        }
      : { source: 'scatter', error: values[0].own, freedom: Number.POSITIVE_INFINITY }
  return estimate(meanOf(values, weights), unit, [scatter, ...sharedParts(values, weights)])
}

/** Returns the parts of shared errors in a weighted mean, one for each source. */
function sharedParts(values: readonly TrialValue[], weights: readonly number[]): ErrorPart[] {
  const all = total(weights)
  const byKey = new Map<string, ErrorPart>()
  values.forEach(({ shared }, i) => {
    for (const [key, { source, by, freedom }] of shared) {
      const error = (byKey.get(key)?.error ?? 0) + (weights[i] * by) / all
      byKey.set(key, { source, error, freedom })
    }
  })
  return combinedBySource([...byKey.values()])
}
