import { freeColour } from '@apokinema/core/investigation'
import type { ProposedBody } from '@apokinema/core/proposals'
import { placeOfProposed } from '@apokinema/core/proposals'
import { memo } from 'react'
import { useShallow } from 'zustand/react/shallow'
import { useInvestigation } from '../../../document/SessionContext.tsx'
import { BODY_PAINT } from '../../../theme/palettes.ts'
import { keyOf, useProposals, useProposedBodies } from '../../proposals/useProposedBodies.ts'
import { useWorkbench } from '../../workbenchStore.ts'
import { outlinePoints } from '../hitTest.ts'
import type { OverlayProps } from './overlayProps.ts'
import { Edged } from './strokes.tsx'

/**
 * Returns what is proposed on the picture: nothing while something else is done there; once there is a body, what is seen in
 * the frame, so that nothing covers its marks that moves at another time.
 */
export function useGhosts(): ProposedBody[] {
  const proposed = useProposedBodies()
  const hasBody = useInvestigation(({ bodies }) => Object.keys(bodies).length > 0)
  // The same list for as long as the same ones are seen: not everything that uses it renders with every frame.
  const seen = useWorkbench(
    useShallow((state) =>
      proposed.filter((one) => placeOfProposed(one, state.shown ?? state.frame) !== null),
    ),
  )
  const isHidden = useProposals(({ hidden }) => hidden)
  const isBusy = useWorkbench(({ mode, selection }) => mode.kind !== 'select' || selection?.kind === 'mark')
  if (isHidden || isBusy) return NONE
  return hasBody ? seen : proposed
}

const NONE: ProposedBody[] = []

/** Returns where the outline of a proposed body is drawn in a frame: where it is seen best if it is not seen there. */
export const ghostPlace = (proposed: ProposedBody, frame: number) =>
  placeOfProposed(proposed, frame) ?? proposed.best

/** What was seen to move, as dashed outlines with their paths: the first in the colour that its body would have. */
export const Ghosts = memo(function Ghosts({ toStage }: Pick<OverlayProps, 'toStage'>) {
  const proposed = useGhosts()
  const colour = useInvestigation(({ bodies }) => freeColour(bodies).colour)
  const frame = useWorkbench((state) => state.shown ?? state.frame)
  return (
    <>
      {proposed.map((one, i) => (
        <g key={keyOf(one)} data-ghost={i} opacity={i === 0 ? 1 : 0.75}>
          <Path proposed={one} toStage={toStage} />
          <Edged
            points={outlinePoints(ghostPlace(one, frame), one.outline.radii).map(toStage)}
            closed
            width={2}
            dash={i === 0 ? [6, 6] : [2, 5]}
            {...(i === 0 && { colour: BODY_PAINT[colour] })}
          />
        </g>
      ))}
    </>
  )
})

const Path = memo(function Path({
  proposed,
  toStage,
}: Pick<OverlayProps, 'toStage'> & { proposed: ProposedBody }) {
  return <Edged points={proposed.path.map(toStage)} width={1.2} dash={[8, 7]} />
})
