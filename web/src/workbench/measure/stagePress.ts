import type { PlacedByHand, Point } from '@apokinema/core/geometry'
import type { Investigation } from '@apokinema/core/investigation'
import type { PointerEvent } from 'react'
import type { Session } from '../../document/session.ts'
import { addPoints, drawsLine } from '../calibrating.ts'
import { clickOn } from '../clicking.ts'
import { markStreak } from '../marking.ts'
import { placedBy } from '../placing.ts'
import { isHeldFast, moveTo } from '../selecting.ts'
import { activeBody } from '../shown.ts'
import { snappedEnd } from '../snapping.ts'
import { collectsPoints, type Selection, useWorkbench, type View, workbench } from '../workbenchStore.ts'
import { hitTest, outlineHitTest } from './hitTest.ts'

/** Distance in CSS pixels below which a press of the mouse is a click. */
const CLICK_REACH = 4
/** Distance in CSS pixels below which a press of a finger is a tap. */
const TAP_REACH = 10
/** Distance in CSS pixels within which a pointer hits something. */
const HOLD_REACH = { touch: 22, other: 11 }

/** Distance of the reticle above the finger in CSS pixels, so that the finger does not hide the spot. */
const ABOVE_FINGER = 64

/** A pointer that is down on the stage. */
export interface Press {
  pointer: number
  /** Where it began, on the stage and in the picture. */
  start: Point
  at: Point
  button: number
  moved: boolean
  frame: number
  drags: Selection | null
  /** Position of the reticle when a finger came down to move it; null if there was none: it appears above the finger. */
  aims: { at: Point | null } | null
  /** Number of points placed before it, if dragging it places two more; null if it does not, as where a finger moves the reticle. */
  line: number | null
  pans: View | null
}

/**
 * Begins a press: selects what lies under the pointer, or brings the reticle.
 *
 * @param start on the stage, in CSS pixels
 * @param at in the picture, in its pixels
 */
export function beginPress(
  event: PointerEvent,
  investigation: Investigation,
  { start, at, view, shown }: { start: Point; at: Point; view: View; shown: number },
): Press {
  const { mode, body, reticle } = useWorkbench.getState()
  const isTouch = event.pointerType === 'touch'
  const reach = HOLD_REACH[isTouch ? 'touch' : 'other'] / view.zoom
  const isSelecting = mode.kind === 'select' && event.button === 0
  const hit = isSelecting
    ? hitTest(investigation, at, reach, shown, activeBody(investigation, body))
    : mode.kind === 'follow' && event.button === 0
      ? outlineHitTest(investigation, mode.body, at, reach, shown)
      : null
  const aims = isTouch && mode.kind !== 'select' && !hit
  // What is locked can be selected, and the picture is moved by it.
  const drags = hit && isHeldFast(investigation, hit) ? null : hit
  if (!aims) workbench.setReticle(at, 'mouse')
  if (isSelecting) {
    workbench.select(hit)
    if (hit?.kind === 'mark') workbench.goTo(hit.frame)
  }
  return {
    pointer: event.pointerId,
    start,
    at,
    button: event.button,
    moved: false,
    frame: shown,
    drags,
    aims: aims ? { at: reticle } : null,
    line: drawsLine(mode) && !(isTouch && reticle) ? mode.points.length : null,
    pans: drags ? null : view,
  }
}

/**
 * Goes on with a press: drags what it began on, draws a line or a streak, moves the reticle or the picture. Does nothing
 * until the pointer has moved farther than a click may.
 *
 * @param here on the stage, in CSS pixels
 * @param at in the picture, in its pixels
 */
export function movePress(
  session: Session,
  press: Press,
  { here, at, view }: { here: Point; at: Point; view: View },
): void {
  const { mode, streak } = useWorkbench.getState()
  const reach = press.aims ? TAP_REACH : CLICK_REACH
  if (!press.moved && Math.hypot(here.x - press.start.x, here.y - press.start.y) < reach) return
  press.moved = true
  if (press.aims && press.line === null) {
    const from = press.aims.at ?? { x: press.at.x, y: press.at.y - ABOVE_FINGER / view.zoom }
    workbench.setReticle({ x: from.x + at.x - press.at.x, y: from.y + at.y - press.at.y }, 'touch')
  } else if (press.drags) {
    const move = moveTo(session, press.drags, at, press.frame)
    if (!move) return
    session.preview(move.mutator)
    workbench.drag(at)
  } else if (collectsPoints(mode) && press.line !== null) {
    if (mode.points.length === press.line)
      workbench.enter({ ...mode, points: [...mode.points, { ...press.at, frame: press.frame }] })
  } else if (mode.kind === 'mark' && press.button === 0) {
    if (!streak) workbench.setStreak(placedBy('mouse', press.at))
  } else if (press.pans)
    workbench.setView({
      ...press.pans,
      x: press.pans.x + here.x - press.start.x,
      y: press.pans.y + here.y - press.start.y,
    })
}

/**
 * Ends a press: commits a drag, a line or a streak, or handles the click.
 *
 * @param released in the picture, in its pixels
 */
export function endPress(session: Session, press: Press, event: PointerEvent, released: Point): void {
  const { mode, streak } = useWorkbench.getState()
  const tool = event.pointerType === 'touch' ? 'touch' : 'mouse'
  const at = placedBy(tool, released)
  if (press.drags) {
    const to = press.drags.kind === 'end' ? snappedMove(session, press.drags, at, press.frame) : at
    const move = press.moved ? moveTo(session, press.drags, to, press.frame) : null
    if (move) session.edit(move.label, move.mutator)
    else session.preview(null)
  } else if (press.aims && !(press.moved && press.line !== null)) {
    if (press.moved) return
    // A tap places the point at the reticle; where there is no reticle yet, it brings one.
    if (press.aims.at) clickOn(session, placedBy('touch', press.aims.at), press.frame)
    else workbench.setReticle(press.at, 'touch')
  } else if (!press.moved) {
    if (event.button === 0) clickOn(session, placedBy(tool, press.at), press.frame)
  } else if (mode.kind === 'mark' && press.button === 0) {
    if (streak) markStreak(session, mode.body, press.frame, streak, at)
  } else if (collectsPoints(mode) && press.line !== null)
    addPoints(session, [
      ...mode.points.slice(0, press.line),
      { ...placedBy(tool, press.at), frame: press.frame },
      { ...at, frame: press.frame },
    ])
}

/** Returns where an end of a reference length snaps to that is dragged to a point. */
function snappedMove(
  session: Session,
  { reference, end }: Selection & { kind: 'end' },
  at: PlacedByHand,
  frame: number,
): PlacedByHand {
  const other = session.document.references[reference]?.ends[end === 0 ? 1 : 0]
  return other ? snappedEnd({ ...at, frame }, other) : at
}
