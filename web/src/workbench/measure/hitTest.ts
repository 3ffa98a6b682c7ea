import { analyse } from '@apokinema/core/analysis'
import { cornersOf, DIRECTIONS, sizeOf } from '@apokinema/core/following'
import { applied, distance, inverse, landmarkAt, type Point } from '@apokinema/core/geometry'
import {
  axesOf,
  framesInUse,
  type Investigation,
  type PlacedPoint,
  pictureSize,
} from '@apokinema/core/investigation'
import { clockOf, placeIn } from '@apokinema/core/scene'
import { useFollowing } from '../following/followStore.ts'
import { HANDLE_EVERY } from '../selecting.ts'
import type { Selection } from '../workbenchStore.ts'

/** Returns the axes in a frame's picture: origin, and the handle of the tilt along +x. Null if the landmarks do not determine it. */
export function axesIn(
  investigation: Investigation,
  frame: number,
): { origin: Point; handle: Point; up: Point } | null {
  const scene = analyse(investigation).scene()
  const axes = axesOf(investigation)
  const transform = scene.at(frame)
  const origin = placeIn(scene, axes.origin, frame)
  if (!transform || !origin) return null
  const reach = pictureSize(investigation).height * 0.28
  /** Returns a point at a distance in pixels from the origin, in the direction in which a small step in the scene is seen. */
  const towards = (x: number, y: number): Point => {
    const seen = applied(inverse(transform.jacobian(origin)), { x, y })
    const length = Math.hypot(seen.x, seen.y)
    return { x: origin.x + (reach * seen.x) / length, y: origin.y + (reach * seen.y) / length }
  }
  return { origin, handle: towards(1, 0), up: towards(0, 1) }
}

/**
 * Hit test at a picture point: returns the nearest thing within reach (in picture pixels).
 * The current mark takes precedence over everything at the same spot. Hidden things are skipped.
 */
export function hitTest(
  investigation: Investigation,
  at: Point,
  reach: number,
  frame: number,
  body: string | null,
): Selection | null {
  const { references, bodies, probes, plane, camera, hidden } = investigation
  const used = framesInUse(investigation)
  const scene = analyse(investigation).scene()
  const candidates: [Point, Selection][] = []
  const add = (placed: PlacedPoint, selection: Selection) => {
    const point = placeIn(scene, placed, frame)
    if (point) candidates.push([point, selection])
  }
  const marks = body ? (bodies[body]?.marks ?? {}) : {}
  if (body && marks[frame]) candidates.push([marks[frame], { kind: 'mark', body, frame }])
  for (const [probe, { points, oneFrame }] of Object.entries(probes))
    points.forEach((point, i) => {
      if (!oneFrame || point.frame === frame) add(point, { kind: 'probe', probe, point: i })
    })
  if (!hidden.scale) {
    for (const [reference, { ends }] of Object.entries(references))
      for (const end of [0, 1] as const) add(ends[end], { kind: 'end', reference, end })
    plane?.corners.forEach((corner, i) => {
      add(corner, { kind: 'corner', corner: i })
    })
  }
  const seconds = clockOf(investigation)?.seconds
  if (camera.motion !== 'still' && seconds)
    for (const [id, landmark] of Object.entries(camera.landmarks)) {
      const place = landmarkAt({ id, ...landmark }, frame, seconds)
      if (place) candidates.push([place, { kind: 'landmark', landmark: id, frame }])
    }
  const axes = hidden.axes ? null : axesIn(investigation, frame)
  if (axes) candidates.push([axes.handle, { kind: 'tilt' }], [axes.origin, { kind: 'origin' }])
  if (body)
    for (const [key, mark] of Object.entries(marks))
      if (used.has(Number(key)))
        add({ x: mark.x, y: mark.y, frame: Number(key) }, { kind: 'mark', body, frame: Number(key) })

  let best: Selection | null = null
  let nearest = reach
  for (const [point, selection] of candidates) {
    const away = distance(point, at)
    if (away < nearest - 1e-9) {
      nearest = away
      best = selection
    }
  }
  return best
}

/** Returns the points of an outline around a centre, one per direction. */
export function outlinePoints(at: Point, radii: number[]): Point[] {
  return cornersOf({ radii }).map(({ x, y }) => ({ x: at.x + x, y: at.y + y }))
}

/** Hit test of a body's outline in a frame: returns one of its handles, or its point; null for none. */
export function outlineHitTest(
  { bodies }: Investigation,
  body: string,
  at: Point,
  reach: number,
  frame: number,
): Selection | null {
  const { outline, marks } = bodies[body]
  const mark = marks[frame]
  const { phase, by } = useFollowing.getState()
  if (!outline || !mark || phase !== 'ready' || by !== 'template') return null
  const points = outlinePoints(mark, outline.radii)
  // The point is hit only within a small part of the outline, so that another one can be clicked beside it.
  const own = Math.min(reach, sizeOf(outline) / 3)
  let best: Selection | null = distance(mark, at) < own ? { kind: 'point', body } : null
  let nearest = best ? Math.min(reach, distance(mark, at)) : reach
  for (let direction = 0; direction < DIRECTIONS; direction += HANDLE_EVERY) {
    const away = distance(points[direction], at)
    if (away >= nearest) continue
    nearest = away
    best = { kind: 'outline', body, direction }
  }
  return best
}
