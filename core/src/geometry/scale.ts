import { lineError, type PlacedByHand } from './placing.ts'
import { directionInPicture, distance } from './points.ts'

/** An interval that contains a quantity; both ends are equal if it is known exactly. */
export type Range = [number, number]

/** Distances from the camera to a reference length and to the motion, in metres. */
export interface Depth {
  reference: Range
  motion: Range
}

/** Two points in the picture and the real distance between them. */
export interface ReferenceLength {
  ends: [PlacedByHand, PlacedByHand]
  /** Metres, or null until it is known. */
  length: number | null
  /** Standard error of the length itself, in metres. */
  lengthError: number
  /** Where the reference is nearer to the camera than the motion, or farther; null where it is as far. */
  depth: Depth | null
}

/** Source of a part of a scale's error. */
export type ScaleErrorSource = 'placing' | 'length' | 'depth' | 'disagreement' | 'motion'

/** One part of a scale's error, relative to the scale. */
export interface ScaleErrorPart {
  source: ScaleErrorSource
  /** Relative standard error. */
  error: number
  /** Degrees of freedom that it was estimated with; infinite where it was stated. */
  freedom: number
}

/** A scale, or one contribution to it. */
export interface Scale {
  metresPerPixel: number
  /** Parts of its relative error; independent of each other. */
  parts: ScaleErrorPart[]
}

/** The scale of several contributions, and how well they agree. */
export interface CombinedScale extends Scale {
  /** Number of contributions. */
  count: number
  /** Largest of them over the smallest, less 1. */
  spread: number
  /** √(χ²/(n − 1)): about 1 where they agree within their errors, larger where they do not. */
  birge: number
}

/**
 * Returns the ratio of the motion's distance from the camera to the reference's, with its relative standard error.
 */
export function depthFactor({ reference, motion }: Depth): { factor: number; error: number } {
  const middle = ([low, high]: Range) => (low + high) / 2
  // Anywhere in its range with equal likelihood: half its width over √3 (JCGM 100:2008, 4.3.7).
  const spread = ([low, high]: Range) => Math.abs(high - low) / (Math.sqrt(3) * (low + high))
  return { factor: middle(motion) / middle(reference), error: Math.hypot(spread(reference), spread(motion)) }
}

/**
 * Returns the scale that a reference length gives, or null where it gives none (no length, or both ends on
 * one spot). The relative error of the distance between the ends is that of `lineError`. What is farther from the camera is
 * seen smaller in proportion, so with distances given the scale is that of the reference times the
 * motion's distance over the reference's.
 *
 * @param pixels distance of the ends, where it is not simply that of `ends`: in a picture without lens distortion, for example
 */
export function scaleOf(
  reference: ReferenceLength,
  pixels: number = distance(...reference.ends),
): Scale | null {
  if (!reference.length || !(reference.length > 0) || !(pixels > 0)) return null
  const stated = { freedom: Number.POSITIVE_INFINITY }
  const { factor, error } = reference.depth ? depthFactor(reference.depth) : { factor: 1, error: 0 }
  const parts: ScaleErrorPart[] = [
    { source: 'placing', error: lineError(reference.ends, pixels), ...stated },
    { source: 'length', error: reference.lengthError / reference.length, ...stated },
  ]
  if (error > 0) parts.push({ source: 'depth', error, ...stated })
  return { metresPerPixel: (reference.length * factor) / pixels, parts }
}

/** Returns the relative standard error of a scale: its parts in quadrature. */
export function relativeScaleError({ parts }: Scale): number {
  return Math.hypot(...parts.map((part) => part.error))
}

/**
 * Returns the weighted mean of several scales, null of none. Where they scatter more than their errors say, the
 * errors are too small by a common factor, whatever its cause: the Birge ratio √(χ²/(n − 1)) (Birge,
 * Physical Review 40, 1932). What it adds stands as a part of its own, with n − 1 degrees of freedom.
 * A scale without any error counts as known to 10⁻⁶.
 */
export function combineScales(scales: Scale[]): CombinedScale | null {
  const n = scales.length
  if (n === 0) return null
  const values = scales.map((scale) => scale.metresPerPixel)
  const errors = scales.map((scale) => scale.metresPerPixel * Math.max(relativeScaleError(scale), 1e-6))
  const weights = errors.map((error) => 1 / error ** 2)
  const weight = weights.reduce((sum, w) => sum + w, 0)
  const mean = values.reduce((sum, value, i) => sum + weights[i] * value, 0) / weight
  const chiSquare = values.reduce((sum, value, i) => sum + weights[i] * (value - mean) ** 2, 0)
  const birge = n > 1 ? Math.sqrt(chiSquare / (n - 1)) : 1
  const spread = Math.max(...values) / Math.min(...values) - 1

  const parts = new Map<ScaleErrorSource, ScaleErrorPart>()
  scales.forEach((scale, i) => {
    for (const part of scale.parts) {
      const error = (weights[i] / weight) * (scale.metresPerPixel / mean) * part.error
      const known = parts.get(part.source)
      parts.set(part.source, {
        source: part.source,
        error: known ? Math.hypot(known.error, error) : error,
        freedom: known ? Math.min(known.freedom, part.freedom) : part.freedom,
      })
    }
  })
  if (birge > 1) {
    const within = 1 / Math.sqrt(weight) / mean
    const error = within * Math.sqrt(birge ** 2 - 1)
    parts.set('disagreement', { source: 'disagreement', error, freedom: n - 1 })
  }
  return { metresPerPixel: mean, parts: [...parts.values()], count: n, spread, birge }
}

/**
 * Returns the angle of a reference length to the picture's horizontal, in radians within (−π/2, π/2], with its
 * standard error from placing the ends.
 */
export function referenceAngle({ ends }: Pick<ReferenceLength, 'ends'>): { angle: number; error: number } {
  return { angle: lineAngle(directionInPicture(...ends)), error: lineError(ends) }
}

/** Returns the angle of an undirected line, within (−π/2, π/2]. */
export function lineAngle(direction: number): number {
  if (direction > Math.PI / 2) return direction - Math.PI
  return direction <= -Math.PI / 2 ? direction + Math.PI : direction
}
