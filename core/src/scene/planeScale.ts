import { type Corners, enlargement, placingErrorOf, planeStep, type Scale } from '../geometry/index.ts'
import type { Plane } from '../investigation/index.ts'

export type SizedPlane = Plane & { width: number; height: number }

/** Returns metres per pixel in the middle of the plane, with its error from the corners and the stated size. */
export function planeScale(
  corners: Corners,
  { width, height, sizeError, corners: placed }: SizedPlane,
): Scale {
  const middle = { x: width / 2, y: height / 2 }
  const sizeAt = (points: Corners) => {
    const step = planeStep(points, width, height)
    if (!step) return Number.NaN
    return enlargement(step.jacobian(step.backward(middle)))
  }
  const size = sizeAt(corners)
  let square = 0
  corners.forEach((corner, i) => {
    const error = placingErrorOf(placed[i])
    for (const [dx, dy] of [
      [error, 0],
      [0, error],
    ]) {
      const moved = corners.map((other, k) =>
        k === i ? { x: corner.x + dx, y: corner.y + dy } : other,
      ) as Corners
      square += (sizeAt(moved) / size - 1) ** 2
    }
  })
  const stated = { freedom: Number.POSITIVE_INFINITY }
  return {
    metresPerPixel: size,
    parts: [
      { source: 'placing', error: Math.sqrt(square), ...stated },
      { source: 'length', error: sizeError, ...stated },
    ],
  }
}
