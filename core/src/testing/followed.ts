import {
  backgroundOf,
  Follower,
  type FollowSettings,
  grownOutline,
  type Other,
  outlineReach,
  type Plane,
  partOf,
  type Sighting,
  templateReach,
} from '../following/index.ts'
import type { Point } from '../geometry/index.ts'
import type { FilmedBody } from './filmed.ts'

/** Frames a second of films that are followed in tests. */
export const RATE = 30

/** Follows a body of a film from its first frame on, clicked at its true place or `clicked` pixels beside it, and gives what was seen in each frame after. */
export function followed(
  frames: Plane[],
  body: FilmedBody,
  {
    persistence = 0.5,
    change = 'slowly',
    placedBy,
    still = true,
    from = 0,
    others = () => [],
    clicked = { x: 0, y: 0 },
  }: Partial<FollowSettings> & {
    still?: boolean
    from?: number
    others?: (frame: number) => Other[]
    clicked?: Point
  } = {},
): Sighting[] {
  const { x, y } = body.at(from)
  const at = { x: x + clicked.x, y: y + clicked.y }
  const background = still ? backgroundOf(frames.filter((_, i) => i % 3 === 0)) : null
  const outline = grownOutline(partOf(frames[from], outlineReach(at)), at, background)
  const follower = new Follower(
    partOf(frames[from], templateReach(at, outline)),
    at,
    from / RATE,
    outline,
    background,
    frames[0],
    1 / RATE,
    { persistence, change, ...(placedBy && { placedBy }) },
  )
  return frames.slice(from + 1).map((frame, i) => {
    const time = (from + 1 + i) / RATE
    let seen: Sighting | null = null
    for (let tries = 0; tries < 3; tries++) {
      seen = follower.see(partOf(frame, follower.reach(time).rect), time, others(from + 1 + i))
      if (seen.kind !== 'hidden') break
      follower.widen()
    }
    return seen!
  })
}

/** Distances from the truth of what was found, in pixels. */
export function errorsOf(seen: Sighting[], body: FilmedBody, from = 0): number[] {
  return seen.flatMap((one, i) => {
    if (one.kind !== 'found') return []
    const { x, y } = body.at(from + 1 + i)
    return [Math.hypot(one.at.x - x, one.at.y - y)]
  })
}

/** Root mean square. */
export const rms = (errors: number[]) => Math.sqrt(errors.reduce((sum, e) => sum + e * e, 0) / errors.length)
