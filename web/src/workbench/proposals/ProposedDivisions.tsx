import { edits, type Reference, refusalsOf } from '@apokinema/core/investigation'
import { parseLength } from '@apokinema/core/units'
import { divisionsText } from '@apokinema/words/proposals'
import { Box } from '@chakra-ui/react'
import { useMemo } from 'react'
import { v4 as uuid } from 'uuid'
import { TextField } from '../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { divisionsAlong } from '../snapping.ts'
import { useWorkbench } from '../workbenchStore.ts'
import { ProposalBox } from './ProposalBox.tsx'

/** The equal divisions that are seen along a reference length of unknown length: telling how long one is tells all of it. */
export function ProposedDivisions({ id, reference }: { id: string; reference: Reference }) {
  const session = useSession()
  const investigation = useInvestigation()
  const { lengthUnit } = investigation
  const shown = useWorkbench((state) => state.shown)
  const { ends } = reference
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is seen changes with the picture that is shown
  const divisions = useMemo(() => divisionsAlong({ ends }), [ends, shown])
  const isRefused = refusalsOf(investigation, 'divisions').some((refusal) => refusal.reference === id)
  if (!divisions || isRefused) return null
  return (
    <Box marginX="-2" data-divisions={divisions.count}>
      <ProposalBox
        choices={[]}
        reason="How long is one?"
        refuse={{
          says: 'No, these are no divisions',
          act: () =>
            session.edit('refuse divisions', edits.refuse(uuid(), { kind: 'divisions', reference: id })),
        }}
      >
        {divisionsText(divisions)}
        <TextField
          label="How long is one division?"
          hideLabel
          placeholder="10 cm"
          value=""
          onCommit={(text) => {
            if (!text) return null
            const length = parseLength(text, lengthUnit)
            if (!length) return 'A length above 0 such as 10 cm.'
            session.edit(
              'tell the length of a division',
              edits.changeReference(id, {
                length: divisions.count * length.metres,
                lengthError: divisions.count * length.error,
              }),
            )
            return null
          }}
        />
      </ProposalBox>
    </Box>
  )
}
