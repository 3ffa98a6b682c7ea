import { type PointerEvent, useRef } from 'react'
import type { ScaleGrip } from './useScaleGrip.ts'

type Hand = (event: PointerEvent<HTMLDivElement>) => void

/** Pointer handlers of a graph. */
export interface Hands {
  onPointerDown: Hand
  onPointerMove: Hand
  onPointerUp: Hand
  onPointerLeave: () => void
  onPointerCancel: () => void
}

/**
 * Zooms a graph with two fingers, along the axis on which they are farther apart; what the first finger had begun is
 * cancelled. Any other pointer is passed on.
 */
export function usePlotPinch(hands: Hands, xGrip: ScaleGrip, yGrip: ScaleGrip): Hands {
  /** The fingers on the graph, with their last events. */
  const touches = useRef(new Map<number, PointerEvent<HTMLDivElement>>())
  const pinched = useRef<'x' | 'y' | null>(null)
  const grip = () => (pinched.current === 'y' ? yGrip : xGrip)
  const end = (event: PointerEvent<HTMLDivElement>) => {
    touches.current.delete(event.pointerId)
    if (touches.current.size === 0) pinched.current = null
  }
  return {
    ...hands,
    onPointerDown: (event) => {
      if (event.pointerType === 'touch') touches.current.set(event.pointerId, event)
      if (touches.current.size < 2) {
        hands.onPointerDown(event)
        return
      }
      event.currentTarget.setPointerCapture(event.pointerId)
      if (pinched.current) {
        grip().take(event)
        return
      }
      hands.onPointerCancel()
      const [first, second] = touches.current.values()
      const [dx, dy] = [second.clientX - first.clientX, second.clientY - first.clientY]
      pinched.current = Math.abs(dy) > Math.abs(dx) ? 'y' : 'x'
      for (const touch of [first, second]) grip().take(touch)
    },
    onPointerMove: (event) => {
      if (touches.current.has(event.pointerId)) touches.current.set(event.pointerId, event)
      if (pinched.current) grip().move(event)
      else hands.onPointerMove(event)
    },
    onPointerUp: (event) => {
      if (pinched.current) grip().leave(event)
      else hands.onPointerUp(event)
      end(event)
    },
    onPointerCancel: () => {
      grip().drop()
      touches.current.clear()
      pinched.current = null
      hands.onPointerCancel()
    },
  }
}
