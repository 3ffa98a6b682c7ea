import { Box, Flex } from '@chakra-ui/react'
import { memo } from 'react'
import { ProposedAxesBox } from '../../proposals/ProposedAxesBox.tsx'
import { ProposedSpan } from '../../proposals/ProposedSpan.tsx'
import { ProposedStretches } from '../../proposals/ProposedStretches.tsx'
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

/** The questions of the set-up, in order, once there is footage; the bodies stay in view. It guides and never blocks. */
export const SetUp = memo(function SetUp() {
  return (
    <Flex direction="column" height={{ lg: '100%' }}>
      <Box flex="1" minHeight="0" overflowY={{ lg: 'auto' }}>
        <Question text="What was filmed?">
          <ClipRow />
          <WillItDoRow />
          <FrameTimesRow />
          <RepeatsRow />
          <SpeedRow />
          <ReadoutRow />
          <CameraRow />
        </Question>
        <Question text="When does it move?">
          <SpanRow />
          <ProposedSpan />
          <ProposedStretches />
          <ZeroRow />
        </Question>
        <Question text="How big is it?" actions={<PartActions part="scale" />}>
          <References />
          <PlaneRow />
          <LensRow />
          <ProbesRow />
        </Question>
        <Question text="Which way?" actions={<PartActions part="axes" />}>
          <AxesRow />
          <ProposedAxesBox />
          <GravityRow />
        </Question>
      </Box>
      <Bodies />
    </Flex>
  )
})
