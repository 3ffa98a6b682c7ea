import { distance, meanPlacingError, type PlacedByHand, type Point } from '@apokinema/core/geometry'
import {
  type BreakWord,
  edits,
  framesInUse,
  framesOf,
  markedFrames,
  pictureSize,
} from '@apokinema/core/investigation'
import { v4 as uuid } from 'uuid'
import { notify } from '../common/messages.tsx'
import type { Session } from '../document/session.ts'
import { activeBody } from './shown.ts'
import { settledMark } from './snapping.ts'
import { collectsPoints, useWorkbench, workbench } from './workbenchStore.ts'

/** Marking by hand. */

/** Distance in pixels below which the ends of a streak count as a click. */
const SHORTEST_STREAK = 2

/** Adds a body; returns its id. */
export function addBody(session: Session): string {
  const id = uuid()
  session.edit('add a body', edits.addBody(id, { position: uuid(), velocity: uuid() }))
  workbench.setBody(id)
  return id
}

/** Enters marking of the active body; adds one if there is none. Begins within the span. */
export function startMarking(session: Session): void {
  const investigation = session.document
  if (!investigation.footage) return
  const { frame, body: chosen } = useWorkbench.getState()
  const body = activeBody(investigation, chosen) ?? addBody(session)
  workbench.setBody(body)
  const used = framesInUse(investigation)
  const marked = markedFrames(session.document.bodies[body].marks)
  if (!used.has(frame) || marked.has(frame)) {
    // Begins at the next frame without a mark; if there is none, stays here for corrections.
    const waiting = used.list.filter((candidate) => !marked.has(candidate))
    const next = waiting.find((candidate) => candidate >= frame) ?? waiting[0]
    workbench.goTo(next ?? (used.has(frame) ? frame : used.list[0]))
  }
  workbench.enter({ kind: 'mark', body })
}

/** Enters marking of a body in a frame; an existing mark is replaced. */
export function markAgainFrom(session: Session, body: string, frame: number): void {
  if (isBodyLocked(session, body)) return
  workbench.setBody(body)
  workbench.goTo(frame)
  workbench.enter({ kind: 'mark', body })
}

function inside(at: PlacedByHand, { width, height }: { width: number; height: number }): PlacedByHand {
  const { x, y } = at
  return { ...at, x: Math.min(width, Math.max(0, x)), y: Math.min(height, Math.max(0, y)) }
}

/** Returns true if the marks of a body are locked, and shows a message then. */
export function isBodyLocked(session: Session, body: string): boolean {
  const { name, locked } = session.document.bodies[body]
  if (locked) notify(`${name} is locked. Unlock it in its menu to change its marks.`)
  return locked
}

/** Returns true if a body can be marked in a frame; otherwise shows why not. */
function canMark(session: Session, body: string, frame: number): boolean {
  if (isBodyLocked(session, body)) return false
  if (framesInUse(session.document).has(frame)) return true
  notify('This frame is not one of those in use. Step to one that is.')
  return false
}

/** Marks a body in a frame by hand, within the picture; shows why if it can't be. */
export function setHandMark(
  session: Session,
  body: string,
  frame: number,
  at: PlacedByHand,
  streak?: Point,
): boolean {
  if (!canMark(session, body, frame)) return false
  const investigation = session.document
  const point = inside(at, pictureSize(investigation))
  session.edit(
    `mark ${investigation.bodies[body].name} in frame ${frame}`,
    edits.setMark(body, frame, point, streak),
  )
  return true
}

/** In marking mode: marks and advances. If one end of a streak is set, this is the other. */
export function markHere(session: Session, body: string, frame: number, at: PlacedByHand): void {
  const { streak } = useWorkbench.getState()
  if (streak) markStreak(session, body, frame, streak, at)
  else if (setHandMark(session, body, frame, { ...at, ...settledMark(at, frame) })) goOn(session, body, frame)
}

/** In marking mode: marks the middle between the two ends of a streak, and advances. */
export function markStreak(
  session: Session,
  body: string,
  frame: number,
  from: PlacedByHand,
  to: PlacedByHand,
): void {
  workbench.setStreak(null)
  const size = pictureSize(session.document)
  const [a, b] = [inside(from, size), inside(to, size)]
  // The error of the mean of two independent points.
  const error = meanPlacingError([a, b]) / Math.SQRT2
  const middle = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2, error: Number(error.toFixed(2)) }
  const half = { x: (b.x - a.x) / 2, y: (b.y - a.y) / 2 }
  const isStreak = distance(a, b) >= SHORTEST_STREAK
  if (setHandMark(session, body, frame, middle, isStreak ? half : undefined)) goOn(session, body, frame)
}

/** Goes to the next frame in use, or leaves the mode after the last. */
function goOn(session: Session, body: string, frame: number): void {
  const investigation = session.document
  const next = framesInUse(investigation).step(frame, 1)
  if (next > frame) {
    workbench.goTo(next)
    return
  }
  workbench.leave()
  notify(`The end of the span is reached: ${Object.keys(investigation.bodies[body].marks).length} marks.`)
}

/** In marking mode: advances without a mark, which leaves a gap. */
export function skipFrame(session: Session): void {
  const { mode, frame } = useWorkbench.getState()
  if (mode.kind === 'mark' || mode.kind === 'second') goOn(session, mode.body, frame)
}

/** In marking mode: the body has rested at its last mark until the present frame. */
export function restUntilHere(session: Session): void {
  const { mode, frame } = useWorkbench.getState()
  if (mode.kind !== 'mark' || !canMark(session, mode.body, frame)) return
  const { marks } = session.document.bodies[mode.body]
  const used = framesInUse(session.document)
  const last = framesOf({ marks }).findLast((at) => at < frame && used.has(at))
  if (last === undefined) {
    notify('Mark it once where it rests, then go on to the frame until which it stays there.')
    return
  }
  restFrom(session, mode.body, last, frame)
  goOn(session, mode.body, frame)
}

/** Sets the frame until which a body rests at a mark; the mark's own frame ends the rest. */
export function restFrom(session: Session, body: string, from: number, to: number): void {
  const { name, marks } = session.document.bodies[body]
  session.edit(
    to > from ? `${name} rests from frame ${from} to ${to}` : `${name} does not rest`,
    edits.setRest(body, from, to, marks[from]),
  )
}

/** Sets whether the motion breaks before a frame's mark, or resets that. */
export function sayBreak(session: Session, body: string, frame: number, word: BreakWord | null): void {
  if (isBodyLocked(session, body)) return
  const label = word === 'break' ? 'a break' : word === 'none' ? 'no break' : 'forget the break'
  session.edit(`${label} before frame ${frame}`, edits.setBreak(body, frame, word))
}

/** Deletes the marks of a body from one frame to another, both included. */
export function clearStretch(session: Session, body: string, from?: number, to?: number): void {
  if (isBodyLocked(session, body)) return
  const { name } = session.document.bodies[body]
  session.edit(`clear marks of ${name}`, edits.clearMarks(body, from, to))
  workbench.select(null)
}

/** Enters marking of a body's second point, at its first mark without one. */
export function startSecond(session: Session, body: string): void {
  if (isBodyLocked(session, body)) return
  const { marks, second, name } = session.document.bodies[body]
  const used = framesInUse(session.document)
  const waiting = framesOf({ marks }).filter((frame) => used.has(frame) && !(frame in second))
  if (waiting.length === 0 && Object.keys(second).length === 0) {
    notify(`Mark ${name} first: its second point shows how it is turned around its mark.`)
    return
  }
  const { frame } = useWorkbench.getState()
  workbench.setBody(body)
  workbench.goTo(waiting.find((at) => at >= frame) ?? waiting[0] ?? frame)
  workbench.enter({ kind: 'second', body })
}

/** Marks the second point of a body in a frame, and advances. */
export function markSecond(session: Session, body: string, frame: number, at: Point): void {
  if (!canMark(session, body, frame)) return
  const investigation = session.document
  const { marks, name } = investigation.bodies[body]
  if (!marks[frame]) {
    notify(`${name} has no mark in this frame. Skip it, or mark it first.`)
    return
  }
  const point = inside(at, pictureSize(investigation))
  if (distance(point, marks[frame]) < SHORTEST_STREAK) {
    notify('The second point has to lie apart from the first: it shows the direction from there.')
    return
  }
  session.edit(`mark the second point of ${name} in frame ${frame}`, edits.setSecond(body, frame, point))
  goOn(session, body, frame)
}

/** In a marking mode: deletes the last mark and returns to its frame. */
export function takeBack(session: Session): void {
  const { mode, frame } = useWorkbench.getState()
  if (collectsPoints(mode)) {
    workbench.enter({ ...mode, points: mode.points.slice(0, -1) })
    return
  }
  if (mode.kind !== 'mark' && mode.kind !== 'second') return
  if (useWorkbench.getState().streak) {
    workbench.setStreak(null)
    return
  }
  const investigation = session.document
  const { marks, second } = investigation.bodies[mode.body]
  const used = framesInUse(investigation)
  const marked = Object.keys(mode.kind === 'mark' ? marks : second).map(Number)
  const last = marked.filter((candidate) => candidate <= frame && used.has(candidate)).sort((a, b) => b - a)
  const target = last.find((candidate) => candidate < frame) ?? last[0]
  if (target === undefined) return
  session.edit(
    `take back frame ${target}`,
    mode.kind === 'mark' ? edits.removeMark(mode.body, target) : edits.setSecond(mode.body, target, null),
  )
  workbench.goTo(target)
}
