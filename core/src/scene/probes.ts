import { placingErrorOf, relativeScaleError } from '../geometry/index.ts'
import type { PlacedPoint, Probe } from '../investigation/index.ts'
import type { InvestigationScene } from './investigationScene.ts'

/** A point is moved by so many pixels to see what that does. */
const STEP = 0.1

/** Measured value of a probe. */
export interface ProbeReading {
  value: number
  /** Standard error from placing the points and, for a length, from the scale. */
  error: number
  /** m, or px without a scale; rad for angles. */
  unit: 'm' | 'px' | 'rad'
}

/**
 * Returns what a probe measures in the scene: the distance of its two points; the angle at the second of its three,
 * from 0 to π; the angle of the line through its two points against the x axis, in (−π/2, π/2]. Errors of the
 * points are carried on to first order. Null where landmarks don't tell, or points coincide.
 */
export function probeReading(scene: InvestigationScene, probe: Probe): ProbeReading | null {
  const measure = MEASURES[probe.kind]
  const value = measure(probe.points, scene)
  if (value === null || !Number.isFinite(value)) return null
  let square = 0
  probe.points.forEach((point, i) => {
    for (const axis of ['x', 'y'] as const) {
      const at = (by: number) => {
        const moved = probe.points.map((other, k) =>
          k === i ? { ...point, [axis]: point[axis] + by } : other,
        )
        return measure(moved, scene)
      }
      const [on, back] = [at(STEP), at(-STEP)]
      if (on !== null && back !== null) square += ((placingErrorOf(point) * (on - back)) / (2 * STEP)) ** 2
    }
  })
  if (probe.kind !== 'distance') return { value, error: Math.sqrt(square), unit: 'rad' }
  const scale = scene.scale ? relativeScaleError(scene.scale) : 0
  return { value, error: Math.hypot(Math.sqrt(square), scale * value), unit: scene.scale ? 'm' : 'px' }
}

type Measure = (points: PlacedPoint[], scene: InvestigationScene) => number | null

const inScene: (...of: Parameters<Measure>) => { x: number; y: number }[] | null = (points, scene) => {
  const seen = points.map((point) => scene.at(point.frame)?.toScene(point) ?? null)
  return seen.some((point) => point === null) ? null : (seen as { x: number; y: number }[])
}

const MEASURES: Record<Probe['kind'], Measure> = {
  distance: (points, scene) => {
    const at = inScene(points, scene)
    return at && Math.hypot(at[1].x - at[0].x, at[1].y - at[0].y)
  },
  angle: (points, scene) => {
    const at = inScene(points, scene)
    if (!at) return null
    const [a, b] = [at[0], at[2]].map((end) => ({ x: end.x - at[1].x, y: end.y - at[1].y }))
    if (Math.hypot(a.x, a.y) === 0 || Math.hypot(b.x, b.y) === 0) return null
    return Math.abs(Math.atan2(a.x * b.y - a.y * b.x, a.x * b.x + a.y * b.y))
  },
  slope: (points, scene) => {
    const at = inScene(points, scene)
    if (!at) return null
    const [dx, dy] = [at[1].x - at[0].x, at[1].y - at[0].y]
    // Without a direction of its own: turned so that it points along +x.
    return dx < 0 || (dx === 0 && dy < 0) ? Math.atan2(-dy, -dx) : Math.atan2(dy, dx)
  },
}
