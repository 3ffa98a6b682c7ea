import { Box, Button, HStack } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import { stepButton } from '../nextStep.ts'

interface Choice {
  label: string
  /** The accessible name, where the label alone does not say what is chosen. */
  says?: string
  act: () => void
  /** Whether it is the one thing to do next. */
  isNext?: boolean
}

/** Something proposed in the set-up: dashed, in one sentence, to be taken or refused; it counts as nothing until then. */
export function ProposalBox({
  children,
  reason,
  title,
  choices,
  refuse,
}: {
  children: ReactNode
  reason?: string | undefined
  title?: string | undefined
  /** Ways of taking it, the usual one first. */
  choices: readonly Choice[]
  refuse: Pick<Choice, 'says' | 'act'>
}) {
  return (
    <Box
      marginX="2"
      marginTop="1"
      paddingX="2"
      paddingY="1"
      bg="petrol.tint"
      border="1px dashed"
      borderColor="petrol"
      borderRadius="8px"
      fontSize="small"
      title={title}
    >
      {reason && children}
      <HStack gap="1">
        <Box flex="1" minWidth="0" {...(reason && { color: 'ink.muted' })}>
          {reason || children}
        </Box>
        {choices.map(({ label, says, act, isNext = false }) => (
          <Button key={label} size="2xs" {...stepButton(isNext)} aria-label={says} onClick={act}>
            {label}
          </Button>
        ))}
        <Button size="2xs" variant="ghost" aria-label={refuse.says} onClick={refuse.act}>
          No
        </Button>
      </HStack>
    </Box>
  )
}
