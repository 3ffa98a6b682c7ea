import { useInvestigation } from '../../../document/SessionContext.tsx'
import { RepeatsRow } from '../../survey/RepeatsRow.tsx'
import { WillItDoRow } from '../../survey/WillItDoRow.tsx'
import { AxesRow } from './AxesRow.tsx'
import { Bodies } from './Bodies.tsx'
import { ClipRow } from './ClipRow.tsx'
import { FrameTimesRow } from './FrameTimesRow.tsx'
import { ReadoutRow } from './ReadoutRow.tsx'
import { ReferenceRow } from './ReferenceRow.tsx'
import { Question } from './SetUpRow.tsx'
import { SpanRow } from './SpanRow.tsx'
import { SpeedRow } from './SpeedRow.tsx'
import { ZeroRow } from './ZeroRow.tsx'

/** The questions that the work asks, in the order in which people meet them. It guides and never blocks. */
export function SetUp() {
  const { footage } = useInvestigation()
  if (!footage) return null
  return (
    <>
      <Question text="What was filmed?">
        <ClipRow />
        <WillItDoRow />
        <FrameTimesRow />
        <RepeatsRow />
        <SpeedRow />
        <ReadoutRow />
      </Question>
      <Question text="When does it move?">
        <SpanRow />
        <ZeroRow />
      </Question>
      <Question text="How big is it?">
        <ReferenceRow />
      </Question>
      <Question text="Which way?">
        <AxesRow />
      </Question>
      <Bodies />
    </>
  )
}
