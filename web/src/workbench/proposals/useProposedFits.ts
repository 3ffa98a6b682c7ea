import { analyse, type GraphFit } from '@apokinema/core/analysis'
import { edit, type Investigation } from '@apokinema/core/investigation'
import { type FitIds, type ProposedFit, proposedFits, takeFit } from '@apokinema/core/proposals'
import { v4 as uuid } from 'uuid'
import { openedState } from '../../document/openedState.ts'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { type OpenProposals, useBodyProposals } from './useBodyProposals.ts'

/** A fit as it would be if it were taken. */
export interface FitProposal {
  body: string
  proposed: ProposedFit
  ids: FitIds
  shown: GraphFit
  /** The graph on which it would lie; one that is not there yet would be added. */
  graph: string
  isGraphThere: boolean
}

/** Ids that proposed fits would get: the same as long as they are proposed, so that nothing is fitted twice. */
const useIds = openedState<Record<string, FitIds>>('proposedFitIds', {})

function idsOf(body: string, { stretch, quantity, xQuantity, model }: ProposedFit): FitIds {
  const key = [body, stretch.from, stretch.to, quantity, xQuantity, model].join(' ')
  const known = useIds.getState()[key]
  if (known) return known
  const ids = { graph: uuid(), stretch: uuid(), fit: uuid() }
  // Nobody is told: names of what is not there change nothing that is shown.
  useIds.getState()[key] = ids
  return ids
}

/** The last proposals: every graph and the list of fits show them. */
let last: { investigation: Investigation; found: object; proposals: FitProposal[] } | null = null

function fitProposals(investigation: Investigation, { body, all }: OpenProposals): FitProposal[] {
  if (last?.investigation === investigation && last.found === all) return last.proposals
  const taken = investigation.stretches
  const proposals = proposedFits(investigation, body, all).flatMap((proposed) => {
    const ids = idsOf(body, proposed)
    // A fit that was taken, and taken back, gets new names.
    if (taken[ids.stretch]) return []
    const { document } = edit(investigation, takeFit(body, proposed, ids))
    const { graph } = document.stretches[ids.stretch]
    const shown = analyse(document).fit(ids.fit)
    const isGraphThere = investigation.graphs[graph] !== undefined
    return shown?.fit ? [{ body, proposed, ids, shown, graph, isGraphThere }] : []
  })
  last = { investigation, found: all, proposals }
  return proposals
}

const NONE: FitProposal[] = []

/** Returns the fits that are proposed for the active body, by time; none while its marks change. */
export function useProposedFits(): FitProposal[] {
  const investigation = useInvestigation()
  const proposals = useBodyProposals()
  return proposals ? fitProposals(investigation, proposals) : NONE
}
