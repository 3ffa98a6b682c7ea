import { enlargement } from '../geometry/index.ts'
import type { Investigation } from '../investigation/index.ts'
import type { InvestigationScene } from './investigationScene.ts'

/** Effect of the camera angle on lengths in the plane of motion. */
export interface PlaneReport {
  /** Metres a pixel where it is nearest and where it is farthest, at the plane's corners. */
  least: number
  most: number
  /** By what share lengths would be off somewhere if one scale were taken for all of it. */
  change: number
}

/** Returns the range of scales over the corners of the plane; null without a plane. */
export function planeReport({ plane }: Investigation, scene: InvestigationScene): PlaneReport | null {
  if (!plane || !scene.plane) return null
  const sizes = plane.corners.flatMap((corner) => {
    const transform = scene.at(corner.frame)
    if (!transform) return []
    return [enlargement(transform.jacobian(corner))]
  })
  if (sizes.length < 4) return null
  const [least, most] = [Math.min(...sizes), Math.max(...sizes)]
  return { least, most, change: Math.sqrt(most / least) - 1 }
}
