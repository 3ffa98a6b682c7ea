import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useParams } from 'react-router'
import { useInvestigation, useSession } from '../document/SessionContext.tsx'
import { GUIDE_STEPS, GUIDE_TEXTS, guideNumber, guideStep, leaveGuide, useGuide } from './guide.ts'

/** The next step of the guided first measurement, in a line below the top bar; nothing where none is guided. */
export function GuideBar() {
  const session = useSession()
  const { investigation, isLeft } = useGuide()
  return investigation === session.id && !isLeft ? <Step /> : null
}

function Step() {
  const { view } = useParams()
  const step = useInvestigation((now) => guideStep(now, view === 'graphs'))
  const number = guideNumber(step)
  return (
    <Flex
      as="section"
      aria-label="Guided first measurement"
      flex="none"
      align="center"
      gap="4"
      paddingX="4"
      paddingY="1.5"
      minHeight="11"
      bg="petrol.tint"
      borderBottom="1px solid"
      borderColor="line"
      data-guide-step={step}
    >
      <Flex gap="1.5" flex="none" aria-hidden display={{ base: 'none', md: 'flex' }}>
        {GUIDE_STEPS.map((one) => (
          <Box
            key={one}
            width="9px"
            height="9px"
            borderRadius="full"
            border="1.5px solid"
            borderColor="petrol"
            bg={guideNumber(one) < number ? 'petrol' : undefined}
          />
        ))}
      </Flex>
      <Text role="status" flex="1" minWidth="0">
        {number <= GUIDE_STEPS.length && (
          <b>
            {number} of {GUIDE_STEPS.length}.{' '}
          </b>
        )}
        {GUIDE_TEXTS[step]}
      </Text>
      <Button size="xs" variant="outline" bg="panel" flex="none" onClick={leaveGuide}>
        {step === 'done' ? 'Close' : 'Leave'}
      </Button>
    </Flex>
  )
}
