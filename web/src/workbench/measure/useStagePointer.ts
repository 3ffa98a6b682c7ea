import type { Point } from '@apokinema/core/geometry'
import { type PointerEvent, type RefObject, useRef } from 'react'
import { shownOf, useSession } from '../../document/SessionContext.tsx'
import { drawsLine, finishPoints } from '../calibrating.ts'
import { clickOn } from '../clicking.ts'
import { markStreak } from '../marking.ts'
import { placedBy } from '../placing.ts'
import { isHeldFast, moveTo } from '../selecting.ts'
import { activeBody } from '../shown.ts'
import { type Selection, useWorkbench, type View, workbench } from '../workbenchStore.ts'
import { hitTest, outlineHitTest } from './hitTest.ts'

/** A pointer that moved less than this, in CSS pixels, clicked. */
const CLICK_REACH = 4
/** A finger that moved less than this tapped. */
const TAP_REACH = 10
/** How near a pointer has to be to take hold of something, in CSS pixels. */
const HOLD_REACH = { touch: 22, other: 11 }

/** How far above the finger the reticle hangs, in CSS pixels, so that the finger does not hide the spot. */
const ABOVE_FINGER = 64

interface Press {
  pointer: number
  /** Where it began, on the stage and in the picture. */
  start: Point
  at: Point
  button: number
  moved: boolean
  frame: number
  drags: Selection | null
  /** Where the reticle was when a finger came to move it; null: it was nowhere, and hangs above the finger now. */
  aims: { at: Point | null } | null
  pans: View | null
}

/**
 * Returns what pointers do on the stage: click, take hold of something and drag it, draw a line, move the picture,
 * pinch. Handlers for the element that holds the stage.
 */
export function useStagePointer(
  holder: RefObject<HTMLElement | null>,
  view: View,
  zoomAround: (factor: number, around: Point) => void,
) {
  const session = useSession()
  const mode = useWorkbench((state) => state.mode)
  const chosenBody = useWorkbench((state) => state.body)
  const press = useRef<Press | null>(null)
  const pinch = useRef<Map<number, Point>>(new Map())

  const onStage = (event: PointerEvent): Point => {
    const box = holder.current!.getBoundingClientRect()
    return { x: event.clientX - box.left, y: event.clientY - box.top }
  }
  const inPicture = ({ x, y }: Point): Point => ({ x: (x - view.x) / view.zoom, y: (y - view.y) / view.zoom })

  const onPointerDown = (event: PointerEvent) => {
    const { shown } = useWorkbench.getState()
    const investigation = shownOf(session.store.getState())
    if (!investigation.footage || shown === null || event.button > 1) return
    const start = onStage(event)
    pinch.current.set(event.pointerId, start)
    if (pinch.current.size > 1) {
      press.current = null
      workbench.drag(null)
      session.preview(null)
      return
    }
    holder.current!.setPointerCapture(event.pointerId)
    const at = inPicture(start)
    const reach = HOLD_REACH[event.pointerType === 'touch' ? 'touch' : 'other'] / view.zoom
    const takes = mode.kind === 'select' && event.button === 0
    const hit = takes
      ? hitTest(investigation, at, reach, shown, activeBody(investigation, chosenBody))
      : mode.kind === 'follow' && event.button === 0
        ? outlineHitTest(investigation, mode.body, at, reach, shown)
        : null
    const aims = event.pointerType === 'touch' && mode.kind !== 'select' && !hit
    press.current = {
      pointer: event.pointerId,
      start,
      at,
      button: event.button,
      moved: false,
      frame: shown,
      // What is locked can be looked at, and the picture moved by it.
      drags: hit && isHeldFast(investigation, hit) ? null : hit,
      aims: aims ? { at: useWorkbench.getState().reticle } : null,
      pans: hit && !isHeldFast(investigation, hit) ? null : view,
    }
    if (!aims) workbench.setReticle(at, 'mouse')
    if (!takes) return
    workbench.select(hit)
    if (hit?.kind === 'mark') workbench.goTo(hit.frame)
  }

  const onPointerMove = (event: PointerEvent) => {
    const here = onStage(event)
    const at = inPicture(here)
    const other = [...pinch.current].find(([id]) => id !== event.pointerId)?.[1]
    const before = pinch.current.get(event.pointerId)
    if (before && other) {
      const was = Math.hypot(before.x - other.x, before.y - other.y)
      const is = Math.hypot(here.x - other.x, here.y - other.y)
      if (was > 0) zoomAround(is / was, { x: (here.x + other.x) / 2, y: (here.y + other.y) / 2 })
      pinch.current.set(event.pointerId, here)
      return
    }
    if (before) pinch.current.set(event.pointerId, here)
    const held = press.current
    if (!held?.aims) workbench.setReticle(at, 'mouse')
    if (!held) return
    const reach = held.aims ? TAP_REACH : CLICK_REACH
    if (!held.moved && Math.hypot(here.x - held.start.x, here.y - held.start.y) < reach) return
    held.moved = true
    if (held.aims) {
      const from = held.aims.at ?? { x: held.at.x, y: held.at.y - ABOVE_FINGER / view.zoom }
      workbench.setReticle({ x: from.x + at.x - held.at.x, y: from.y + at.y - held.at.y }, 'touch')
      return
    }
    if (held.drags) {
      const move = moveTo(session, held.drags, at, held.frame)
      if (move) {
        session.preview(move.recipe)
        workbench.drag(at)
      }
    } else if (drawsLine(mode)) {
      if (mode.points.length === 0) workbench.enter({ ...mode, points: [{ ...held.at, frame: held.frame }] })
    } else if (mode.kind === 'mark' && held.button === 0) {
      if (!useWorkbench.getState().streak) workbench.setStreak(placedBy('mouse', held.at))
    } else if (held.pans) {
      workbench.setView({
        ...held.pans,
        x: held.pans.x + here.x - held.start.x,
        y: held.pans.y + here.y - held.start.y,
      })
    }
  }

  const onPointerUp = (event: PointerEvent) => {
    pinch.current.delete(event.pointerId)
    const held = press.current
    press.current = null
    workbench.drag(null)
    if (!held || held.pointer !== event.pointerId) return
    const tool = event.pointerType === 'touch' ? 'touch' : 'mouse'
    const at = placedBy(tool, inPicture(onStage(event)))
    if (held.drags) {
      const move = held.moved ? moveTo(session, held.drags, at, held.frame) : null
      if (move) session.edit(move.label, move.recipe)
      else session.preview(null)
    } else if (held.aims) {
      if (held.moved) return
      // A tap sets the point at the reticle; where there was none yet, it brings it.
      if (held.aims.at) clickOn(session, placedBy('touch', held.aims.at), held.frame)
      else workbench.setReticle(held.at, 'touch')
    } else if (!held.moved) {
      if (event.button === 0) clickOn(session, placedBy(tool, held.at), held.frame)
    } else if (mode.kind === 'mark' && held.button === 0) {
      const { streak } = useWorkbench.getState()
      if (streak) markStreak(session, mode.body, held.frame, streak, at)
    } else if (drawsLine(mode))
      finishPoints(session, [
        { ...placedBy(tool, held.at), frame: held.frame },
        { ...at, frame: held.frame },
      ])
  }

  const onPointerCancel = (event: PointerEvent) => {
    pinch.current.delete(event.pointerId)
    press.current = null
    workbench.drag(null)
    workbench.setStreak(null)
    session.preview(null)
  }

  const onPointerLeave = (event: PointerEvent) => {
    // A finger that is lifted leaves its reticle behind.
    if (!press.current && event.pointerType !== 'touch') workbench.setReticle(null, 'mouse')
  }

  return { onPointerDown, onPointerMove, onPointerUp, onPointerCancel, onPointerLeave }
}
