import type { Point } from '@apokinema/core/geometry'
import { axesOf } from '@apokinema/core/investigation'
import type { ProposedAxes } from '@apokinema/core/proposals'
import { memo } from 'react'
import { useProposedAxes } from '../../proposals/useBodyProposals.ts'
import { useProposals } from '../../proposals/useProposedBodies.ts'
import type { OverlayProps } from './overlayProps.ts'
import { ArrowHead, Edged, Label } from './strokes.tsx'

/** Length of the arrows on the stage, in pixels. */
const LENGTH = 120

/** Returns the proposed axes as they are drawn on the picture; null if there are none or they are hidden. */
export function useGhostAxes(): ProposedAxes | null {
  const proposed = useProposedAxes()
  const isHidden = useProposals(({ hidden }) => hidden)
  return isHidden ? null : proposed
}

/** Proposed axes as two dashed arrows. */
export const GhostAxes = memo(function GhostAxes({
  investigation,
  toStage,
}: Pick<OverlayProps, 'investigation' | 'toStage'>) {
  const proposed = useGhostAxes()
  if (!proposed) return null
  const { origin, tilt, turnedX, turnedY } = lying(proposed, axesOf(investigation))
  const at = toStage(origin)
  const arrow = (angle: number): Point => ({
    x: at.x + LENGTH * Math.cos(angle),
    y: at.y - LENGTH * Math.sin(angle),
  })
  const ends = [
    ['x', arrow(tilt + (turnedX ? Math.PI : 0))],
    ['y', arrow(tilt + Math.PI / 2 + (turnedY ? Math.PI : 0))],
  ] as const
  return (
    <g data-ghost-axes={proposed.kind}>
      {ends.map(([name, tip]) => (
        <g key={name}>
          <Edged points={[at, tip]} dash={[7, 6]} />
          <ArrowHead tip={tip} from={at} />
          <Label
            at={{ x: tip.x + ((tip.x - at.x) * 15) / LENGTH, y: tip.y + ((tip.y - at.y) * 15) / LENGTH }}
            text={name}
            italic
          />
        </g>
      ))}
    </g>
  )
})

/** Returns the axes as they would lie if the proposed ones were taken. */
function lying(proposed: ProposedAxes, axes: ReturnType<typeof axesOf>) {
  const { origin, tilt, turnedX, turnedY } = axes
  switch (proposed.kind) {
    case 'line':
      return { turnedY, tilt: proposed.tilt, origin: proposed.origin, turnedX: proposed.turnedX }
    case 'fall':
      return { origin, turnedX, turnedY, tilt: proposed.tilt }
    case 'pivot':
      return { turnedX, turnedY, tilt, origin: proposed.origin }
  }
}
