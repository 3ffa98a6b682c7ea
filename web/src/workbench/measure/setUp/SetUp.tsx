import { Box, Button, Circle, Flex } from '@chakra-ui/react'
import { memo, useEffect, useState } from 'react'
import { useLocation } from 'react-router'
import { useIsWide } from '../../../common/useIsWide.ts'
import { type NextStep, useNextStep } from '../../nextStep.ts'
import { ProposedAxesBox } from '../../proposals/ProposedAxesBox.tsx'
import { ProposedSpan } from '../../proposals/ProposedSpan.tsx'
import { ProposedStretches } from '../../proposals/ProposedStretches.tsx'
import { useProposedAxes, useProposedStretches } from '../../proposals/useBodyProposals.ts'
import { Bodies } from './Bodies.tsx'
import { ClipRow } from './ClipRow.tsx'
import { AxesRow } from './calibration/AxesRow.tsx'
import { CameraRow } from './calibration/CameraRow.tsx'
import { GravityRow } from './calibration/GravityRow.tsx'
import { LensRow } from './calibration/LensRow.tsx'
import { PartActions } from './calibration/PartActions.tsx'
import { PlaneRow } from './calibration/PlaneRow.tsx'
import { ProbesRow } from './calibration/ProbesRow.tsx'
import { References } from './calibration/References.tsx'
import { FrameTimesRow } from './FrameTimesRow.tsx'
import { Question } from './Question.tsx'
import { ReadoutRow } from './ReadoutRow.tsx'
import { RepeatsRow } from './RepeatsRow.tsx'
import { SpanRow } from './SpanRow.tsx'
import { SpeedRow } from './SpeedRow.tsx'
import { WillItDoRow } from './WillItDoRow.tsx'
import { ZeroRow } from './ZeroRow.tsx'

/** The questions of the set-up; each is a sheet of its own in a narrow window. */
type Sheet = 'clip' | 'when' | 'scale' | 'way' | 'bodies'

const TABS: readonly (readonly [Sheet, string])[] = [
  ['clip', 'Clip'],
  ['when', 'When'],
  ['scale', 'How big'],
  ['way', 'Which way'],
  ['bodies', 'What moves'],
]

/** Sheets of the rows that an address can refer to. */
const SHEET_OF_PLACE: Readonly<Record<string, Sheet>> = {
  '#capture-rate': 'clip',
  '#read-out': 'clip',
  '#scale': 'scale',
  '#axes': 'way',
}

/** Sheets on which the next step is taken, if not on that of the bodies. */
const SHEET_OF_STEP: Partial<Record<NextStep, Sheet>> = { camera: 'clip', scale: 'scale' }

/** The questions of the set-up, in order, once there is footage; the bodies stay in view. It guides and never blocks. */
export const SetUp = memo(function SetUp() {
  const isWide = useIsWide()
  if (!isWide) return <Sheets />
  return (
    <Flex direction="column" height="100%">
      <Box flex="1" minHeight="0" overflowY="auto">
        <Clip />
        <When />
        <HowBig />
        <WhichWay />
      </Box>
      <Bodies />
    </Flex>
  )
})

/** One question at a time, for narrow windows: that of the next step, until another one is chosen. */
function Sheets() {
  const next = useNextStep()
  const asked = SHEET_OF_STEP[next] ?? 'bodies'
  const [chosen, choose] = useState<{ sheet: Sheet; asked: Sheet } | null>(null)
  const { hash } = useLocation()
  // biome-ignore lint/correctness/useExhaustiveDependencies: an address leads to its sheet once, then the next step leads on
  useEffect(() => {
    const sheet = SHEET_OF_PLACE[hash]
    if (sheet) choose({ sheet, asked })
  }, [hash])
  const sheet = chosen?.asked === asked ? chosen.sheet : asked
  const hasProposal: Partial<Record<Sheet, boolean>> = {
    when: useProposedStretches().length > 0,
    way: useProposedAxes() !== null,
  }
  return (
    <Flex direction="column">
      <Flex
        role="group"
        aria-label="Questions"
        position="sticky"
        top="0"
        zIndex="1"
        bg="panel"
        borderBottom="1px solid"
        borderColor="line"
        paddingX="1"
      >
        {TABS.map(([one, name]) => (
          <Button
            key={one}
            size="xs"
            flex="auto"
            paddingX="1"
            variant="plain"
            borderRadius="0"
            fontWeight={one === sheet ? '600' : '400'}
            color={one === sheet ? 'petrol' : 'ink.muted'}
            border="none"
            borderBottom="2px solid"
            borderBottomColor={one === sheet ? 'petrol' : 'transparent'}
            aria-pressed={one === sheet}
            onClick={() => choose({ sheet: one, asked })}
          >
            {name}
            {hasProposal[one] && (
              <Circle size="2" bg="petrol" aria-label="something is proposed" role="img" />
            )}
          </Button>
        ))}
      </Flex>
      {sheet === 'clip' && <Clip />}
      {sheet === 'when' && <When />}
      {sheet === 'scale' && <HowBig />}
      {sheet === 'way' && <WhichWay />}
      {sheet === 'bodies' && <Bodies />}
    </Flex>
  )
}

function Clip() {
  return (
    <Question text="What was filmed?">
      <ClipRow />
      <WillItDoRow />
      <FrameTimesRow />
      <RepeatsRow />
      <SpeedRow />
      <ReadoutRow />
      <CameraRow />
    </Question>
  )
}

function When() {
  return (
    <Question text="When does it move?">
      <SpanRow />
      <ProposedSpan />
      <ProposedStretches />
      <ZeroRow />
    </Question>
  )
}

function HowBig() {
  return (
    <Question text="How big is it?" actions={<PartActions part="scale" />}>
      <References />
      <PlaneRow />
      <LensRow />
      <ProbesRow />
    </Question>
  )
}

function WhichWay() {
  return (
    <Question text="Which way?" actions={<PartActions part="axes" />}>
      <AxesRow />
      <ProposedAxesBox />
      <GravityRow />
    </Question>
  )
}
