import { edits } from '@apokinema/core/investigation'
import { takeAxes } from '@apokinema/core/proposals'
import { axesReason, axesText } from '@apokinema/words/proposals'
import { v4 as uuid } from 'uuid'
import { useSession } from '../../document/SessionContext.tsx'
import { ProposalBox } from './ProposalBox.tsx'
import { useFoundProposals, useProposedAxes } from './useBodyProposals.ts'

/** The axes that the motion of the active body asks for, in the set-up: to be taken or refused. */
export function ProposedAxesBox() {
  const session = useSession()
  const found = useFoundProposals()
  const axes = useProposedAxes()
  if (!found || !axes) return null
  const { body } = found
  return (
    <ProposalBox
      reason={axesReason(axes)}
      choices={[
        {
          label: 'Take',
          says: 'Take these axes',
          act: () => session.edit('use the proposed axes', takeAxes(axes)),
        },
      ]}
      refuse={{
        says: 'No, not these axes',
        act: () => session.edit('refuse the axes', edits.refuse(uuid(), { kind: 'axes', body })),
      }}
    >
      <span data-proposed-axes={axes.kind}>{axesText(axes)}</span>
    </ProposalBox>
  )
}
