import type { Point } from '@apokinema/core/geometry'
import {
  cornerTrouble,
  directionInPicture,
  distance,
  inCornerOrder,
  wrapAngle,
} from '@apokinema/core/geometry'
import {
  axesOf,
  type Body,
  type CalibrationPart,
  edits,
  framesInUse,
  type Investigation,
  inOrder,
  type Landmark,
  type PlacedPoint,
  type Plane,
  pictureSize,
  type Turn,
  turnedDirection,
} from '@apokinema/core/investigation'
import { pictureVelocity, placeIn, sceneOf } from '@apokinema/core/motion'
import { frameCount, type ReadoutDirection, readoutOfEdge } from '@apokinema/core/time'
import { v4 as uuid } from 'uuid'
import { tell } from '../common/messages.tsx'
import type { Session } from '../document/session.ts'
import {
  collectsPoints,
  type Mode,
  type PointsMode,
  pointsOf,
  type Selection,
  useWorkbench,
  workbench,
} from './workbenchStore.ts'

/** Nearer than this, in pixels of the picture, two ends are one point. */
const ONE_POINT = 2

const documentOf = (session: Session) => session.store.getState().document

/** The body that is worked on: the active one, or the first. */
export function activeBody(investigation: Investigation, chosen: string | null): string | null {
  if (chosen && investigation.bodies[chosen]) return chosen
  return inOrder(investigation.bodies)[0]?.[0] ?? null
}

/** Bodies that the strip has lanes for: at most three neighbours in the list, the active one among them. */
export function shownBodies(investigation: Investigation, active: string | null): [string, Body][] {
  const bodies = inOrder(investigation.bodies)
  const at = bodies.findIndex(([id]) => id === active)
  const from = Math.max(0, Math.min(at - 1, bodies.length - 3))
  return bodies.slice(from, from + 3)
}

/** Landmarks that the strip has lanes for: the first three, where the camera moved. */
export function shownLandmarks({ camera }: Investigation): [string, Landmark][] {
  return camera.motion === 'still' ? [] : inOrder(camera.landmarks).slice(0, 3)
}

/** Goes some frames on or back; with `inSteps` along the span's own frames. */
export function goBy(session: Session, count: number, inSteps: boolean): void {
  const investigation = documentOf(session)
  const { footage } = investigation
  if (!footage) return
  const last = frameCount(footage.ticks) - 1
  const { frame } = useWorkbench.getState()
  workbench.goTo(
    inSteps ? framesInUse(investigation).step(frame, count) : Math.min(last, Math.max(0, frame + count)),
  )
}

/** Adds a body and gives its id. */
export function addBody(session: Session): string {
  const id = uuid()
  session.edit('add a body', edits.addBody(id, { position: uuid(), velocity: uuid() }))
  workbench.setBody(id)
  return id
}

/** Enters marking of the active body; where there is none yet, one is added. Begins in the span. */
export function startMarking(session: Session): void {
  const investigation = documentOf(session)
  if (!investigation.footage) return
  const { frame, body: chosen } = useWorkbench.getState()
  const body = activeBody(investigation, chosen) ?? addBody(session)
  workbench.setBody(body)
  const used = framesInUse(investigation)
  const { marks } = documentOf(session).bodies[body]
  if (!used.has(frame) || frame in marks) {
    // On with the first frame from here that still waits for a mark; where none does, stay for corrections.
    const waiting = used.list.filter((candidate) => !(candidate in marks))
    const next = waiting.find((candidate) => candidate >= frame) ?? waiting[0]
    workbench.goTo(next ?? (used.has(frame) ? frame : used.list[0]))
  }
  workbench.enter({ kind: 'mark', body })
}

/** Whether a line is drawn in a mode, from one end to the other. */
export function drawsLine(mode: Mode): mode is PointsMode {
  return collectsPoints(mode) && pointsOf(mode) === 2
}

const PART_OF: Partial<Record<Mode['kind'], CalibrationPart>> = {
  reference: 'scale',
  plane: 'scale',
  lens: 'scale',
  origin: 'axes',
  'axis-line': 'axes',
}

/** Whether a part of the calibration is locked; says so where it is. */
export function isLocked(session: Session, part: CalibrationPart | undefined): boolean {
  const lock = part && documentOf(session).locks[part]
  if (!lock) return false
  tell(
    `The ${part === 'scale' ? 'scale is' : 'axes are'} locked, so nothing was changed. Unlock in the set-up first.`,
  )
  return true
}

/** Enters a mode, unless what it would change is locked. */
export function enterMode(session: Session, mode: Mode): void {
  if (!isLocked(session, PART_OF[mode.kind])) workbench.enter(mode)
}

/** Does what a click at a picture point means in the present mode, on the frame that is shown. */
export function clickAt(session: Session, point: Point, frame: number): void {
  const { mode } = useWorkbench.getState()
  const investigation = documentOf(session)
  if (!investigation.footage || mode.kind === 'select') return
  const at = { ...point, frame }
  if (mode.kind === 'mark') setMark(session, mode.body, frame, inside(point, pictureSize(investigation)))
  else if (mode.kind === 'landmark') markLandmark(session, mode.id, at)
  else if (mode.kind === 'origin') {
    session.edit('place the origin', edits.setAxes({ origin: at }))
    workbench.leave()
    workbench.select({ kind: 'origin' })
  } else {
    const points = [...mode.points, at]
    if (points.length === pointsOf(mode)) finishPoints(session, points)
    else workbench.enter({ ...mode, points })
  }
}

/** Marks a landmark, a new one or one that is there, and stays: the film can be stepped on and it is marked again. */
function markLandmark(session: Session, known: string | null, { frame, ...at }: PlacedPoint): void {
  const id = known ?? uuid()
  if (known) session.edit('mark the landmark', edits.markLandmark(id, frame, at))
  else {
    session.edit('add a landmark', edits.addLandmark(id, frame, at))
    workbench.enter({ kind: 'landmark', id })
  }
}

/** Ends a mode that collects as many points as one likes, with those that there are. */
export function endPoints(session: Session): void {
  const { mode } = useWorkbench.getState()
  if (collectsPoints(mode)) finishPoints(session, mode.points)
}

/** Ends a mode that collects points: they become what it is for. */
export function finishPoints(session: Session, points: PlacedPoint[]): void {
  const { mode } = useWorkbench.getState()
  if (!collectsPoints(mode)) return
  const onOneSpot = points.some((point, i) => i > 0 && distance(point, points[i - 1]) < ONE_POINT)
  if (onOneSpot) {
    tell(
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
      if (mode.id)
        session.edit('place the reference length', edits.changeReference(id, { ends: [first, second] }))
      else session.edit('add a reference length', edits.addReference(id, [first, second]))
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
      const trouble = cornerTrouble(inCornerOrder(corners))
      if (trouble) {
        tell(
          trouble === 'in-a-line'
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
        tell('A straight edge takes three points at least: both ends, and where it bulges most.')
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

/** Lays an axis, or the direction in which things fall, along a line that was drawn. */
function layAlong(session: Session, along: 'x' | 'y' | 'gravity', from: PlacedPoint, to: PlacedPoint): void {
  const angle = directionInPicture(from, to)
  workbench.leave()
  if (along === 'gravity') {
    // A plumb line has no direction of its own: things fall down it.
    session.edit(
      'tell which way things fall',
      edits.setGravity(angle > 0 ? wrapAngle(angle + Math.PI) : angle),
    )
    return
  }
  // Neither has an axis: x points to the right along its line, or up where it is upright; y points up.
  const isBackward = Math.abs(angle) > Math.PI / 2 + 1e-9
  const rightward = isBackward ? wrapAngle(angle + Math.PI) : angle
  const upward = angle < -1e-9 ? angle + Math.PI : angle
  const tilt = along === 'x' ? rightward : wrapAngle(upward - Math.PI / 2)
  const origin = originSeen(session, to.frame)
  session.edit(`lay the ${along} axis along a line`, edits.setAxes({ tilt, ...(origin && { origin }) }))
}

/** The main axes' origin as a frame shows it; null where it is as it was placed, or can't be seen. */
function originSeen(session: Session, frame: number): PlacedPoint | null {
  const investigation = documentOf(session)
  const { origin } = axesOf(investigation)
  const scene = sceneOf(investigation)
  const seen = scene.camera && placeIn(scene, origin, frame)
  return seen ? { ...seen, frame } : null
}

function inside({ x, y }: Point, { width, height }: { width: number; height: number }): Point {
  return { x: Math.min(width, Math.max(0, x)), y: Math.min(height, Math.max(0, y)) }
}

function setMark(session: Session, body: string, frame: number, at: Point): void {
  const investigation = documentOf(session)
  const { bodies } = investigation
  const used = framesInUse(investigation)
  if (!used.has(frame)) {
    tell('This frame is not one of those in use. Step to one that is.')
    return
  }
  session.edit(`mark ${bodies[body].name} in frame ${frame}`, edits.setMark(body, frame, at))
  const next = used.step(frame, 1)
  if (next > frame) workbench.goTo(next)
  else {
    workbench.leave()
    tell(
      `The end of the span is reached: ${Object.keys(documentOf(session).bodies[body].marks).length} marks.`,
    )
  }
}

/** In marking mode: takes the last mark back and returns to its frame. */
export function takeBack(session: Session): void {
  const { mode, frame } = useWorkbench.getState()
  if (collectsPoints(mode)) {
    workbench.enter({ ...mode, points: mode.points.slice(0, -1) })
    return
  }
  if (mode.kind !== 'mark') return
  const investigation = documentOf(session)
  const { bodies } = investigation
  const used = framesInUse(investigation)
  const marked = Object.keys(bodies[mode.body].marks).map(Number)
  const last = marked.filter((candidate) => candidate <= frame && used.has(candidate)).sort((a, b) => b - a)
  const target = last.find((candidate) => candidate < frame) ?? last[0]
  if (target === undefined) return
  session.edit(`take back frame ${target}`, edits.removeMark(mode.body, target))
  workbench.goTo(target)
}

/** Deletes what is selected, and nothing else. */
export function deleteSelected(session: Session): void {
  const { selection } = useWorkbench.getState()
  if (!selection) {
    tell('Nothing is selected, so nothing was deleted. Click a mark or a stretch first.')
    return
  }
  if (selection.kind === 'mark')
    session.edit(
      `delete the mark in frame ${selection.frame}`,
      edits.removeMark(selection.body, selection.frame),
    )
  if (selection.kind === 'end') {
    if (isLocked(session, 'scale')) return
    session.edit('delete the reference length', edits.removeReference(selection.reference))
  }
  if (selection.kind === 'probe') session.edit('delete the probe', edits.removeProbe(selection.probe))
  if (selection.kind === 'landmark')
    session.edit(
      `take the landmark’s mark in frame ${selection.frame} away`,
      edits.unmarkLandmark(selection.landmark, selection.frame),
    )
  if (selection.kind === 'corner') {
    if (isLocked(session, 'scale')) return
    session.edit('forget the plane', edits.removePlane())
  }
  if (selection.kind === 'stretch') session.edit('delete the stretch', edits.removeStretch(selection.id))
  if (selection.kind === 'origin' || selection.kind === 'tilt') {
    tell('Axes can’t be deleted, only moved.')
    return
  }
  workbench.select(null)
}

/** Picture point of what is selected as a frame shows it, or null where it has none. */
export function selectedPoint(session: Session, frame: number): Point | null {
  const { selection } = useWorkbench.getState()
  const investigation = documentOf(session)
  const { bodies, references, probes, camera, plane } = investigation
  const seen = (placed: PlacedPoint | undefined) =>
    placed ? placeIn(sceneOf(investigation), placed, frame) : null
  switch (selection?.kind) {
    case 'mark':
      return bodies[selection.body]?.marks[selection.frame] ?? null
    case 'landmark':
      return camera.landmarks[selection.landmark]?.marks[selection.frame] ?? null
    case 'end':
      return seen(references[selection.reference]?.ends[selection.end])
    case 'probe':
      return seen(probes[selection.probe]?.points[selection.point])
    case 'corner':
      return seen(plane?.corners[selection.corner])
    case 'origin':
      return seen(axesOf(investigation).origin)
    default:
      return null
  }
}

/** Towards where the sensor reads out unless told otherwise: from its top row down, turned as the picture is. */
export function readoutDirection({ footage, orientation }: Investigation): ReadoutDirection {
  const turns: Turn[] = Array(((footage?.rotation ?? 0) / 90) % 4).fill('right')
  if (orientation.mirrored) turns.push('mirror')
  turns.push(...Array(orientation.quarterTurns).fill('right'))
  return turns.reduce((direction, turn) => turnedDirection(turn, direction), 'down' as ReadoutDirection)
}

/** States the read-out that a leaning edge shows, with the speed of the active body in the current frame. */
function findReadout(session: Session, from: Point, to: Point): void {
  workbench.leave()
  const investigation = documentOf(session)
  const { frame, body: chosen } = useWorkbench.getState()
  const body = activeBody(investigation, chosen)
  const velocity = body && pictureVelocity(investigation, body, frame)
  if (!velocity) {
    tell('Its speed is needed, too: mark the moving edge in this frame and its neighbours first.')
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
  // Read out the other way round, the edge leans the other way.
  const seconds = found === null ? 0 : found * (towards === 'down' || towards === 'right' ? 1 : -1)
  if (!(seconds > 0) || seconds > 0.2) {
    tell('This edge does not lean the way a rolling shutter makes it lean. Nothing was changed.')
    return
  }
  session.edit('find the read-out', edits.setReadout({ seconds, towards }))
  tell(`The sensor needs ${(1000 * seconds).toFixed(1)} ms for all its rows.`)
}

const LOCKED_WITH: Partial<Record<Selection['kind'], CalibrationPart>> = {
  end: 'scale',
  corner: 'scale',
  origin: 'axes',
  tilt: 'axes',
}

/** Whether a thing on the picture can't be moved because it is locked. */
export function isHeldFast({ locks }: Investigation, { kind }: Selection): boolean {
  const part = LOCKED_WITH[kind]
  return part !== undefined && locks[part] !== null
}

/** The edit that moves a selected thing to a point of a frame's picture; null where it can't be moved. */
export function moveTo(session: Session, selection: Selection, to: Point, frame: number) {
  const investigation = documentOf(session)
  const { references, bodies, probes, plane } = investigation
  if (isHeldFast(investigation, selection)) return null
  const at: PlacedPoint = { x: to.x, y: to.y, frame }
  const replaced = <T>(all: T[], index: number, thing: T) => all.map((old, i) => (i === index ? thing : old))
  switch (selection.kind) {
    case 'mark': {
      const name = bodies[selection.body]?.name ?? 'body'
      return { label: `move the mark of ${name}`, recipe: edits.setMark(selection.body, selection.frame, to) }
    }
    case 'landmark':
      return { label: 'move the landmark', recipe: edits.markLandmark(selection.landmark, frame, to) }
    case 'end': {
      const reference = references[selection.reference]
      if (!reference) return null
      const ends = replaced(reference.ends, selection.end, at) as [PlacedPoint, PlacedPoint]
      return {
        label: 'move an end of the reference length',
        recipe: edits.changeReference(selection.reference, { ends }),
      }
    }
    case 'probe': {
      const probe = probes[selection.probe]
      if (!probe) return null
      const points = replaced(probe.points, selection.point, at)
      return { label: 'move a point of the probe', recipe: edits.changeProbe(selection.probe, { points }) }
    }
    case 'corner': {
      if (!plane) return null
      const corners = replaced(plane.corners, selection.corner, at) as Plane['corners']
      // A corner that would make the sides cross stays where it was.
      if (cornerTrouble(corners)) return null
      return { label: 'move a corner of the plane', recipe: edits.changePlane({ corners }) }
    }
    case 'origin':
      return { label: 'move the origin', recipe: edits.setAxes({ origin: at }) }
    case 'tilt': {
      const { origin, turnedX } = axesOf(investigation)
      const seen = originSeen(session, frame)
      const direction = directionInPicture(seen ?? origin, to)
      const tilt = turnedX ? wrapAngle(direction + Math.PI) : direction
      return { label: 'tilt the axes', recipe: edits.setAxes({ tilt, ...(seen && { origin: seen }) }) }
    }
    default:
      return null
  }
}

/** Moves the selected point by quarter pixels. */
export function nudge(session: Session, dx: number, dy: number): boolean {
  const { selection, shown, frame } = useWorkbench.getState()
  const on = shown ?? frame
  const at = selectedPoint(session, on)
  if (!selection || !at) return false
  const move = moveTo(session, selection, { x: at.x + dx, y: at.y + dy }, on)
  if (move) session.edit(move.label, move.recipe)
  return move !== null
}
