import { edits } from '@apokinema/core/investigation'
import { v4 as uuid } from 'uuid'
import { useSession } from '../../document/SessionContext.tsx'
import { useProposedSpan } from '../survey/useProposedSpan.ts'
import { ProposalBox } from './ProposalBox.tsx'
import { useProposedStretches } from './useBodyProposals.ts'

/** The frames in which the pictures change, in the set-up, until what the marks say is proposed instead. */
export function ProposedSpan() {
  const session = useSession()
  const span = useProposedSpan()
  const hasStretches = useProposedStretches().length > 0
  if (!span || hasStretches) return null
  return (
    <ProposalBox
      choices={[
        {
          label: 'Take',
          says: `Take frames ${span.first} to ${span.last}`,
          act: () => session.edit('use the proposed span', edits.setSpan(span)),
        },
      ]}
      refuse={{
        says: `No, not frames ${span.first} to ${span.last}`,
        act: () => session.edit('refuse the span', edits.refuse(uuid(), { kind: 'span' })),
      }}
    >
      Moves in frames {span.first} to {span.last}
    </ProposalBox>
  )
}
