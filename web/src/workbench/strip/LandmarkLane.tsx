import { markedFrames } from '@apokinema/core/geometry'
import type { Landmark } from '@apokinema/core/investigation'
import { memo } from 'react'
import { useClock } from '../ClipContext.tsx'
import { useWorkbench, workbench } from '../workbenchStore.ts'
import { LANE_HEIGHT } from './Lane.tsx'
import type { TimeScale } from './timeScale.ts'

/** A landmark along time: squares on their tips where it was really marked, a line between, dashes where it is held. */
export const LandmarkLane = memo(function LandmarkLane({
  id,
  landmark,
  scale,
  top,
}: {
  id: string
  landmark: Landmark
  scale: TimeScale
  top: number
}) {
  const clock = useClock()
  const selection = useWorkbench((state) => state.selection)
  if (!clock) return null
  const frames = markedFrames(landmark).filter((frame) => frame < clock.seconds.length)
  const end = Math.min(landmark.gone ?? clock.seconds.length, clock.seconds.length) - 1
  const xOf = (frame: number) => scale.x(clock.seconds[frame] - clock.zero)
  const middle = LANE_HEIGHT / 2
  const [first, last] = [frames[0], frames.at(-1)]
  const size =
    frames.length > 1 ? Math.min(5, Math.max(2, (xOf(last!) - xOf(first)) / frames.length / 2.4)) : 5
  return (
    <svg
      width={scale.width}
      height={LANE_HEIGHT}
      style={{ position: 'absolute', left: 0, top }}
      aria-label={`Marks of ${landmark.name}`}
    >
      {last !== undefined && (
        <>
          <line x1={xOf(first)} x2={xOf(last)} y1={middle} y2={middle} stroke="#5C6664" />
          <line
            x1={xOf(last)}
            x2={xOf(Math.max(last, end))}
            y1={middle}
            y2={middle}
            stroke="#5C6664"
            strokeDasharray="3 4"
          />
        </>
      )}
      {frames.map((frame) => {
        const chosen =
          selection?.kind === 'landmark' && selection.landmark === id && selection.frame === frame
        return (
          <rect
            key={frame}
            x={-size}
            y={-size}
            width={2 * size}
            height={2 * size}
            transform={`translate(${xOf(frame)} ${middle}) rotate(45) scale(0.75)`}
            fill={chosen ? '#0F5C5C' : '#FFFFFF'}
            stroke="#1E2526"
            strokeWidth={1.4}
            data-landmark={frame}
            onPointerDown={(event) => {
              event.stopPropagation()
              workbench.goTo(frame)
              workbench.select({ kind: 'landmark', landmark: id, frame })
            }}
          />
        )
      })}
    </svg>
  )
})
