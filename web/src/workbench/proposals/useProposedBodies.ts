import type { Investigation } from '@apokinema/core/investigation'
import { type ProposedBody, proposedBodies } from '@apokinema/core/proposals'
import { useMemo } from 'react'
import { openedState } from '../../document/openedState.ts'
import { useInvestigationExcept } from '../../document/SessionContext.tsx'
import { useSurveyStore } from '../survey/useSurvey.ts'

/** Whether what was found is hidden from the picture; it stays in the set-up. */
export const useProposals = openedState<{ hidden: boolean }>('proposals', { hidden: false })

/** Parts of the document that decide what is proposed. */
const NEEDED: readonly (keyof Investigation)[] = ['footage', 'orientation', 'camera', 'bodies', 'refusals']
const others = (now: Investigation) =>
  (Object.keys(now) as (keyof Investigation)[]).filter((part) => !NEEDED.includes(part))

/** Returns what was seen to move and is neither marked nor refused, the most convincing first; none while the clip is read. */
export function useProposedBodies(): ProposedBody[] {
  const investigation = useInvestigationExcept(others)
  const survey = useSurveyStore((state) =>
    state.footage === investigation.footage?.id ? state.survey : null,
  )
  return useMemo(() => (survey ? proposedBodies(investigation, survey.movers) : []), [investigation, survey])
}

/** Returns the first and the last frame in which a proposed body was seen. */
export function framesSeen({ path }: ProposedBody): { first: number; last: number } {
  return { first: path[0].frame, last: path[path.length - 1].frame }
}

/** Returns a name for a proposed body that is the same with every survey. */
export const keyOf = ({ best }: ProposedBody): string => `${best.frame} ${best.x} ${best.y}`
