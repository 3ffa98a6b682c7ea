import type { Point } from '@apokinema/core/geometry'
import { directionInPicture, distance, wrapAngle } from '@apokinema/core/geometry'
import {
  type Body,
  edits,
  framesInUse,
  type Investigation,
  inOrder,
  pictureSize,
  type Turn,
  turnedDirection,
} from '@apokinema/core/investigation'
import { pictureVelocity } from '@apokinema/core/motion'
import { frameCount, type ReadoutDirection, readoutOfEdge } from '@apokinema/core/time'
import { v4 as uuid } from 'uuid'
import { tell } from '../common/messages.tsx'
import type { Session } from '../document/session.ts'
import { type Mode, useWorkbench, workbench } from './workbenchStore.ts'

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
export function drawsLine(mode: Mode): mode is Extract<Mode, { first: Point | null }> {
  return 'first' in mode
}

/** Does what a click at a picture point means in the present mode, on the frame that is shown. */
export function clickAt(session: Session, point: Point, frame: number): void {
  const { mode } = useWorkbench.getState()
  const investigation = documentOf(session)
  if (!investigation.footage || mode.kind === 'select') return
  if (mode.kind === 'mark') setMark(session, mode.body, frame, inside(point, pictureSize(investigation)))
  else if (mode.kind === 'origin') {
    session.edit('place the origin', edits.setAxes({ origin: point }))
    workbench.leave()
    workbench.select({ kind: 'origin' })
  } else if (!mode.first) workbench.enter({ ...mode, first: point })
  else finishLine(session, mode.first, point)
}

/** Ends a line that was begun: of a reference length, or along an axis. */
export function finishLine(session: Session, from: Point, to: Point): void {
  const { mode } = useWorkbench.getState()
  if (distance(from, to) < ONE_POINT) {
    tell('Both ends are on the same spot. Place the second end at the other side.')
    return
  }
  if (mode.kind === 'reference') {
    const id = mode.id ?? uuid()
    if (mode.id) session.edit('place the reference length', edits.changeReference(id, { ends: [from, to] }))
    else session.edit('add a reference length', edits.addReference(id, [from, to]))
    workbench.leave()
    workbench.select({ kind: 'end', reference: id, end: 1 })
  }
  if (mode.kind === 'edge') findReadout(session, from, to)
  if (mode.kind === 'axis-line') {
    // A line has no direction of its own: x points to the right along it, or up where it is upright.
    const angle = directionInPicture(from, to)
    const rightward = Math.abs(angle) > Math.PI / 2 + 1e-9 ? wrapAngle(angle + Math.PI) : angle
    session.edit('lay the x axis along a line', edits.setAxes({ tilt: rightward }))
    workbench.leave()
  }
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
  if (drawsLine(mode)) {
    workbench.enter({ ...mode, first: null })
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
  if (selection.kind === 'end')
    session.edit('delete the reference length', edits.removeReference(selection.reference))
  if (selection.kind === 'stretch') session.edit('delete the stretch', edits.removeStretch(selection.id))
  if (selection.kind === 'origin' || selection.kind === 'tilt') {
    tell('Axes can’t be deleted, only moved.')
    return
  }
  workbench.select(null)
}

/** Picture point of what is selected, or null where it has none. */
export function selectedPoint(session: Session): Point | null {
  const { selection } = useWorkbench.getState()
  const { bodies, references, axes } = documentOf(session)
  if (selection?.kind === 'mark') return bodies[selection.body]?.marks[selection.frame] ?? null
  if (selection?.kind === 'end') return references[selection.reference]?.ends[selection.end] ?? null
  return selection?.kind === 'origin' ? axes.origin : null
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

/** The edit that moves a selected thing to a picture point. */
export function moveTo(
  session: Session,
  selection: NonNullable<ReturnType<typeof useWorkbench.getState>['selection']>,
  to: Point,
) {
  const { references, bodies, axes } = documentOf(session)
  switch (selection.kind) {
    case 'mark': {
      const name = bodies[selection.body]?.name ?? 'body'
      return { label: `move the mark of ${name}`, recipe: edits.setMark(selection.body, selection.frame, to) }
    }
    case 'end': {
      const reference = references[selection.reference]
      const ends: [Point, Point] = [...reference.ends]
      ends[selection.end] = to
      return {
        label: 'move an end of the reference length',
        recipe: edits.changeReference(selection.reference, { ends }),
      }
    }
    case 'origin':
      return { label: 'move the origin', recipe: edits.setAxes({ origin: to }) }
    case 'tilt':
      return { label: 'tilt the axes', recipe: edits.setAxes({ tilt: directionInPicture(axes.origin, to) }) }
    default:
      return null
  }
}

/** Moves the selected point by quarter pixels. */
export function nudge(session: Session, dx: number, dy: number): boolean {
  const { selection } = useWorkbench.getState()
  const at = selectedPoint(session)
  if (!selection || !at) return false
  const move = moveTo(session, selection, { x: at.x + dx, y: at.y + dy })
  if (move) session.edit(move.label, move.recipe)
  return move !== null
}
