import type { Point } from '@apokinema/core/geometry'
import { edits, framesInUse, pictureSize } from '@apokinema/core/investigation'
import { frameCount } from '@apokinema/core/time'
import { v4 as uuid } from 'uuid'
import { tell } from '../common/messages.tsx'
import type { Session } from '../document/session.ts'
import { finishPoints, markLandmark } from './calibrating.ts'
import { activeBody } from './shown.ts'
import { collectsPoints, pointsOf, useWorkbench, workbench } from './workbenchStore.ts'

const documentOf = (session: Session) => session.store.getState().document

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

/** Does what a click at a picture point means in the present mode, on the frame that is shown. */
export function clickAt(session: Session, point: Point, frame: number): void {
  const { mode } = useWorkbench.getState()
  const investigation = documentOf(session)
  if (!investigation.footage || mode.kind === 'select' || mode.kind === 'follow') return
  const at = { ...point, frame }
  if (mode.kind === 'mark') setMark(session, mode.body, frame, point)
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

function inside({ x, y }: Point, { width, height }: { width: number; height: number }): Point {
  return { x: Math.min(width, Math.max(0, x)), y: Math.min(height, Math.max(0, y)) }
}

/** Marks a body in a frame by hand, within the picture; says why where it can't be. */
export function setHandMark(session: Session, body: string, frame: number, at: Point): boolean {
  const investigation = documentOf(session)
  const { name, locked } = investigation.bodies[body]
  if (locked) {
    tell(`${name} is locked. Unlock it in its menu to mark it.`)
    return false
  }
  if (!framesInUse(investigation).has(frame)) {
    tell('This frame is not one of those in use. Step to one that is.')
    return false
  }
  const point = inside(at, pictureSize(investigation))
  session.edit(`mark ${name} in frame ${frame}`, edits.setMark(body, frame, point))
  return true
}

function setMark(session: Session, body: string, frame: number, at: Point): void {
  if (!setHandMark(session, body, frame, at)) return
  const used = framesInUse(documentOf(session))
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
