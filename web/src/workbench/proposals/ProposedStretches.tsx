import { edits } from '@apokinema/core/investigation'
import type { ProposedStretch } from '@apokinema/core/proposals'
import { stretchEnd, stretchLaw, stretchReasons } from '@apokinema/words/proposals'
import { Text } from '@chakra-ui/react'
import { v4 as uuid } from 'uuid'
import { useSession } from '../../document/SessionContext.tsx'
import type { Session } from '../../document/session.ts'
import { workbench } from '../workbenchStore.ts'
import { ProposalBox } from './ProposalBox.tsx'
import { useFoundProposals, useProposedStretches } from './useBodyProposals.ts'

/** Sets the span to a proposed stretch. */
export function takeStretch(session: Session, { from, to }: ProposedStretch): void {
  session.edit('use a proposed stretch', edits.setSpan({ first: from, last: to }))
  workbench.goTo(from)
}

/** When the active body moves by one law, in the set-up: to be taken as the span, or refused. */
export function ProposedStretches() {
  const session = useSession()
  const found = useFoundProposals()
  const stretches = useProposedStretches()
  if (!found) return null
  const { body } = found
  const refuse = ({ from, to }: ProposedStretch) =>
    session.edit('refuse a stretch', edits.refuse(uuid(), { kind: 'stretch', body, from, to }))
  return stretches.map((stretch) => {
    const frames = `${stretch.from} to ${stretch.to}`
    // There is room for why one ends: the other reasons stand in the title.
    const isOne = stretches.length === 1
    return (
      <ProposalBox
        key={stretch.from}
        title={stretchReasons(stretch)}
        reason={isOne ? stretchEnd(stretch) : undefined}
        choices={[{ label: 'Take', says: `Take frames ${frames}`, act: () => takeStretch(session, stretch) }]}
        refuse={{ says: `No, not frames ${frames}`, act: () => refuse(stretch) }}
      >
        <span data-proposed-stretch={`${stretch.from}-${stretch.to}`}>
          <Text as="span" fontFamily="mono">
            {stretch.from}–{stretch.to}
          </Text>{' '}
          {stretchLaw(stretch)}
        </span>
      </ProposalBox>
    )
  })
}
