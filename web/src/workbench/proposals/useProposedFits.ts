import { analyse, type GraphFit } from '@apokinema/core/analysis'
import { edit, type Investigation } from '@apokinema/core/investigation'
import {
  type FitIds,
  type ProposedFit,
  type ProposedStretch,
  proposedFits,
  takeFit,
} from '@apokinema/core/proposals'
import { useMemo } from 'react'
import { v4 as uuid } from 'uuid'
import { useSessionState } from '../../document/SessionContext.tsx'
import { useFoundProposals } from './useBodyProposals.ts'

/** A fit as it would be if it were taken. */
export interface FitProposal {
  body: string
  proposed: ProposedFit
  ids: FitIds
  shown: GraphFit
  /** The graph on which it would lie; one that is not there yet would be added. */
  graph: string
}

/** Ids that proposed fits would get, by what they are: the same as long as they are proposed, so that nothing is fitted twice. */
const knownIds = new Map<string, FitIds>()

function idsOf(body: string, { stretch, quantity, xQuantity, model }: ProposedFit): FitIds {
  const key = [body, stretch.from, stretch.to, quantity, xQuantity, model].join(' ')
  const ids = knownIds.get(key) ?? { graph: uuid(), stretch: uuid(), fit: uuid() }
  knownIds.set(key, ids)
  return ids
}

/** The last proposals: every graph and the list of fits show them. */
let last: {
  investigation: Investigation
  found: readonly ProposedStretch[]
  proposals: FitProposal[]
} | null = null

function fitProposals(
  investigation: Investigation,
  body: string,
  found: readonly ProposedStretch[],
): FitProposal[] {
  if (last?.investigation === investigation && last.found === found) return last.proposals
  const proposals = proposedFits(investigation, body, found).flatMap((proposed) => {
    const ids = idsOf(body, proposed)
    const { document } = edit(investigation, takeFit(body, proposed, ids))
    const { graph } = document.stretches[ids.stretch]
    const shown = analyse(document).fit(ids.fit)
    return shown?.fit ? [{ body, proposed, ids, shown, graph }] : []
  })
  last = { investigation, found, proposals }
  return proposals
}

const NONE: FitProposal[] = []

/** Returns the fits that are proposed for the active body, by time; none while its marks change. What is dragged does not count yet. */
export function useProposedFits(): FitProposal[] {
  const proposals = useFoundProposals()
  return useSessionState(({ document }) =>
    proposals ? fitProposals(document, proposals.body, proposals.found.stretches) : NONE,
  )
}

/** Returns the fits that are proposed on a graph. */
export function useFitsProposedOn(graph: string): FitProposal[] {
  const proposals = useProposedFits()
  return useMemo(() => proposals.filter((one) => one.graph === graph), [proposals, graph])
}
