import type { CombinedScale, Point } from '../geometry/index.ts'
import { framesInUse, type Investigation, pictureSize, type QuantityId } from '../investigation/index.ts'
import { applyMap, type LinearMap } from '../regression/index.ts'
import { rowDelay } from '../time/index.ts'
import { type CameraErrors, cameraErrors } from './cameraErrors.ts'
import { clockOf, type InvestigationClock } from './clockOf.ts'
import { threePointSlope } from './derivative.ts'
import { type LengthUnit, QUANTITIES, quantityUnit } from './quantities.ts'
import { type InvestigationScene, sceneOf } from './sceneOf.ts'

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
  scale: CombinedScale | null
  /** Frame of each row, increasing. */
  frames: number[]
  /** Seconds from time zero. */
  times: Float64Array
  /** Relative standard error of the clock's rate. */
  rateError: number
  /** Marks in pixels of the picture. */
  picture: { x: Float64Array; y: Float64Array }
  columns: Record<QuantityId, Column>
  /** How the landmarks' errors move the positions; worked out when it is asked for, null where the camera stood still. */
  cameraErrors: () => CameraErrors | null
}

/**
 * Time of every mark from time zero: that of its frame, and with a stated read-out time also that of its
 * row. A read-out so long that it would turn the order of marks round is not applied.
 */
function timesOfMarks(
  investigation: Investigation,
  clock: InvestigationClock | null,
  frames: number[],
  marks: Point[],
): Float64Array {
  const plain = Float64Array.from(frames, (frame) => clock!.seconds[frame] - clock!.zero)
  const { readout } = investigation.timing
  if (!readout) return plain
  const picture = pictureSize(investigation)
  const byRow = plain.map((time, row) => time + rowDelay(readout, marks[row], picture))
  return byRow.every((time, row) => row === 0 || time > byRow[row - 1]) ? byRow : plain
}

/**
 * The motion table of a body: position and velocity at every mark within the span, on the true times
 * of the frames. Marks outside the span are kept in the document and not used here, and so are marks in
 * frames in which landmarks don't tell where the camera looked. Empty where there is no footage. Throws a
 * RangeError for an unknown body.
 *
 * @param axes that it is measured in, by id; null: the main ones
 */
export function motionTable(
  investigation: Investigation,
  bodyId: string,
  axes: string | null = null,
): MotionTable {
  return motionTableIn(investigation, bodyId, sceneOf(investigation, axes))
}

/** The motion table of a body in a scene that is at hand; see motionTable. */
export function motionTableIn(
  investigation: Investigation,
  bodyId: string,
  scene: InvestigationScene,
): MotionTable {
  const body = investigation.bodies[bodyId]
  if (!body) throw new RangeError(`There is no body ${bodyId}.`)
  const clock = clockOf(investigation)
  const used = framesInUse(investigation)
  const frames = clock
    ? Object.keys(body.marks)
        .map(Number)
        .filter((frame) => used.has(frame) && frame < clock.seconds.length && scene.at(frame))
        .sort((a, b) => a - b)
    : []
  const marks = frames.map((frame) => body.marks[frame])
  const times = timesOfMarks(investigation, clock, frames, marks)
  const points = marks.map((mark, row) => scene.at(frames[row])!.toScene(mark))
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

  let errors: CameraErrors | null | undefined
  return {
    body: bodyId,
    length: scene.length,
    scale: scene.scale,
    frames,
    times,
    rateError: clock?.rateError ?? 0,
    picture: { x: Float64Array.from(marks, (m) => m.x), y: Float64Array.from(marks, (m) => m.y) },
    columns: { x: column('x'), y: column('y'), vx: column('vx'), vy: column('vy') },
    cameraErrors: () => {
      if (errors === undefined) errors = cameraErrors(investigation, scene, frames, marks)
      return errors
    },
  }
}
