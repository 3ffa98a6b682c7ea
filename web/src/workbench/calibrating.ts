import { analyse } from '@apokinema/core/analysis'
import {
  cornerProblem,
  directionInPicture,
  distance,
  inCornerOrder,
  lineError,
  type Point,
  type Turn,
  wrapAngle,
} from '@apokinema/core/geometry'
import {
  axesOf,
  type CalibrationPart,
  edits,
  type Investigation,
  type PlacedPoint,
  type Plane,
  pictureSize,
  turnedDirection,
} from '@apokinema/core/investigation'
import { pictureVelocity } from '@apokinema/core/motion'
import { placeIn } from '@apokinema/core/scene'
import { type ReadoutDirection, readoutOfEdge } from '@apokinema/core/time'
import { v4 as uuid } from 'uuid'
import { notify } from '../common/messages.tsx'
import type { Session } from '../document/session.ts'
import { activeBody } from './shown.ts'
import { snappedEnds } from './snapping.ts'
import {
  collectsPoints,
  type Mode,
  type PointsMode,
  pointsOf,
  useWorkbench,
  workbench,
} from './workbenchStore.ts'

/** Distance in picture pixels below which two ends count as one point. */
const ONE_POINT = 2

/** Returns true if a drag places the next two points of a mode: the ends of a line, or two corners. */
export function drawsLine(mode: Mode): mode is PointsMode {
  if (!collectsPoints(mode)) return false
  const needed = pointsOf(mode)
  return needed !== null && needed % 2 === 0 && mode.points.length % 2 === 0
}

const PART_OF: Partial<Record<Mode['kind'], CalibrationPart>> = {
  reference: 'scale',
  plane: 'scale',
  lens: 'scale',
  origin: 'axes',
  'axis-line': 'axes',
}

/** Returns true if a part of the calibration is locked, and shows a message then. */
export function isLocked(session: Session, part: CalibrationPart | undefined): boolean {
  const lock = part && session.document.locks[part]
  if (!lock) return false
  notify(
    `The ${part === 'scale' ? 'scale is' : 'axes are'} locked, so nothing was changed. Unlock in the set-up first.`,
  )
  return true
}

/** Enters a mode, unless the part that it would change is locked. */
export function enterMode(session: Session, mode: Mode): void {
  if (isLocked(session, PART_OF[mode.kind])) return
  // Enter then sets the point at the reticle, and does not press the button again that led here.
  if (document.activeElement instanceof HTMLElement) document.activeElement.blur()
  workbench.enter(mode)
}

/** Marks a landmark, a new or existing one. The mode stays on, so that it can be marked in further frames. */
export function markLandmark(session: Session, known: string | null, { frame, ...at }: PlacedPoint): void {
  const id = known ?? uuid()
  if (known) session.edit('mark the landmark', edits.markLandmark(id, frame, at))
  else {
    session.edit('add a landmark', edits.addLandmark(id, frame, at))
    workbench.enter({ kind: 'landmark', id })
  }
}

/** Ends a mode with any number of points, and uses the ones placed so far. */
export function endPoints(session: Session): void {
  const { mode } = useWorkbench.getState()
  if (collectsPoints(mode)) finishPoints(session, mode.points)
}

/** Sets the points that a mode has collected so far, and ends it once there are enough. */
export function addPoints(session: Session, points: PlacedPoint[]): void {
  const { mode } = useWorkbench.getState()
  if (!collectsPoints(mode)) return
  if (points.length === pointsOf(mode)) finishPoints(session, points)
  else workbench.enter({ ...mode, points })
}

/** Ends a mode that collects points, and applies them. */
export function finishPoints(session: Session, points: PlacedPoint[]): void {
  const { mode } = useWorkbench.getState()
  if (!collectsPoints(mode)) return
  const onOneSpot = points.some((point, i) => i > 0 && distance(point, points[i - 1]) < ONE_POINT)
  if (onOneSpot) {
    notify(
      points.length === 2
        ? 'Both ends are on the same spot. Place the second end at the other side.'
        : 'Two points are on the same spot. Place the last one elsewhere.',
    )
    workbench.enter({ ...mode, points: points.slice(0, -1) })
    return
  }
  const [first, second] = points
  switch (mode.kind) {
    case 'reference': {
      const id = mode.id ?? uuid()
      const ends = snappedEnds([first, second])
      if (mode.id) session.edit('place the reference length', edits.changeReference(id, { ends }))
      else session.edit('add a reference length', edits.addReference(id, ends))
      workbench.leave()
      workbench.select({ kind: 'end', reference: id, end: 1 })
      break
    }
    case 'edge':
      findReadout(session, first, second)
      break
    case 'axis-line':
      layAlong(session, mode.along, first, second)
      break
    case 'probe': {
      const id = uuid()
      session.edit('add a probe', edits.addProbe(id, mode.probe, points))
      workbench.leave()
      workbench.select({ kind: 'probe', probe: id, point: points.length - 1 })
      break
    }
    case 'plane': {
      const corners = points as Plane['corners']
      const failure = cornerProblem(inCornerOrder(corners))
      if (failure) {
        notify(
          failure === 'in-a-line'
            ? 'Three of the corners lie in a line, so they span no plane. Place the last one elsewhere, or take one back with Backspace.'
            : 'The sides cross each other, or a corner points inwards. Place the last one elsewhere, or take one back with Backspace.',
        )
        workbench.enter({ ...mode, points: points.slice(0, -1) })
        return
      }
      session.edit('lay the plane', edits.setPlaneCorners(corners))
      workbench.leave()
      workbench.select({ kind: 'corner', corner: 0 })
      break
    }
    case 'lens':
      if (points.length < 3) {
        notify('A straight edge takes three points at least: both ends, and where it bulges most.')
        return
      }
      session.edit(
        'add a straight edge',
        edits.addEdge(
          uuid(),
          points.map(({ x, y }) => ({ x, y })),
        ),
      )
      workbench.leave()
  }
}

/** Lays an axis, or the direction of gravity, along a line that was drawn. */
function layAlong(session: Session, along: 'x' | 'y' | 'gravity', from: PlacedPoint, to: PlacedPoint): void {
  const angle = directionInPicture(from, to)
  const error = lineError([from, to])
  workbench.leave()
  if (along === 'gravity') {
    // A plumb line is drawn without a direction: gravity points down along it.
    session.edit(
      'state the direction of gravity',
      edits.setGravity({ direction: angle > 0 ? wrapAngle(angle + Math.PI) : angle, error }),
    )
    return
  }
  // An axis is, too: x points to the right, or up if it is vertical; y points up.
  const isBackward = Math.abs(angle) > Math.PI / 2 + 1e-9
  const rightward = isBackward ? wrapAngle(angle + Math.PI) : angle
  const upward = angle < -1e-9 ? angle + Math.PI : angle
  const tilt = along === 'x' ? rightward : wrapAngle(upward - Math.PI / 2)
  const origin = originSeen(session, to.frame)
  session.edit(
    `lay the ${along} axis along a line`,
    edits.setAxes({ tilt, tiltError: error, ...(origin && { origin }) }),
  )
}

/** Returns the main axes' origin in a frame; null if it is not visible. */
export function originSeen(session: Session, frame: number): PlacedPoint | null {
  const investigation = session.document
  const { origin } = axesOf(investigation)
  const scene = analyse(investigation).scene()
  const seen = scene.camera && placeIn(scene, origin, frame)
  return seen ? { ...origin, ...seen, frame } : null
}

/** Returns the default direction of the read-out: from the sensor's top row down, turned like the picture. */
export function readoutDirection({ footage, orientation }: Investigation): ReadoutDirection {
  const turns: Turn[] = Array(((footage?.rotation ?? 0) / 90) % 4).fill('right')
  if (orientation.mirrored) turns.push('mirror')
  turns.push(...Array(orientation.quarterTurns).fill('right'))
  return turns.reduce((direction, turn) => turnedDirection(turn, direction), 'down' as ReadoutDirection)
}

/** Sets the read-out time that a leaning edge shows, with the speed of the active body in the current frame. */
function findReadout(session: Session, from: Point, to: Point): void {
  workbench.leave()
  const investigation = session.document
  const { frame, body: chosen } = useWorkbench.getState()
  const body = activeBody(investigation, chosen)
  const velocity = body && pictureVelocity(investigation, body, frame)
  if (!velocity) {
    notify('Its speed is needed, too: mark the moving edge in this frame and its neighbours first.')
    return
  }
  const towards = readoutDirection(investigation)
  const { width, height } = pictureSize(investigation)
  const lying = towards === 'left' || towards === 'right'
  const exchanged = ({ x, y }: Point): Point => (lying ? { x: y, y: x } : { x, y })
  const found = readoutOfEdge(
    [exchanged(from), exchanged(to)],
    lying ? velocity.y : velocity.x,
    lying ? width : height,
  )
  // With the opposite direction of the read-out, the edge leans the other way.
  const seconds = found === null ? 0 : found * (towards === 'down' || towards === 'right' ? 1 : -1)
  if (!(seconds > 0) || seconds > 0.2) {
    notify('This edge does not lean the way a rolling shutter makes it lean. Nothing was changed.')
    return
  }
  session.edit('find the read-out', edits.setReadout({ seconds, towards }))
  notify(`The sensor needs ${(1000 * seconds).toFixed(1)} ms for all its rows.`)
}
