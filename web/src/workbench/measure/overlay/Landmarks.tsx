import { landmarkAt } from '@apokinema/core/geometry'
import { inOrder } from '@apokinema/core/investigation'
import { memo } from 'react'
import { useClock } from '../../ClipContext.tsx'
import { CHOSEN, DARK, LIGHT } from '../../strokes.ts'
import { useWorkbench } from '../../workbenchStore.ts'
import type { OverlayProps } from './overlayProps.ts'
import { Label } from './strokes.tsx'

/** Landmarks of a moving camera as diamonds: solid if marked in this frame, dashed if interpolated or held. */
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
    const square = (stroke: string, strokeWidth: number) => (
      <rect
        transform={`translate(${at.x} ${at.y}) rotate(45)`}
        x={-9}
        y={-9}
        width={18}
        height={18}
        fill="none"
        stroke={stroke}
        strokeWidth={strokeWidth}
        strokeDasharray={place.how === 'marked' ? undefined : '4 3'}
      />
    )
    return (
      <g key={id}>
        {square(DARK, 4.4)}
        {square(chosen ? CHOSEN : LIGHT, 2)}
        <Label at={{ x: at.x, y: at.y - 24 }} text={landmark.name} />
      </g>
    )
  })
})
