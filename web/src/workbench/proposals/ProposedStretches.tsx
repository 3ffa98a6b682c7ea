import { edits } from '@apokinema/core/investigation'
import type { ProposedStretch } from '@apokinema/core/proposals'
import { stretchLaw, stretchReasons } from '@apokinema/words/stretches'
import { Box, Button, HStack, Stack, Text } from '@chakra-ui/react'
import { v4 as uuid } from 'uuid'
import { useSession } from '../../document/SessionContext.tsx'
import type { Session } from '../../document/session.ts'
import { workbench } from '../workbenchStore.ts'
import { useProposedStretches, useStretchSearch } from './useProposedStretches.ts'

/** Sets the span to a proposed stretch. */
export function takeStretch(session: Session, { from, to }: ProposedStretch): void {
  session.edit('use a proposed stretch', edits.setSpan({ first: from, last: to }))
  workbench.goTo(from)
}

/** When the active body moves by one law, in the set-up: to be taken as the span, or refused. */
export function ProposedStretches() {
  useStretchSearch()
  const session = useSession()
  const proposed = useProposedStretches()
  if (!proposed) return null
  const refuse = ({ from, to }: ProposedStretch) =>
    session.edit('refuse a stretch', edits.refuse(uuid(), { kind: 'stretch', body: proposed.body, from, to }))
  return (
    <Stack gap="1" paddingX="2" paddingTop="1">
      {proposed.stretches.map((stretch) => (
        <Proposed
          key={stretch.from}
          stretch={stretch}
          isOne={proposed.stretches.length === 1}
          take={() => takeStretch(session, stretch)}
          refuse={() => refuse(stretch)}
        />
      ))}
    </Stack>
  )
}

/** @param isOne whether there is room for the reasons why it begins and ends there: of several they stand in its title */
function Proposed({
  stretch,
  isOne,
  take,
  refuse,
}: {
  stretch: ProposedStretch
  isOne: boolean
  take: () => void
  refuse: () => void
}) {
  const frames = `${stretch.from} to ${stretch.to}`
  return (
    <Box
      paddingX="2"
      paddingY="1"
      bg="petrol.tint"
      border="1px dashed"
      borderColor="petrol"
      borderRadius="8px"
      title={isOne ? undefined : stretchReasons(stretch)}
      data-proposed-stretch={`${stretch.from}-${stretch.to}`}
    >
      <HStack gap="1">
        <Box flex="1" minWidth="0">
          <Text as="span" fontFamily="mono" fontSize="13px">
            {stretch.from}–{stretch.to}
          </Text>{' '}
          <Text as="span" fontSize="13px">
            {stretchLaw(stretch)}
          </Text>
        </Box>
        <Button size="2xs" variant="outline" bg="panel" aria-label={`Take frames ${frames}`} onClick={take}>
          Take
        </Button>
        <Button size="2xs" variant="ghost" aria-label={`Refuse frames ${frames}`} onClick={refuse}>
          No
        </Button>
      </HStack>
      {isOne && (
        <Text fontSize="13px" color="ink.muted">
          {stretchReasons(stretch)}
        </Text>
      )}
    </Box>
  )
}
