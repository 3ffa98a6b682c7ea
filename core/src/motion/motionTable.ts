import { type Scale, type SceneTransform, scaleOf, sceneTransform } from '../geometry/index.ts'
import {
  type Footage,
  type Investigation,
  primaryReference,
  type QuantityId,
} from '../investigation/index.ts'
import { type FrameTimes, frameTimes, inSpan } from '../time/index.ts'
import { threePointSlope } from './derivative.ts'
import { applyMap, type LinearMap } from './linearMap.ts'
import { type LengthUnit, QUANTITIES, quantityUnit } from './quantities.ts'

/** One quantity of one body over the table's rows. */
export interface Column {
  quantity: QuantityId
  unit: string
  /** One value a row; NaN where the quantity has none. */
  values: Float64Array
  /** Rows of the table that have a value, in order. */
  rows: number[]
  /** How the values of `rows` come from the position component's values in all rows; null where they are those. */
  map: LinearMap | null
  /** What is empty and why, for the person who asks; null where nothing is. */
  note: string | null
}

/** Marks of one body with time and calibration applied: what screens, fits and exports read. */
export interface MotionTable {
  body: string
  length: LengthUnit
  scale: Scale | null
  /** Frame of each row, increasing. */
  frames: number[]
  /** Seconds from the span's first frame. */
  times: Float64Array
  /** Marks in pixels of the picture. */
  picture: { x: Float64Array; y: Float64Array }
  columns: Record<QuantityId, Column>
}

/** The clip's clock with time zero at the first frame of the span. */
export function clockOf(footage: Footage, first: number): FrameTimes & { zero: number } {
  const times = frameTimes(footage.ticks, footage.timeBase)
  return { ...times, zero: times.seconds[first] ?? 0 }
}

/** How the picture of an investigation maps to its scene; in pixels until a reference length is known. */
export function sceneOf(
  investigation: Investigation,
): SceneTransform & { scale: Scale | null; length: LengthUnit } {
  const scale = scaleOf(primaryReference(investigation))
  return {
    ...sceneTransform(investigation.axes, scale?.metresPerPixel ?? null),
    scale,
    length: scale ? 'm' : 'px',
  }
}

/**
 * The motion table of a body: position and velocity at every mark within the span, on the true times
 * of the frames. Marks outside the span are kept in the document and not used here. Empty where there
 * is no footage. Throws a RangeError for an unknown body.
 */
export function motionTable(investigation: Investigation, bodyId: string): MotionTable {
  const body = investigation.bodies[bodyId]
  if (!body) throw new RangeError(`There is no body ${bodyId}.`)
  const { footage, span } = investigation
  const scene = sceneOf(investigation)
  const clock = footage ? clockOf(footage, span.first) : null
  const frames = clock
    ? Object.keys(body.marks)
        .map(Number)
        .filter((frame) => inSpan(span, frame) && frame < clock.seconds.length)
        .sort((a, b) => a - b)
    : []
  const times = Float64Array.from(frames, (frame) => clock!.seconds[frame] - clock!.zero)
  const marks = frames.map((frame) => body.marks[frame])
  const points = marks.map((mark) => scene.toScene(mark))
  const position = {
    x: Float64Array.from(points, (point) => point.x),
    y: Float64Array.from(points, (point) => point.y),
  }
  const every = frames.map((_, row) => row)
  const slope = threePointSlope(times)
  const inner = every.slice(1, -1)

  const column = (quantity: QuantityId): Column => {
    const { component, order } = QUANTITIES[quantity]
    const unit = quantityUnit(scene.length, order)
    if (order === 0)
      return { quantity, unit, values: position[component], rows: every, map: null, note: null }
    const values = new Float64Array(frames.length).fill(Number.NaN)
    if (inner.length > 0) values.set(applyMap(slope, position[component]), 1)
    return {
      quantity,
      unit,
      values,
      rows: inner,
      map: slope,
      note: 'Slope at the middle of the parabola through three neighbouring points. The first and last point have no velocity: each lacks a neighbour.',
    }
  }

  return {
    body: bodyId,
    length: scene.length,
    scale: scene.scale,
    frames,
    times,
    picture: { x: Float64Array.from(marks, (m) => m.x), y: Float64Array.from(marks, (m) => m.y) },
    columns: { x: column('x'), y: column('y'), vx: column('vx'), vy: column('vy') },
  }
}
