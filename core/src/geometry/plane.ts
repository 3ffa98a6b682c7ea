import { type Homography, inverseHomographyStep } from './homography.ts'
import { distance, type Point } from './points.ts'
import type { Step } from './step.ts'

/** Corners of something rectangular in the picture, in this order: (0, 0), (w, 0), (w, h), (0, h) of its own plane. */
export type Corners = [Point, Point, Point, Point]

/** Why four corners determine no plane. */
export type CornerTrouble = 'in-a-line' | 'crossed'

const twiceArea = (a: Point, b: Point, c: Point) => (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x)

/**
 * Returns what is wrong with four corners: three of them (nearly) in a line, or sides that cross, or a corner that
 * points inwards. Null where nothing is. Nearly means nearer to the line than a hundredth of its length.
 */
export function cornerProblem(corners: Corners): CornerTrouble | null {
  const turns = corners.map((corner, i) => {
    const [before, after] = [corners[(i + 3) % 4], corners[(i + 1) % 4]]
    const longest = Math.max(distance(before, corner), distance(corner, after), distance(before, after))
    return { area: twiceArea(before, corner, after), longest }
  })
  if (turns.some(({ area, longest }) => !(Math.abs(area) > 0.01 * longest * longest))) return 'in-a-line'
  return new Set(turns.map(({ area }) => Math.sign(area))).size === 1 ? null : 'crossed'
}

/**
 * Four points put in the order of `Corners`, as they are seen: anticlockwise, beginning at the lower left.
 * They may be given in any order.
 */
export function inCornerOrder(points: Corners): Corners {
  const middle = {
    x: points.reduce((sum, p) => sum + p.x, 0) / 4,
    y: points.reduce((sum, p) => sum + p.y, 0) / 4,
  }
  // Anticlockwise as seen, with y down: by falling angle.
  const angle = (p: Point) => Math.atan2(p.y - middle.y, p.x - middle.x)
  const round = [...points].sort((p, q) => angle(q) - angle(p))
  const corner = (p: Point) => p.x - p.y
  const first = round.reduce((best, p, i) => (corner(p) < corner(round[best]) ? i : best), 0)
  return [0, 1, 2, 3].map((i) => round[(first + i) % 4]) as Corners
}

/**
 * Returns the map from a picture of a plane to the plane itself, from the four corners of a rectangle of known
 * width and height in it: a projective map (Hartley and Zisserman, Multiple View Geometry, 2nd edition,
 * section 4.1). Its result is in the unit of width and height, y up. Null where the corners give none.
 */
export function planeStep(corners: Corners, width: number, height: number): Step | null {
  if (!(width > 0) || !(height > 0) || cornerProblem(corners)) return null
  const unitSquare = fromUnitSquare(corners)
  // Plane (u, v) to picture: the unit square's map of (u/width, v/height).
  const toPicture: Homography = [
    unitSquare[0] / width,
    unitSquare[1] / height,
    unitSquare[2],
    unitSquare[3] / width,
    unitSquare[4] / height,
    unitSquare[5],
    unitSquare[6] / width,
    unitSquare[7] / height,
    unitSquare[8],
  ]
  return inverseHomographyStep(toPicture)
}

/** Returns the map that takes the unit square's corners to four points, in closed form (Heckbert, Fundamentals of Texture Mapping, 1989). */
function fromUnitSquare([p0, p1, p2, p3]: Corners): Homography {
  const [dx1, dx2, sx] = [p1.x - p2.x, p3.x - p2.x, p0.x - p1.x + p2.x - p3.x]
  const [dy1, dy2, sy] = [p1.y - p2.y, p3.y - p2.y, p0.y - p1.y + p2.y - p3.y]
  const below = dx1 * dy2 - dx2 * dy1
  const g = (sx * dy2 - dx2 * sy) / below
  const h = (dx1 * sy - sx * dy1) / below
  return [
    p1.x - p0.x + g * p1.x,
    p3.x - p0.x + h * p3.x,
    p0.x,
    p1.y - p0.y + g * p1.y,
    p3.y - p0.y + h * p3.y,
    p0.y,
    g,
    h,
    1,
  ]
}
