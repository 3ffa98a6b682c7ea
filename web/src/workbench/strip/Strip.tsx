import { framesInUse } from '@apokinema/core/investigation'
import type { InvestigationClock } from '@apokinema/core/scene'
import { nearestFrame } from '@apokinema/core/time'
import { Box, Flex } from '@chakra-ui/react'
import { memo, type PointerEvent, type RefObject, useEffect, useMemo, useRef } from 'react'
import { useSize } from '../../common/useSize.ts'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { goBy } from '../actions.ts'
import { useClock } from '../ClipContext.tsx'
import { ProposedBands } from '../proposals/ProposedBands.tsx'
import { activeBody, shownBodies, shownLandmarks } from '../shown.ts'
import { useSurveyed } from '../survey/useSurvey.ts'
import { useTrackDiagnoses } from '../trackDiagnosis.ts'
import { useFlags } from '../useFlags.ts'
import { useWorkbench, workbench } from '../workbenchStore.ts'
import { CameraGraph } from './CameraGraph.tsx'
import { Cursor } from './Cursor.tsx'
import { FILM_HEIGHT, Film } from './Film.tsx'
import { LandmarkLane } from './LandmarkLane.tsx'
import { Lane } from './Lane.tsx'
import { LIVE_HEIGHT, LiveGraph } from './LiveGraph.tsx'
import { LANE_HEIGHT } from './lanes.ts'
import { RULER_HEIGHT, Ruler } from './Ruler.tsx'
import { OutsideSpan, SpanLines } from './SpanEdges.tsx'
import { SpanEnd } from './SpanEnd.tsx'
import { StripLabels } from './StripLabels.tsx'
import { Transport } from './Transport.tsx'
import { type TimeScale, timeScale } from './timeScale.ts'

const NONE: number[] = []

/** The time axis at the bottom: ruler, film, a lane per body, a live graph, all on the same seconds. */
export const Strip = memo(function Strip() {
  const investigation = useInvestigation()
  const clock = useClock()
  const flags = useFlags()
  const surveyed = useSurveyed()
  const track = useRef<HTMLDivElement>(null)
  const { width } = useSize(track)
  const chosen = useWorkbench((state) => state.body)
  const body = activeBody(investigation, chosen)
  const { span } = investigation
  const scale = useMemo(
    () => (clock ? timeScale(-clock.zero, clock.seconds.at(-1)! - clock.zero, width) : null),
    [clock, width],
  )

  useFrameWheel(track)
  if (!clock || !scale) return null
  const last = clock.seconds.length - 1
  const lanes = bodyLanes(shownBodies(investigation, body)) + shownLandmarks(investigation).length
  const height = topOf(lanes) + LIVE_HEIGHT
  const xOf = (index: number) => scale.x(clock.seconds[index] - clock.zero)
  const frameUnder = (event: PointerEvent) => {
    const box = track.current!.getBoundingClientRect()
    return nearestFrame(clock.seconds, scale.time(event.clientX - box.left) + clock.zero)
  }

  const scrub = (event: PointerEvent<HTMLDivElement>) => {
    if (event.type === 'pointerdown') {
      if (event.button !== 0) return
      event.currentTarget.setPointerCapture(event.pointerId)
    } else if (!event.currentTarget.hasPointerCapture(event.pointerId)) return
    workbench.goTo(frameUnder(event))
  }

  return (
    <Box flex="none" bg="panel" borderTop="1px solid" borderColor="line" userSelect="none">
      <Transport />
      <Flex>
        <StripLabels height={height} body={body} />
        <Box
          ref={track}
          position="relative"
          flex="1"
          minWidth="0"
          height={`${height}px`}
          touchAction="none"
          cursor="pointer"
          onPointerDown={scrub}
          onPointerMove={scrub}
          data-strip
        >
          <Ruler
            scale={scale}
            zero={clock.zero}
            seconds={clock.seconds}
            flags={flags}
            repeats={investigation.timing.repeats?.frames ?? surveyed?.repeats.frames ?? NONE}
          />
          <Film scale={scale} top={RULER_HEIGHT} />
          <OutsideSpan span={span} xOf={xOf} />
          <Lanes body={body} clock={clock} scale={scale} />
          <SpanLines span={span} xOf={xOf} />
          <ProposedBands xOf={xOf} top={RULER_HEIGHT} height={FILM_HEIGHT} />
          {(['first', 'last'] as const).map((end) => (
            <SpanEnd
              key={end}
              end={end}
              at={span[end]}
              x={xOf(span[end])}
              last={last}
              frameUnder={frameUnder}
            />
          ))}
          <Cursor xOf={xOf} last={last} />
        </Box>
      </Flex>
    </Box>
  )
})

/** Number of lanes of bodies: one stays empty while there is no body. */
const bodyLanes = (bodies: readonly unknown[]) => Math.max(1, bodies.length)
/** Returns where a lane begins, in pixels from the top of the strip. */
const topOf = (lane: number) => RULER_HEIGHT + FILM_HEIGHT + lane * LANE_HEIGHT

/** A lane per body and landmark, and the live graph or the camera's graph below them. */
function Lanes({ body, clock, scale }: { body: string | null; clock: InvestigationClock; scale: TimeScale }) {
  const investigation = useInvestigation()
  const bodies = shownBodies(investigation, body)
  const landmarks = shownLandmarks(investigation)
  const diagnosisOf = useTrackDiagnoses()
  const used = framesInUse(investigation)
  const isCameraGraph = useWorkbench((state) => state.cameraGraph) && investigation.camera.motion !== 'still'
  const first = bodyLanes(bodies)
  const graphTop = topOf(first + landmarks.length)
  return (
    <>
      {bodies.map(([id, item], lane) => (
        <Lane
          key={id}
          id={id}
          body={item}
          diagnosis={diagnosisOf(id)}
          span={investigation.span}
          used={used}
          clock={clock}
          scale={scale}
          top={topOf(lane)}
        />
      ))}
      {landmarks.map(([id, landmark], lane) => (
        <LandmarkLane key={id} id={id} landmark={landmark} scale={scale} top={topOf(first + lane)} />
      ))}
      {isCameraGraph ? (
        <CameraGraph scale={scale} top={graphTop} />
      ) : (
        <LiveGraph body={body} scale={scale} top={graphTop} />
      )}
    </>
  )
}

/** Steps through the frames with the wheel over an element. */
function useFrameWheel(element: RefObject<HTMLElement | null>): void {
  const session = useSession()
  useEffect(() => {
    const target = element.current
    if (!target) return
    const onWheel = (event: WheelEvent) => {
      event.preventDefault()
      goBy(session, Math.sign(event.deltaY || event.deltaX), false)
    }
    target.addEventListener('wheel', onWheel, { passive: false })
    return () => target.removeEventListener('wheel', onWheel)
  }, [session, element])
}
