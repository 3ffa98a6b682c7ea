import type { DependencyList, PointerEvent } from 'react'
import type { Look } from '../../theme/look.ts'
import { useCanvas } from '../useCanvas.ts'
import { LANE_HEIGHT } from './lanes.ts'

/** Least distance in pixels within which a sign is hit. */
const REACH = 4

/**
 * The signs of a lane on a canvas: there can be thousands, and they change with every mark.
 *
 * @param frames with a sign, in order
 * @param size half the height of a sign, in pixels
 * @param titleOf returns the title of a frame's sign, or of the lane at x
 * @param draw draws everything, again when something of `depends` changes
 */
export function Signs({
  width,
  top,
  label,
  frames,
  xOf,
  size,
  titleOf,
  choose,
  draw,
  depends,
}: {
  width: number
  top: number
  label: string
  frames: readonly number[]
  xOf: (frame: number) => number
  size: number
  titleOf: (frame: number | null, x: number) => string
  choose: (frame: number) => void
  draw: (context: CanvasRenderingContext2D, look: Look) => void
  depends: DependencyList
}) {
  const canvas = useCanvas(
    { width, height: LANE_HEIGHT },
    (context, density, look) => {
      context.scale(density, density)
      draw(context, look)
    },
    depends,
  )
  const under = ({ clientX, clientY, currentTarget }: PointerEvent<HTMLCanvasElement>) => {
    const box = currentTarget.getBoundingClientRect()
    const x = clientX - box.left
    const near = Math.max(REACH, size)
    if (Math.abs(clientY - box.top - LANE_HEIGHT / 2) > near) return { x, frame: null }
    let best: { frame: number; away: number } | null = null
    for (const frame of frames) {
      const away = Math.abs(xOf(frame) - x)
      if (away <= near && (!best || away < best.away)) best = { frame, away }
    }
    return { x, frame: best?.frame ?? null }
  }
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={label}
      data-signs={frames.length}
      style={{ position: 'absolute', left: 0, top, width, height: LANE_HEIGHT }}
      onPointerMove={(event) => {
        const { x, frame } = under(event)
        event.currentTarget.title = titleOf(frame, x)
      }}
      onPointerDown={(event) => {
        const { frame } = under(event)
        if (frame === null || event.button !== 0) return
        event.stopPropagation()
        choose(frame)
      }}
    />
  )
}
