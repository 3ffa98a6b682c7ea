import type { Point } from '@apokinema/core/geometry'
import { type PointerEvent, type RefObject, useRef } from 'react'
import { shownOf, useSession } from '../../document/SessionContext.tsx'
import { useWorkbench, type View, workbench } from '../workbenchStore.ts'
import { beginPress, endPress, movePress, type Press } from './stagePress.ts'

/**
 * Returns the pointer handlers of the stage: a click, the drag of a selected thing, a drawn line, a moved picture, a pinch.
 *
 * @param holder the element that holds the stage
 * @param zoomAround zooms the view by a factor around a point of the stage
 */
export function useStagePointer(
  holder: RefObject<HTMLElement | null>,
  view: View,
  zoomAround: (factor: number, around: Point) => void,
) {
  const session = useSession()
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
    press.current = beginPress(event, investigation, { start, at: inPicture(start), view, shown })
  }

  const onPointerMove = (event: PointerEvent) => {
    const here = onStage(event)
    const at = inPicture(here)
    const other = [...pinch.current].find(([id]) => id !== event.pointerId)?.[1]
    const before = pinch.current.get(event.pointerId)
    if (before) pinch.current.set(event.pointerId, here)
    if (before && other) {
      const was = Math.hypot(before.x - other.x, before.y - other.y)
      const is = Math.hypot(here.x - other.x, here.y - other.y)
      if (was > 0) zoomAround(is / was, { x: (here.x + other.x) / 2, y: (here.y + other.y) / 2 })
      return
    }
    const isDrawn = press.current?.aims && press.current.line !== null
    if (!press.current?.aims || isDrawn) workbench.setReticle(at, isDrawn ? 'touch' : 'mouse')
    if (press.current) movePress(session, press.current, { here, at, view })
  }

  const onPointerUp = (event: PointerEvent) => {
    pinch.current.delete(event.pointerId)
    const ended = press.current
    press.current = null
    workbench.drag(null)
    if (ended?.pointer === event.pointerId) endPress(session, ended, event, inPicture(onStage(event)))
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
