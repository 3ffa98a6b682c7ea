import { memo } from 'react'
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
import { ReadoutRow } from './ReadoutRow.tsx'
import { RepeatsRow } from './RepeatsRow.tsx'
import { Question } from './SetUpRow.tsx'
import { SpanRow } from './SpanRow.tsx'
import { SpeedRow } from './SpeedRow.tsx'
import { WillItDoRow } from './WillItDoRow.tsx'
import { ZeroRow } from './ZeroRow.tsx'

/** The questions of the set-up, in order, once there is footage. It guides and never blocks. */
export const SetUp = memo(function SetUp() {
  return (
    <>
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
        <GravityRow />
      </Question>
      <Bodies />
    </>
  )
})
