import { landmarkAt } from '@apokinema/core/geometry'
import { inOrder } from '@apokinema/core/investigation'
import { memo } from 'react'
import { Group, Rect } from 'react-konva'
import { useClock } from '../../ClipContext.tsx'
import { useWorkbench } from '../../workbenchStore.ts'
import type { OverlayProps } from './overlayProps.ts'
import { Label } from './strokes.tsx'

/** Landmarks of a moving camera as squares on their tips: full where marked in this frame, dashed where between or held. */
export const Landmarks = memo(function Landmarks({ investigation, frame, toStage }: OverlayProps) {
  const { camera } = investigation
  const clock = useClock()
  const selection = useWorkbench((state) => state.selection)
  if (camera.motion === 'still' || !clock) return null
  return inOrder(camera.landmarks).map(([id, landmark]) => {
    const place = landmarkAt({ id, ...landmark }, frame, clock.seconds)
    if (!place) return null
    const at = toStage(place)
    const chosen = selection?.kind === 'landmark' && selection.landmark === id
    const dash = place.how === 'marked' ? {} : { dash: [4, 3] }
    const square = (stroke: string, strokeWidth: number) => (
      <Rect
        x={at.x}
        y={at.y}
        width={18}
        height={18}
        offsetX={9}
        offsetY={9}
        rotation={45}
        {...{ stroke, strokeWidth, ...dash }}
      />
    )
    return (
      <Group key={id}>
        {square('rgba(16,24,26,0.85)', 4.4)}
        {square(chosen ? '#9FE3DC' : '#FFFFFF', 2)}
        <Label at={{ x: at.x, y: at.y - 24 }} text={landmark.name} />
      </Group>
    )
  })
})
