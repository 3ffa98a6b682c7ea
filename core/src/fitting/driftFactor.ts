import { USUAL_CORRELATION } from '../motion/index.ts'
import { autoregressiveWhitening, dotProduct } from '../regression/index.ts'

/** A fitted column of positions. */
export interface DriftingColumn {
  /** Correlation of neighbouring errors that the fit has reckoned with; null where there is none. */
  drift: number | null
  errors: Float64Array
  frames: readonly number[]
  residuals: Float64Array
  /** Derivatives of the fitted values by each parameter. */
  slopes: readonly Float64Array[]
}

/** Correlations that are weighed against each other. */
const GRID = [...Array.from({ length: 19 }, (_, i) => 0.05 * i), 0.925, 0.95, 0.97]
/** Points more than parameters that tell a drift, at least. */
const FEWEST = 6

/**
 * Times by which the variance of what is read from a fit is larger than with the correlation that the marks tell by
 * themselves: they take a drift over many marks for motion, the residuals of a law do not. For a law that bends little from
 * mark to mark a variance goes as s²(1 + φ)/(1 − φ), with the variance s² of an error and its correlation φ from mark to mark (Bayley
 * and Hammersley, J. Royal Statistical Society Suppl. 8 (1946) 184); s² and φ by restricted maximum likelihood (Patterson
 * and Thompson, Biometrika 58 (1971) 545) of an autoregressive process about the linearised law, as the geometric mean over φ.
 *
 * @returns 1 where a column does not drift, or too few points tell it
 */
export function driftFactor(columns: readonly DriftingColumn[]): number {
  const known = columns.flatMap(({ drift }) => drift ?? [])
  const points = columns.reduce((sum, { errors }) => sum + errors.length, 0)
  const freedom = points - columns[0].slopes.length
  if (known.length < columns.length || freedom < FEWEST) return 1
  const longRun = (variance: number, correlation: number) =>
    (variance * (1 + correlation)) / (1 - correlation)
  const usual = known.reduce((sum, one) => sum + one / known.length, 0)
  const reckoned = likelihoodOf(columns, usual, freedom)
  if (!reckoned) return 1
  const told = GRID.flatMap((correlation) => {
    const one = likelihoodOf(columns, correlation, freedom)
    const prior = 0.5 * ((correlation - USUAL_CORRELATION.mean) / USUAL_CORRELATION.deviation) ** 2
    return one ? [{ logarithm: one.logarithm - prior, longRun: longRun(one.variance, correlation) }] : []
  })
  const most = Math.max(...told.map(({ logarithm }) => logarithm))
  let [all, sum] = [0, 0]
  for (const one of told) {
    const weight = Math.exp(one.logarithm - most)
    all += weight
    sum += weight * Math.log(one.longRun)
  }
  return Math.exp(sum / all) / longRun(reckoned.variance, usual)
}

/** Logarithm of the restricted likelihood of a correlation, with the variance of an error over its square; null if singular. */
function likelihoodOf(
  columns: readonly DriftingColumn[],
  correlation: number,
  freedom: number,
): { logarithm: number; variance: number } | null {
  let logarithm = 0
  const whitened = columns.map(({ errors, frames, residuals, slopes }) => {
    const shared = frames.map((frame, i) => (i === 0 ? 0 : correlation ** (frame - frames[i - 1])))
    for (const one of shared) logarithm -= 0.5 * Math.log(1 - one * one)
    const whiten = autoregressiveWhitening(errors, shared)
    return { residuals: whiten(residuals), slopes: slopes.map(whiten) }
  })
  const dot = (of: (column: (typeof whitened)[number]) => [Float64Array, Float64Array]) =>
    whitened.reduce((sum, column) => sum + dotProduct(...of(column)), 0)
  // Modified Gram and Schmidt: what the law's parameters leave of the residuals.
  for (let k = 0; k < columns[0].slopes.length; k++) {
    const square = dot(({ slopes }) => [slopes[k], slopes[k]])
    if (!(square > 0)) return null
    logarithm -= 0.5 * Math.log(square)
    const without = (own: (column: (typeof whitened)[number]) => Float64Array) => {
      const share = dot((column) => [column.slopes[k], own(column)]) / square
      for (const column of whitened) {
        const values = own(column)
        for (let i = 0; i < values.length; i++) values[i] -= share * column.slopes[k][i]
      }
    }
    for (let other = k + 1; other < columns[0].slopes.length; other++) without(({ slopes }) => slopes[other])
    without(({ residuals }) => residuals)
  }
  const rest = dot(({ residuals }) => [residuals, residuals])
  if (!(rest > 0)) return null
  return { logarithm: logarithm - 0.5 * freedom * Math.log(rest), variance: rest / freedom }
}
