import type { ScaleErrorSource } from '../geometry/index.ts'
import { studentQuantile } from '../regression/index.ts'
import type { AxesError } from '../scene/index.ts'

/** Source of a part of an error. */
export type ErrorSource =
  | 'marks'
  /** Scatter between the trials of a series. */
  | 'scatter'
  | 'following'
  | ScaleErrorSource
  | AxesError['source']
  | 'timing'
  | 'camera'
  | 'stated'

/** One part of an error, as a standard error in the value's unit. */
export interface ErrorPart {
  source: ErrorSource
  error: number
  /** Degrees of freedom that it was estimated with; infinite if it was stated. */
  freedom: number
}

/** A value with its error budget. */
export interface Estimate {
  value: number
  unit: string
  /** Standard error: all parts in quadrature. NaN without degrees of freedom. */
  error: number
  parts: ErrorPart[]
}

/** Returns a value with its error budget. */
export function estimate(value: number, unit: string, parts: ErrorPart[]): Estimate {
  return { value, unit, parts, error: Math.hypot(...parts.map((part) => part.error)) }
}

/** Returns one part for each source, in order of appearance: in quadrature, with the fewest degrees of freedom of its parts. */
export function combinedBySource(parts: readonly ErrorPart[]): ErrorPart[] {
  const bySource = new Map<ErrorSource, ErrorPart>()
  for (const { source, error, freedom } of parts) {
    const known = bySource.get(source)
    bySource.set(source, {
      source,
      error: Math.hypot(known?.error ?? 0, error),
      freedom: Math.min(known?.freedom ?? freedom, freedom),
    })
  }
  return [...bySource.values()]
}

/** Returns the share of each source in the variance, 0 … 1; empty if the error is 0. */
export function shares({ parts, error }: Estimate): { source: ErrorSource; share: number }[] {
  if (!(error > 0)) return []
  return parts.map((part) => ({ source: part.source, share: (part.error / error) ** 2 }))
}

/**
 * Returns the effective degrees of freedom of a combined error (Welch 1947, Satterthwaite 1946; JCGM 100:2008, G.4).
 */
export function effectiveFreedom({ parts, error }: Estimate): number {
  const below = parts.reduce((sum, part) => sum + part.error ** 4 / part.freedom, 0)
  return below > 0 ? error ** 4 / below : Number.POSITIVE_INFINITY
}

/** Returns half the width of the confidence interval; NaN without a finite error. */
export function halfWidth(measured: Estimate, confidence = 0.95): number {
  if (!Number.isFinite(measured.error)) return Number.NaN
  return measured.error * studentQuantile(confidence, effectiveFreedom(measured))
}
