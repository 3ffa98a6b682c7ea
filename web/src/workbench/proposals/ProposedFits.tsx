import { analyse } from '@apokinema/core/analysis'
import { namedReadings } from '@apokinema/core/fitting'
import { edits, TIME, together } from '@apokinema/core/investigation'
import { proposedReading, takeFit } from '@apokinema/core/proposals'
import { measurement } from '@apokinema/core/units'
import { stretchReasons } from '@apokinema/words/proposals'
import { Box, Button, Text } from '@chakra-ui/react'
import { v4 as uuid } from 'uuid'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import type { Session } from '../../document/session.ts'
import { SymbolText } from '../SymbolText.tsx'
import { workbench } from '../workbenchStore.ts'
import { ProposalBox } from './ProposalBox.tsx'
import { type FitProposal, useProposedFits } from './useProposedFits.ts'

/** Lays the stretches of proposed fits and fits them, in one undo step. */
function takeFits(session: Session, proposals: readonly FitProposal[]): void {
  session.edit(
    'use a proposed fit',
    together(...proposals.map(({ body, proposed, ids }) => takeFit(body, proposed, ids))),
  )
  workbench.select({ kind: 'stretch', id: proposals[0].ids.stretch })
}

/** Fits that are proposed for the active body, with what they would read: to be taken or refused. */
export function ProposedFits() {
  const session = useSession()
  const proposals = useProposedFits()
  const hasStretch = useInvestigation(({ stretches }) => Object.keys(stretches).length > 0)
  if (proposals.length === 0) return null
  return (
    <Box paddingY="2" borderBottom="1px solid" borderColor="line" data-proposed-fits={proposals.length}>
      {proposals.map((proposal, i) => (
        <Proposed key={proposal.ids.fit} proposal={proposal} isNext={!hasStretch && i === 0} />
      ))}
      {proposals.length > 1 && (
        <Box paddingX="2" paddingTop="2">
          <Button size="xs" variant="outline" bg="panel" onClick={() => takeFits(session, proposals)}>
            Take all {proposals.length}
          </Button>
        </Box>
      )}
    </Box>
  )
}

function Proposed({ proposal, isNext }: { proposal: FitProposal; isNext: boolean }) {
  const session = useSession()
  const investigation = useInvestigation()
  const { body, proposed, shown } = proposal
  const { stretch, quantity, xQuantity } = proposed
  const { from, to } = stretch
  const frames = `${from} to ${to}`
  const reading = proposedReading(proposed, namedReadings(shown.all))
  const symbol = (id: string) => {
    const info = analyse(investigation).quantity(id)
    return info && <SymbolText symbol={info.symbol} subscript={info.subscript} />
  }
  return (
    <ProposalBox
      title={stretchReasons(stretch)}
      reason="if this stretch is taken"
      choices={[
        {
          label: 'Take',
          says: `Take the fit of frames ${frames}`,
          isNext,
          act: () => takeFits(session, [proposal]),
        },
      ]}
      refuse={{
        says: `No, not the fit of frames ${frames}`,
        act: () =>
          session.edit('refuse a stretch', edits.refuse(uuid(), { kind: 'stretch', body, from, to })),
      }}
    >
      <Text color="ink.muted">
        {symbol(quantity)}
        {xQuantity !== TIME && <> against {symbol(xQuantity)}</>}, frames {from}–{to}:{' '}
        {shown.fit!.name.toLowerCase()}
      </Text>
      <Text
        fontSize="lead"
        fontWeight="600"
        data-proposed-reading={reading.id}
        data-value={reading.value}
        data-error={reading.error}
      >
        {reading.name} {measurement(reading.value, reading.error, reading.unit)}
      </Text>
    </ProposalBox>
  )
}
