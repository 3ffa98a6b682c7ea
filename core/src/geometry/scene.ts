import type { Point } from './points.ts'

/** Where the scene's coordinates begin in the picture, and how far the +x axis is turned from the picture's right towards up. */
export interface Axes {
  origin: Point
  /** Radians. */
  tilt: number
}

/** Maps between picture (pixels) and scene (metres, or pixels where no scale is known), in the user's axes. */
export interface SceneTransform {
  /** Metres per pixel; 1 where lengths are still in pixels. */
  factor: number
  toScene(point: Point): Point
  toPicture(point: Point): Point
}

/** The transform for axes and metres per pixel (null: the scene is measured in pixels). */
export function sceneTransform(axes: Axes, metresPerPixel: number | null): SceneTransform {
  const factor = metresPerPixel ?? 1
  const cos = Math.cos(axes.tilt)
  const sin = Math.sin(axes.tilt)
  return {
    factor,
    toScene({ x, y }) {
      const right = x - axes.origin.x
      const up = axes.origin.y - y
      return { x: factor * (cos * right + sin * up), y: factor * (cos * up - sin * right) }
    },
    toPicture({ x, y }) {
      const right = (cos * x - sin * y) / factor
      const up = (sin * x + cos * y) / factor
      return { x: axes.origin.x + right, y: axes.origin.y - up }
    },
  }
}
