import { freeColour } from '@apokinema/core/investigation'
import { framesSeen, type ProposedBody } from '@apokinema/core/proposals'
import { Box, Button, Flex, Stack, Text } from '@chakra-ui/react'
import { MoreMenu } from '../../common/MoreMenu.tsx'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { BODY_PAINT } from '../../theme/palettes.ts'
import { followProposed } from '../following/followProposed.ts'
import { stepButton } from '../nextStep.ts'
import { useWorkbench, workbench } from '../workbenchStore.ts'
import { markProposed, refuseBody } from './proposedActions.ts'
import { keyOf, useProposedBodies } from './useProposedBodies.ts'

/**
 * What was seen to move, in the set-up: to be followed, marked by hand, or refused.
 *
 * @param isNext whether following the first is what comes next
 */
export function ProposedBodies({ isNext }: { isNext: boolean }) {
  const proposed = useProposedBodies()
  if (proposed.length === 0) return null
  return (
    <Stack gap="1" paddingX="2" paddingBottom="2">
      {proposed.map((one, i) => (
        <Proposed key={keyOf(one)} proposed={one} isNext={isNext && i === 0} isFirst={i === 0} />
      ))}
    </Stack>
  )
}

/** @param isNext whether following it is the one thing to do next */
function Proposed({
  proposed,
  isFirst,
  isNext,
}: {
  proposed: ProposedBody
  isFirst: boolean
  isNext: boolean
}) {
  const session = useSession()
  const colour = useInvestigation(({ bodies }) => freeColour(bodies).colour)
  const isBusy = useWorkbench(({ mode }) => mode.kind !== 'select')
  const { first, last } = framesSeen(proposed)
  const name = `what moves in frames ${first} to ${last}`
  return (
    <Flex
      align="center"
      gap="2"
      paddingX="2"
      paddingY="1.5"
      bg="petrol.tint"
      border="1px dashed"
      borderColor="petrol"
      borderRadius="8px"
      data-proposed-body={`${first}-${last}`}
    >
      <Box
        flex="none"
        width="16px"
        height="16px"
        borderRadius="full"
        border="2px dashed"
        borderColor={isFirst ? BODY_PAINT[colour] : 'ink.muted'}
      />
      <Box
        as="button"
        flex="1"
        minWidth="0"
        textAlign="left"
        cursor="pointer"
        title={`Show it in frame ${proposed.best.frame}`}
        onClick={() => workbench.goTo(proposed.best.frame)}
      >
        <Text truncate>{isFirst ? 'This moves' : 'Also moves'}</Text>
        <Text fontFamily="mono" fontSize="small" color="ink.muted">
          {first}–{last}
        </Text>
      </Box>
      <Button
        size="xs"
        {...stepButton(isNext)}
        disabled={isBusy}
        aria-label={`Follow ${name}`}
        onClick={() => void followProposed(session, proposed)}
      >
        Follow
      </Button>
      <MoreMenu
        of={name}
        size="2xs"
        choices={[
          { label: 'Mark it by hand', act: () => markProposed(session, proposed) },
          { label: 'No, not this', act: () => refuseBody(session, proposed) },
        ]}
      />
    </Flex>
  )
}
