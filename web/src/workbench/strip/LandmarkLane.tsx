import { markedFrames } from '@apokinema/core/geometry'
import type { Landmark } from '@apokinema/core/investigation'
import { memo } from 'react'
import type { Look } from '../../theme/look.ts'
import { useClock } from '../ClipContext.tsx'
import { useWorkbench, workbench } from '../workbenchStore.ts'
import { LANE_HEIGHT } from './lanes.ts'
import { Signs } from './Signs.tsx'
import type { TimeScale } from './timeScale.ts'

/** A landmark along time: diamonds where it was marked, a line between, dashes where it is held. */
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
  const chosen = selection?.kind === 'landmark' && selection.landmark === id ? selection.frame : null
  const draw = (context: CanvasRenderingContext2D, { palette }: Look) => {
    context.strokeStyle = palette.inkMuted
    if (last !== undefined) {
      lineTo(context, xOf(first), xOf(last), middle)
      context.setLineDash([3, 4])
      lineTo(context, xOf(last), xOf(Math.max(last, end)), middle)
      context.setLineDash([])
    }
    context.strokeStyle = palette.ink
    for (const frame of frames) {
      context.save()
      context.translate(xOf(frame), middle)
      context.rotate(Math.PI / 4)
      context.scale(0.75, 0.75)
      context.lineWidth = 1.4
      context.fillStyle = frame === chosen ? palette.petrol : palette.panel
      context.fillRect(-size, -size, 2 * size, 2 * size)
      context.strokeRect(-size, -size, 2 * size, 2 * size)
      context.restore()
    }
  }
  return (
    <Signs
      width={scale.width}
      top={top}
      label={`Marks of ${landmark.name}: ${frames.length}`}
      frames={frames}
      xOf={xOf}
      size={size}
      draw={draw}
      titleOf={(frame) => (frame === null ? '' : `frame ${frame}`)}
      choose={(frame) => {
        workbench.goTo(frame)
        workbench.select({ kind: 'landmark', landmark: id, frame })
      }}
      depends={[landmark, clock, scale, chosen]}
    />
  )
})

function lineTo(context: CanvasRenderingContext2D, from: number, to: number, y: number): void {
  context.beginPath()
  context.moveTo(from, y)
  context.lineTo(to, y)
  context.stroke()
}
