import { distance, type Point } from '@apokinema/core/geometry'
import { framesInUse, type Investigation, pictureSize } from '@apokinema/core/investigation'
import type { Selection } from '../workbenchStore.ts'

/** How far from the origin the handle of the tilt is, in picture pixels. */
export function tiltHandle(investigation: Investigation): Point {
  const { axes } = investigation
  const reach = pictureSize(investigation).height * 0.28
  return { x: axes.origin.x + reach * Math.cos(axes.tilt), y: axes.origin.y - reach * Math.sin(axes.tilt) }
}

/**
 * What a pointer at a picture point takes hold of: the nearest thing within reach (in picture pixels).
 * The current mark comes before everything that lies on the same spot.
 */
export function holdAt(
  investigation: Investigation,
  at: Point,
  reach: number,
  frame: number,
  body: string | null,
): Selection | null {
  const { references, axes, bodies } = investigation
  const used = framesInUse(investigation)
  const candidates: [Point, Selection][] = []
  const marks = body ? (bodies[body]?.marks ?? {}) : {}
  if (body && marks[frame]) candidates.push([marks[frame], { kind: 'mark', body, frame }])
  for (const [reference, { ends }] of Object.entries(references))
    for (const end of [0, 1] as const) candidates.push([ends[end], { kind: 'end', reference, end }])
  candidates.push([tiltHandle(investigation), { kind: 'tilt' }], [axes.origin, { kind: 'origin' }])
  if (body)
    for (const [key, mark] of Object.entries(marks))
      if (used.has(Number(key))) candidates.push([mark, { kind: 'mark', body, frame: Number(key) }])

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
