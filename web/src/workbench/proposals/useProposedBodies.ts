import type { Investigation } from '@apokinema/core/investigation'
import { type ProposedBody, proposedBodies } from '@apokinema/core/proposals'
import { useMemo } from 'react'
import { openedState } from '../../document/openedState.ts'
import { useInvestigationExcept } from '../../document/SessionContext.tsx'
import type { Survey } from '../../footage/survey.worker.ts'
import { useSurveyOf } from '../survey/useSurvey.ts'

/** Whether what was found is hidden from the picture; it stays in the set-up. */
export const useProposals = openedState<{ hidden: boolean }>('proposals', { hidden: false })

/** Parts of the document that decide what is proposed. */
const NEEDED: readonly (keyof Investigation)[] = ['footage', 'orientation', 'camera', 'bodies', 'refusals']
const others = (now: Investigation) =>
  (Object.keys(now) as (keyof Investigation)[]).filter((part) => !NEEDED.includes(part))

/** The last proposals: several parts of the page show them, and marks change with every click. */
let last: { investigation: Investigation; survey: Survey; proposed: ProposedBody[] } | null = null

function proposedOnce(investigation: Investigation, survey: Survey): ProposedBody[] {
  const isKnown =
    last?.survey === survey && NEEDED.every((part) => last!.investigation[part] === investigation[part])
  if (!isKnown) last = { investigation, survey, proposed: proposedBodies(investigation, survey) }
  return last!.proposed
}

/** Returns what was seen to move and is neither marked nor refused, the most convincing first; none while the clip is read. */
export function useProposedBodies(): ProposedBody[] {
  const investigation = useInvestigationExcept(others)
  const survey = useSurveyOf(investigation.footage?.id)
  return useMemo(() => (survey ? proposedOnce(investigation, survey) : []), [investigation, survey])
}

/** Returns a name for a proposed body that is the same with every survey. */
export const keyOf = ({ best }: ProposedBody): string => `${best.frame} ${best.x} ${best.y}`
