import { type PointerEvent, useRef } from 'react'
import type { ScaleGrip } from './useScaleGrip.ts'

type Hand = (event: PointerEvent<HTMLDivElement>) => void

/** What one pointer does on a graph. */
export interface Hands {
  onPointerDown: Hand
  onPointerMove: Hand
  onPointerUp: Hand
  onPointerLeave: () => void
  onPointerCancel: () => void
}

/**
 * Two fingers on a graph zoom it along the direction in which they are further apart; what one finger had begun is
 * given up. Any other pointer does what hands do.
 */
export function usePlotPinch(hands: Hands, xGrip: ScaleGrip, yGrip: ScaleGrip): Hands {
  /** Fingers that touch the graph, by their last event. */
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
