import {
  depthFactor,
  distance,
  enlargement,
  lineAngle,
  lineError,
  relativeScaleError,
  scaleOf,
} from '../geometry/index.ts'
import { type Investigation, inOrder } from '../investigation/index.ts'
import type { InvestigationScene } from './investigationScene.ts'

/** Comparison of one reference length with the scale in use. */
export interface ReferenceReport {
  id: string
  /** Length between its ends by the scale that is used, in metres; null where there is none. */
  measured: number | null
  /** measured over the stated length, less 1; null where either is missing. */
  off: number | null
  /** Standard errors that `off` is away from 0; null as above. */
  sigmas: number | null
  /** Angle between the line of its ends and the x axis, in radians within (−π/2, π/2], and its standard error. */
  angle: { value: number; error: number } | null
}

/** Returns the comparison of every reference length with the scale in use, in order. */
export function referenceReports(investigation: Investigation, scene: InvestigationScene): ReferenceReport[] {
  return inOrder(investigation.references).map(([id, reference]) => {
    const ends = reference.ends.map((end) => scene.at(end.frame)?.toScene(end) ?? null)
    const [a, b] = ends
    if (!a || !b) return { id, measured: null, off: null, sigmas: null, angle: null }
    const apart = distance(a, b)
    // Lengths hold in the plane of motion; what is nearer to the camera is shorter than it looks there.
    const factor = reference.depth ? depthFactor(reference.depth).factor : 1
    const measured = scene.scale ? apart / factor : null
    const off = measured !== null && reference.length ? measured / reference.length - 1 : null
    const own = scaleOf(reference, distance(...reference.ends))
    const error =
      scene.scale && own ? Math.hypot(relativeScaleError(own), relativeScaleError(scene.scale)) : 0
    // Across the line an end is off by its placing error, made into lengths where it lies.
    const each = enlargement(scene.at(reference.ends[0].frame)!.jacobian(reference.ends[0]))
    return {
      id,
      measured,
      off,
      sigmas: off !== null && error > 0 ? Math.abs(off) / error : null,
      angle: {
        value: lineAngle(Math.atan2(b.y - a.y, b.x - a.x)),
        error: each * lineError(reference.ends, apart),
      },
    }
  })
}
