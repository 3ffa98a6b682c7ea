import type { CombinedScale } from '../geometry/index.ts'
import {
  type Body,
  type Derivation,
  framesInUse,
  framesOf,
  type Investigation,
  type Mark,
  pictureSize,
  type QuantityId,
} from '../investigation/index.ts'
import { applyMap, type LinearMap } from '../regression/index.ts'
import { rowDelay, type UsedFrames } from '../time/index.ts'
import { type CameraErrors, cameraErrors } from './cameraErrors.ts'
import { clockOf, type InvestigationClock } from './clockOf.ts'
import {
  biasBounds,
  type CoursePoints,
  DERIVATIVES,
  type Derived,
  type Scatter,
} from './derivatives/index.ts'
import { markErrors } from './markError.ts'
import { byQuantity, type Component, type LengthUnit, QUANTITIES, quantityUnit } from './quantities.ts'
import { type InvestigationScene, sceneOf } from './sceneOf.ts'

/** One quantity of one body over the table's rows. */
export interface Column {
  quantity: QuantityId
  unit: string
  /** One value a row; NaN where the quantity has none. */
  values: Float64Array
  /** Standard error of each value that comes from the marks' own; NaN where there is no value. */
  errors: Float64Array
  /** Rows of the table that have a value, in order. */
  rows: number[]
  /** How the values of `rows` come from the values that the component's position has; null where they are those. */
  map: LinearMap | null
  /** What the positions scatter by where how they are derived has told that; null where a fit has to tell it. */
  scatter: Scatter | null
  /** How it is derived, what is empty and why, for the person who asks; null where it isn't. */
  note: string | null
  /** Bound on how far each value is off by smoothing; NaN where it can't be told. Worked out when it is asked for; 0 where nothing is derived. */
  bias: () => Float64Array
}

/** Marks of one body with time and calibration applied: what screens, fits and exports read. */
export interface MotionTable {
  body: string
  length: LengthUnit
  scale: CombinedScale | null
  /** Frame of each row, increasing: of a rest the first one. */
  frames: number[]
  /** Last frame of each row: another one where the body rests. */
  until: number[]
  /** Seconds from time zero; of a rest its middle. */
  times: Float64Array
  /** Rows before which the motion breaks, by what somebody has said. */
  breaks: ReadonlySet<number>
  /** Relative standard error of the clock's rate. */
  rateError: number
  /** Marks in pixels of the picture. */
  picture: { x: Float64Array; y: Float64Array }
  columns: Record<QuantityId, Column>
  /** How the landmarks' errors move the positions; worked out when it is asked for, null where the camera stood still. */
  cameraErrors: () => CameraErrors | null
}

/** A mark in use: a rest is cut to the frames in use. */
interface Row {
  frame: number
  until: number
  mark: Mark
}

/** Marks of a body in the frames in use of a clip of so many frames, by frame. */
function rowsOf({ marks }: Body, used: UsedFrames, count: number): Row[] {
  return framesOf({ marks }).flatMap((at) => {
    const mark = marks[at]
    const last = Math.min(mark.until ?? at, count - 1)
    if (last === at) return used.has(at) ? [{ frame: at, until: at, mark }] : []
    const frame = used.has(at) ? at : used.step(at, 1)
    const until = used.has(last) ? last : used.step(last, -1)
    return frame >= at && until <= last && frame <= until && used.has(frame) ? [{ frame, until, mark }] : []
  })
}

/**
 * Time of every mark from time zero at its first and last frame: that of the frame, and with a stated read-out
 * time also that of its row. A read-out so long that it would turn the order of marks round is not applied.
 */
function timesOfMarks(
  investigation: Investigation,
  clock: InvestigationClock,
  rows: Row[],
): { from: Float64Array; to: Float64Array } {
  const plain = {
    from: Float64Array.from(rows, ({ frame }) => clock.seconds[frame] - clock.zero),
    to: Float64Array.from(rows, ({ until }) => clock.seconds[until] - clock.zero),
  }
  const { readout } = investigation.timing
  if (!readout) return plain
  const picture = pictureSize(investigation)
  const delays = rows.map(({ mark }) => rowDelay(readout, mark, picture))
  const delayed = (times: Float64Array) => times.map((time, row) => time + delays[row])
  const byRow = { from: delayed(plain.from), to: delayed(plain.to) }
  return byRow.from.every((time, row) => row === 0 || time > byRow.to[row - 1]) ? byRow : plain
}

/** Angles without jumps: each within half a turn of the one before. */
function unwrapped(angles: number[]): number[] {
  let turns = 0
  return angles.map((angle, i) => {
    if (i > 0) turns -= Math.round((angle - angles[i - 1]) / (2 * Math.PI))
    return angle + 2 * Math.PI * turns
  })
}

const ACROSS = 'Nothing is derived across a break or a gap.'

/**
 * The motion table of a body: position, velocity and acceleration at every mark within the span, on the true
 * times of the frames, and how it is turned where it has a second point. A rest is one row. Marks outside the
 * span are kept in the document and not used here, and so are marks in frames in which landmarks don't tell
 * where the camera looked. Empty where there is no footage. Throws a RangeError for an unknown body.
 *
 * @param axes that it is measured in, by id; null: the main ones
 * @param derivation how velocity and acceleration are derived; null: as the investigation's are
 */
export function motionTable(
  investigation: Investigation,
  bodyId: string,
  axes: string | null = null,
  derivation: Derivation | null = null,
): MotionTable {
  return motionTableIn(investigation, bodyId, sceneOf(investigation, axes), derivation)
}

/** The motion table of a body in a scene that is at hand; see motionTable. */
export function motionTableIn(
  investigation: Investigation,
  bodyId: string,
  scene: InvestigationScene,
  derivation: Derivation | null = null,
): MotionTable {
  const body = investigation.bodies[bodyId]
  if (!body) throw new RangeError(`There is no body ${bodyId}.`)
  const clock = clockOf(investigation)
  const rows = clock
    ? rowsOf(body, framesInUse(investigation), clock.seconds.length).filter(({ frame }) => scene.at(frame))
    : []
  const frames = rows.map(({ frame }) => frame)
  const marks = rows.map(({ mark }) => mark)
  const spans = clock
    ? timesOfMarks(investigation, clock, rows)
    : { from: new Float64Array(), to: new Float64Array() }
  const times = spans.from.map((time, row) => (time + spans.to[row]) / 2)
  const breaks = new Set(rows.flatMap(({ frame }, row) => (body.breaks[frame] === 'break' ? [row] : [])))
  const errorAt = markErrors(body).at

  const points = rows.map(({ frame, mark }) => scene.at(frame)!.toScene(mark))
  const jacobians = rows.map(({ frame, mark }) => scene.at(frame)!.jacobian(mark))
  const every = rows.map((_, row) => row)
  const seconds = every.filter((row) => body.second[frames[row]])
  const angles = seconds.map((row) => {
    const end = scene.at(frames[row])!.toScene(body.second[frames[row]])
    return Math.atan2(end.y - points[row].y, end.x - points[row].x)
  })
  /** What a component's position is: the rows that have one, their values, and their standard errors. */
  const along = (axis: 'x' | 'y') => ({
    rows: every,
    values: points.map((point) => point[axis]),
    errors: rows.map(({ frame }, row) => {
      const [a, b] = jacobians[row][axis === 'x' ? 0 : 1]
      return Math.sqrt(a * a + b * b) * errorAt(frame)
    }),
  })
  const positions = {
    x: along('x'),
    y: along('y'),
    turn: {
      rows: seconds,
      values: unwrapped(angles),
      errors: seconds.map((row) => {
        const { x, y } = body.second[frames[row]]
        return (Math.SQRT2 * errorAt(frames[row])) / Math.hypot(x - marks[row].x, y - marks[row].y)
      }),
    },
  }

  const settings = derivation ?? investigation.derivation
  const method = DERIVATIVES[settings.method]
  /** Derivatives depend on the times only, so what lies along both axes shares them. */
  const known = new Map<string, { course: CoursePoints; derived: Derived }>()
  const derivedFrom = (component: Component, order: 1 | 2) => {
    const { rows: withPosition, values } = positions[component]
    const key = `${method.readsValues || component === 'turn' ? component : ''} ${order}`
    const ready = known.get(key)
    if (ready) return ready
    const course = pickPoints(spans, breaks, withPosition)
    const made = { course, derived: method.derive(course, order, settings.reach, values) }
    known.set(key, made)
    return made
  }
  const spread = (rowsWith: number[], numbers: ArrayLike<number>) => {
    const all = new Float64Array(rows.length).fill(Number.NaN)
    for (let i = 0; i < rowsWith.length; i++) all[rowsWith[i]] = numbers[i]
    return all
  }
  const column = (quantity: QuantityId): Column => {
    const { component, order } = QUANTITIES[quantity]
    const unit = quantityUnit(scene.length, order, component)
    const position = positions[component]
    if (order === 0) {
      return {
        quantity,
        unit,
        values: spread(position.rows, position.values),
        errors: spread(position.rows, position.errors),
        rows: position.rows,
        map: null,
        scatter: null,
        note: null,
        bias: () => new Float64Array(rows.length),
      }
    }
    const { course, derived } = derivedFrom(component, order)
    const derivedRows = derived.rows.map((i) => position.rows[i])
    return {
      quantity,
      unit,
      values: spread(derivedRows, applyMap(derived.map, position.values)),
      errors: spread(derivedRows, mappedErrors(derived, position.errors)),
      rows: derivedRows,
      map: derived.map,
      scatter: derived.scatter ?? null,
      note: `${method.explain(settings)} ${ACROSS}`,
      bias: once(() => spread(derivedRows, biasBounds(course, derived, method.exact, position.values))),
    }
  }

  return {
    body: bodyId,
    length: scene.length,
    scale: scene.scale,
    frames,
    until: rows.map(({ until }) => until),
    times,
    breaks,
    rateError: clock?.rateError ?? 0,
    picture: { x: Float64Array.from(marks, (m) => m.x), y: Float64Array.from(marks, (m) => m.y) },
    columns: byQuantity(column),
    cameraErrors: once(() => cameraErrors(investigation, scene, frames, marks)),
  }
}

/** What is worked out when it is asked for first, and then known. */
function once<T>(make: () => T): () => T {
  let made: { value: T } | null = null
  return () => {
    made ??= { value: make() }
    return made.value
  }
}

/** Some of a motion's points, in order: a break before one that is left out stands before the next. */
function pickPoints(
  { from, to }: { from: Float64Array; to: Float64Array },
  breaks: ReadonlySet<number>,
  rows: number[],
): CoursePoints {
  const picked = new Set<number>()
  for (const at of breaks) {
    const next = rows.findIndex((row) => row >= at)
    if (next >= 0) picked.add(next)
  }
  return { from: rows.map((row) => from[row]), to: rows.map((row) => to[row]), breaks: picked }
}

/** Standard errors of what is derived from independent values. */
function mappedErrors({ map, widened }: Derived, errors: number[]): number[] {
  return map.start.map((start, row) => {
    const coefficients = map.coefficients[row]
    let variance = 0
    for (let k = 0; k < coefficients.length; k++) variance += (coefficients[k] * errors[start + k]) ** 2
    return (widened?.[row] ?? 1) * Math.sqrt(variance)
  })
}
