import { TYPICAL_CORRELATION } from '../motion/index.ts'
import { autoregressiveWhitening, dotProduct } from '../regression/index.ts'

/** A fitted column of n positions. */
export interface DriftingColumn {
  /** Correlation of neighbouring errors that the fit has assumed; null if the marks were not followed. */
  correlation: number | null
  /** Standard errors, frames, residuals: length n. */
  errors: Float64Array
  frames: readonly number[]
  residuals: Float64Array
  /** ∂(value i)/∂(parameter k): p arrays of length n. */
  jacobian: readonly Float64Array[]
}

/** Correlations over which the likelihood is averaged. */
const GRID = [...Array.from({ length: 19 }, (_, i) => 0.05 * i), 0.925, 0.95, 0.97]
/** Least degrees of freedom from which a drift is estimated. */
const LEAST_FREEDOM = 6

/**
 * Returns the variance inflation factor of a fit to followed marks whose errors drift slowly. The correlation estimated from
 * the marks alone takes a drift over many marks for motion; the residuals about a law do not. For a law that is smooth from
 * mark to mark the variance of a parameter goes as s²(1 + φ)/(1 − φ), with the variance s² and the autocorrelation φ of the
 * errors (Bayley and Hammersley, J. Royal Statistical Society Suppl. 8 (1946) 184). Both come from restricted maximum
 * likelihood (Patterson and Thompson, Biometrika 58 (1971) 545) of a first-order autoregressive process about the linearised
 * law; the result is the geometric mean over the posterior of φ.
 *
 * @returns 1 if a column was not followed, or has too few points
 */
export function driftFactor(columns: readonly DriftingColumn[]): number {
  const known = columns.flatMap(({ correlation }) => correlation ?? [])
  const points = columns.reduce((sum, { errors }) => sum + errors.length, 0)
  const freedom = points - columns[0].jacobian.length
  if (known.length < columns.length || freedom < LEAST_FREEDOM) return 1
  const longRun = (variance: number, correlation: number) =>
    (variance * (1 + correlation)) / (1 - correlation)
  const assumed = known.reduce((sum, one) => sum + one / known.length, 0)
  const withAssumed = likelihoodOf(columns, assumed, freedom)
  if (!withAssumed) return 1
  const candidates = GRID.flatMap((correlation) => {
    const one = likelihoodOf(columns, correlation, freedom)
    const prior = 0.5 * ((correlation - TYPICAL_CORRELATION.mean) / TYPICAL_CORRELATION.deviation) ** 2
    return one
      ? [{ logLikelihood: one.logLikelihood - prior, longRun: longRun(one.variance, correlation) }]
      : []
  })
  const most = Math.max(...candidates.map(({ logLikelihood }) => logLikelihood))
  let [all, sum] = [0, 0]
  for (const one of candidates) {
    const weight = Math.exp(one.logLikelihood - most)
    all += weight
    sum += weight * Math.log(one.longRun)
  }
  return Math.exp(sum / all) / longRun(withAssumed.variance, assumed)
}

/** Returns the restricted log-likelihood of a correlation, and the variance relative to the stated errors; null if singular. */
function likelihoodOf(
  columns: readonly DriftingColumn[],
  correlation: number,
  freedom: number,
): { logLikelihood: number; variance: number } | null {
  let logLikelihood = 0
  const whitened = columns.map(({ errors, frames, residuals, jacobian }) => {
    const shared = frames.map((frame, i) => (i === 0 ? 0 : correlation ** (frame - frames[i - 1])))
    for (const one of shared) logLikelihood -= 0.5 * Math.log(1 - one * one)
    const whiten = autoregressiveWhitening(errors, shared)
    return { residuals: whiten(residuals), jacobian: jacobian.map(whiten) }
  })
  const dot = (of: (column: (typeof whitened)[number]) => [Float64Array, Float64Array]) =>
    whitened.reduce((sum, column) => sum + dotProduct(...of(column)), 0)
  // Modified Gram–Schmidt: the part of the residuals orthogonal to the jacobian.
  for (let k = 0; k < columns[0].jacobian.length; k++) {
    const square = dot(({ jacobian }) => [jacobian[k], jacobian[k]])
    if (!(square > 0)) return null
    logLikelihood -= 0.5 * Math.log(square)
    const without = (own: (column: (typeof whitened)[number]) => Float64Array) => {
      const share = dot((column) => [column.jacobian[k], own(column)]) / square
      for (const column of whitened) {
        const values = own(column)
        for (let i = 0; i < values.length; i++) values[i] -= share * column.jacobian[k][i]
      }
    }
    for (let other = k + 1; other < columns[0].jacobian.length; other++)
      without(({ jacobian }) => jacobian[other])
    without(({ residuals }) => residuals)
  }
  const rss = dot(({ residuals }) => [residuals, residuals])
  if (!(rss > 0)) return null
  return { logLikelihood: logLikelihood - 0.5 * freedom * Math.log(rss), variance: rss / freedom }
}
