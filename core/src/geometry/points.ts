/** A point in the picture, in continuous pixels of the upright picture (x right, y down), or in the scene. */
export interface Point {
  x: number
  y: number
}

/** Returns the distance between two points, in their own unit. */
export function distance(a: Point, b: Point): number {
  return Math.hypot(b.x - a.x, b.y - a.y)
}

/** Returns the midpoint of two points. */
export function midpoint(a: Point, b: Point): Point {
  return { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 }
}

/** Returns the direction from one picture point to another, in radians from right towards up, in (−π, π]. */
export function directionInPicture(from: Point, to: Point): number {
  return Math.atan2(from.y - to.y, to.x - from.x)
}

/** Returns an angle wrapped into (−π, π]. */
export function wrapAngle(angle: number): number {
  const turned = angle % (2 * Math.PI)
  if (turned > Math.PI) return turned - 2 * Math.PI
  return turned <= -Math.PI ? turned + 2 * Math.PI : turned
}

/** Returns the smaller eigenvalue of a structure tensor: small along an edge, and where a picture is even. */
export function smallerEigenvalue(xx: number, xy: number, yy: number): number {
  return (xx + yy) / 2 - Math.sqrt(((xx - yy) / 2) ** 2 + xy * xy)
}
