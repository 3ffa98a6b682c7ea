import { findingSubject, findingText } from '@apokinema/words/survey'
import { Box, Flex, Stack, Text } from '@chakra-ui/react'
import { Check, Info, TriangleAlert } from 'lucide-react'
import { useSurveyed, useSurveyStore } from '../../survey/useSurvey.ts'
import { SetUpRow } from './SetUpRow.tsx'

const GRADES = {
  good: { icon: Check, colour: 'good', says: 'good' },
  fair: { icon: Info, colour: 'ink.muted', says: 'to know' },
  poor: { icon: TriangleAlert, colour: 'saffron.text', says: 'limits what can be measured' },
}

/** The survey of the clip: what limits its quality, and what that means for measuring. */
export function WillItDoRow() {
  const surveyed = useSurveyed()
  const progress = useSurveyStore((state) => state.progress)
  if (!surveyed)
    return (
      <SetUpRow
        state="plain"
        label="Will it do?"
        value={progress < 1 ? `looking, ${Math.round(100 * progress)} %` : 'not known'}
      />
    )
  const { findings } = surveyed
  const poor = findings.filter(({ grade }) => grade === 'poor')
  const fair = findings.filter(({ grade }) => grade === 'fair')
  const value =
    poor.length > 0
      ? `mind: ${poor.map((finding) => findingSubject(finding).toLowerCase()).join(', ')}`
      : fair.length > 0
        ? 'yes, with care'
        : 'yes'
  return (
    <SetUpRow state={poor.length > 0 ? 'note' : 'done'} label="Will it do?" value={value}>
      <Stack gap="2" data-findings>
        {findings.map((finding) => {
          const { code, grade } = finding
          const { icon: Sign, colour, says: meaning } = GRADES[grade]
          return (
            <Flex key={code} gap="2" fontSize="small" data-finding={grade}>
              <Box color={colour} flex="none" paddingTop="2px">
                <Sign size={14} aria-label={meaning} />
              </Box>
              <Text>
                <b>{findingSubject(finding)}.</b> {findingText(finding)}
              </Text>
            </Flex>
          )
        })}
      </Stack>
    </SetUpRow>
  )
}
