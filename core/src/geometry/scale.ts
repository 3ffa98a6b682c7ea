import { directionInPicture, distance, type Point } from './points.ts'

/** Two points in the picture and the real distance between them. */
export interface ReferenceLength {
  ends: [Point, Point]
  /** Metres, or null until it is known. */
  length: number | null
  /** Standard error of the length itself, in metres. */
  lengthError: number
  /** Standard error of placing one end, along each direction, in pixels. */
  placingError: number
}

/** How large a pixel is in the plane of motion. */
export interface Scale {
  metresPerPixel: number
  /** Relative standard error that comes from placing the two ends. */
  placingError: number
  /** Relative standard error of the length itself. */
  lengthError: number
}

/**
 * The scale that a reference length gives, or null where it gives none (no length, or both ends on
 * one spot). With the distance d between ends that are each placed to σ, the relative error of d is
 * √2 σ/d to first order, since only the error along the line counts.
 */
export function scaleOf(reference: ReferenceLength | undefined): Scale | null {
  if (!reference?.length || !(reference.length > 0)) return null
  const pixels = distance(...reference.ends)
  if (!(pixels > 0)) return null
  return {
    metresPerPixel: reference.length / pixels,
    placingError: (Math.SQRT2 * reference.placingError) / pixels,
    lengthError: reference.lengthError / reference.length,
  }
}

/** Relative standard error of a scale, all its parts in quadrature. */
export function relativeScaleError(scale: Scale): number {
  return Math.hypot(scale.placingError, scale.lengthError)
}

/**
 * Angle of a reference length against the picture's horizontal, in radians within (−π/2, π/2], and
 * its standard error from placing the ends (√2 σ/d, the errors across the line).
 */
export function referenceAngle(reference: ReferenceLength): { angle: number; error: number } {
  const [a, b] = reference.ends
  const full = directionInPicture(a, b)
  const angle = full > Math.PI / 2 ? full - Math.PI : full <= -Math.PI / 2 ? full + Math.PI : full
  return { angle, error: (Math.SQRT2 * reference.placingError) / distance(a, b) }
}
