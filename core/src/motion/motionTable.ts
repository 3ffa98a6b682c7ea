import type { CombinedScale } from '../geometry/index.ts'
import {
  type Body,
  type Derivation,
  framesInUse,
  framesOf,
  type Investigation,
  inOrder,
  type Mark,
  pictureSize,
} from '../investigation/index.ts'
import type { AxesError, InvestigationScene } from '../scene/index.ts'
import { type CameraErrors, cameraErrors, clockOf, type InvestigationClock } from '../scene/index.ts'
import { rowDelay, type UsedFrames } from '../time/index.ts'
import type { LengthUnit } from '../units/index.ts'
import { bodyConstants } from './bodyConstants.ts'
import { type Column, once } from './columns/column.ts'
import type { CustomLookup } from './columns/columnContext.ts'
import { Columns } from './columns/columns.ts'
import { markErrors } from './markError.ts'
import { PlacedMarks } from './placedMarks.ts'

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
  /** A quantity over the rows, by its id; derived when it is asked for first. Throws a RangeError for an unknown one. */
  column: (quantity: string) => Column
  /** Errors of the axes' place and direction and of the direction of gravity, which all rows share. */
  axesErrors: AxesError[]
  /** How the landmarks' errors move the positions; worked out when it is asked for, null where the camera stood still. */
  cameraErrors: () => CameraErrors | null
}

/** Settings of a table that differ from those of the investigation. */
export interface TableSettings {
  /** How velocity and acceleration are derived; null: as the investigation's are. */
  derivation?: Derivation | null
  /** The other body of quantities between two; null: the first other one. */
  other?: string | null
}

/** Marks in use, one a row: a rest is cut to the frames in use. */
interface Rows {
  frames: number[]
  /** Last frame of each. */
  until: number[]
  marks: Mark[]
}

/** Marks of a body in the frames in use of a clip of so many frames whose pictures can be placed. */
function rowsOf(
  { marks }: Body,
  used: UsedFrames,
  count: number,
  isPlaced: (frame: number) => boolean,
): Rows {
  const rows: Rows = { frames: [], until: [], marks: [] }
  const add = (frame: number, until: number, mark: Mark) => {
    if (!used.has(frame) || !isPlaced(frame)) return
    rows.frames.push(frame)
    rows.until.push(until)
    rows.marks.push(mark)
  }
  for (const at of framesOf({ marks })) {
    const mark = marks[at]
    const last = Math.min(mark.until ?? at, count - 1)
    if (last === at) {
      add(at, at, mark)
      continue
    }
    const frame = used.has(at) ? at : used.step(at, 1)
    const until = used.has(last) ? last : used.step(last, -1)
    if (frame >= at && until <= last && frame <= until) add(frame, until, mark)
  }
  return rows
}

/**
 * Time of every mark from time zero at its first and last frame: that of the frame, and with a stated read-out
 * time also that of its row. A read-out so long that it would turn the order of marks round is not applied.
 */
function timesOfMarks(
  investigation: Investigation,
  { seconds, zero }: InvestigationClock,
  { frames, until, marks }: Rows,
): { from: Float64Array; to: Float64Array } {
  const timesOf = (some: number[]) => {
    const times = new Float64Array(some.length)
    for (let row = 0; row < some.length; row++) times[row] = seconds[some[row]] - zero
    return times
  }
  const plain = { from: timesOf(frames), to: timesOf(until) }
  const { readout } = investigation.timing
  if (!readout) return plain
  const picture = pictureSize(investigation)
  const delays = marks.map((mark) => rowDelay(readout, mark, picture))
  const delayed = (times: Float64Array) => times.map((time, row) => time + delays[row])
  const byRow = { from: delayed(plain.from), to: delayed(plain.to) }
  return byRow.from.every((time, row) => row === 0 || time > byRow.to[row - 1]) ? byRow : plain
}

/**
 * Returns a function that gives the motion table of a body (lazy): position, velocity, acceleration and what follows from them
 * at every mark within the span, at the true times of the frames. A rest is one row. Marks outside the span, and marks in
 * frames for which the landmarks do not determine the camera, are left out. The table is empty without footage. Columns are
 * shared between the tables of bodies that quantities of several bodies need.
 *
 * @param custom looks up custom quantities
 * @throws RangeError (the function) for an unknown body
 */
export function tablesOf(
  investigation: Investigation,
  scene: InvestigationScene,
  custom: CustomLookup,
  settings: TableSettings = {},
): (bodyId: string) => MotionTable {
  const { bodies } = investigation
  const clock = clockOf(investigation)
  const derivation = settings.derivation ?? investigation.derivation
  const ids = inOrder(bodies).map(([id]) => id)
  const known = new Map<string, [Rows, Columns]>()
  const columnsOf = (id: string): [Rows, Columns] => {
    const ready = known.get(id)
    if (ready) return ready
    const made = newColumns(investigation, id, scene, custom, derivation, clock)
    known.set(id, made)
    made[1].others = {
      pair: () => {
        const isStated = settings.other && settings.other !== id && bodies[settings.other]
        const other = isStated ? settings.other : ids.find((one) => one !== id)
        return other ? [made[1], columnsOf(other)[1]] : []
      },
      all: () =>
        ids.filter((one) => one === id || framesOf(bodies[one]).length > 0).map((one) => columnsOf(one)[1]),
    }
    return made
  }
  return (bodyId) => {
    if (!bodies[bodyId]) throw new RangeError(`There is no body ${bodyId}.`)
    const [{ frames, until, marks }, columns] = columnsOf(bodyId)
    return {
      body: bodyId,
      length: scene.length,
      scale: scene.scale,
      frames,
      until,
      times: columns.rowTimes.times,
      breaks: columns.rowTimes.breaks,
      rateError: clock?.rateError ?? 0,
      axesErrors: scene.axesErrors,
      picture: {
        x: new Float64Array(marks.map((mark) => mark.x)),
        y: new Float64Array(marks.map((mark) => mark.y)),
      },
      column: (quantity) => columns.column(quantity),
      cameraErrors: once(() => cameraErrors(investigation, scene, frames, marks)),
    }
  }
}

/** Returns the rows of a body's table, and what makes columns of them. */
function newColumns(
  investigation: Investigation,
  bodyId: string,
  scene: InvestigationScene,
  custom: CustomLookup,
  derivation: Derivation,
  clock: InvestigationClock | null,
): [Rows, Columns] {
  const body = investigation.bodies[bodyId]
  const rows: Rows = clock
    ? rowsOf(body, framesInUse(investigation), clock.seconds.length, (frame) => scene.at(frame) !== null)
    : { frames: [], until: [], marks: [] }
  const spans = clock
    ? timesOfMarks(investigation, clock, rows)
    : { from: new Float64Array(), to: new Float64Array() }
  const placed = new PlacedMarks(
    rows.frames,
    (frame) => scene.at(frame)!,
    rows.marks,
    body.second,
    markErrors(body).at,
    markErrors(body).correlation,
  )
  const breaks = new Set<number>()
  rows.frames.forEach((frame, row) => {
    if (body.breaks[frame] === 'break') breaks.add(row)
  })
  const number = inOrder(investigation.bodies).findIndex(([id]) => id === bodyId)
  const columns = new Columns(
    placed,
    { ...spans, times: spans.from.map((time, row) => (time + spans.to[row]) / 2), breaks },
    {
      constants: bodyConstants(investigation, scene, body, number),
      custom,
      length: scene.length,
      axes: scene.axes,
      derivation,
    },
  )
  return [rows, columns]
}
