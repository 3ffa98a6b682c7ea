import { edits, framesInUse } from '@apokinema/core/investigation'
import { nearestFrame } from '@apokinema/core/time'
import { Box, Flex } from '@chakra-ui/react'
import {
  type CSSProperties,
  type KeyboardEvent,
  memo,
  type PointerEvent,
  useEffect,
  useMemo,
  useRef,
} from 'react'
import { useSize } from '../../common/useSize.ts'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { PAINT } from '../../theme/system.ts'
import { goBy } from '../actions.ts'
import { useClock } from '../ClipContext.tsx'
import { activeBody, shownBodies, shownLandmarks } from '../shown.ts'
import { MotionBand } from '../survey/MotionBand.tsx'
import { useSurveyed } from '../survey/useSurvey.ts'
import { useTrackDiagnoses } from '../trackDiagnosis.ts'
import { useFlags } from '../useFlags.ts'
import { useWorkbench, workbench } from '../workbenchStore.ts'
import { CameraGraph } from './CameraGraph.tsx'
import { FILM_HEIGHT, Film } from './Film.tsx'
import { LandmarkLane } from './LandmarkLane.tsx'
import { Lane } from './Lane.tsx'
import { LIVE_HEIGHT, LiveGraph } from './LiveGraph.tsx'
import { LANE_HEIGHT } from './lanes.ts'
import { RULER_HEIGHT, Ruler } from './Ruler.tsx'
import { StripLabels } from './StripLabels.tsx'
import { Transport } from './Transport.tsx'
import { timeScale } from './timeScale.ts'

const NONE: number[] = []

/** The time axis along the bottom: ruler, film, a lane a body, a live graph, all on the same seconds. */
export const Strip = memo(function Strip() {
  const session = useSession()
  const investigation = useInvestigation()
  const clock = useClock()
  const flags = useFlags()
  const surveyed = useSurveyed()
  const track = useRef<HTMLDivElement>(null)
  const { width } = useSize(track)
  const chosen = useWorkbench((state) => state.body)
  const body = activeBody(investigation, chosen)
  const bodies = shownBodies(investigation, body)
  const { span, camera } = investigation
  const landmarks = shownLandmarks(investigation)
  const diagnosisOf = useTrackDiagnoses()
  const used = framesInUse(investigation)
  const cameraGraph = useWorkbench((state) => state.cameraGraph) && camera.motion !== 'still'
  const scale = useMemo(
    () => (clock ? timeScale(-clock.zero, clock.seconds.at(-1)! - clock.zero, width) : null),
    [clock, width],
  )

  useEffect(() => {
    const target = track.current
    if (!target) return
    const onWheel = (event: WheelEvent) => {
      event.preventDefault()
      goBy(session, Math.sign(event.deltaY || event.deltaX), false)
    }
    target.addEventListener('wheel', onWheel, { passive: false })
    return () => target.removeEventListener('wheel', onWheel)
  }, [session])

  if (!clock || !scale) return null
  const lanes = Math.max(1, bodies.length) + landmarks.length
  const height = RULER_HEIGHT + FILM_HEIGHT + lanes * LANE_HEIGHT + LIVE_HEIGHT
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

  const spanEnd = (end: 'first' | 'last') => {
    const label = end === 'first' ? 'First frame of the span' : 'Last frame of the span'
    const onDrag = (event: PointerEvent<HTMLDivElement>) => {
      event.stopPropagation()
      const held = event.currentTarget.hasPointerCapture(event.pointerId)
      if (event.type === 'pointerdown') event.currentTarget.setPointerCapture(event.pointerId)
      else if (event.type === 'pointermove' && held) {
        const index = frameUnder(event)
        session.preview(edits.setSpan({ [end]: index }))
        workbench.goTo(index)
      } else if (event.type === 'pointerup' && held && session.store.getState().preview)
        session.edit('change the span', edits.setSpan({ [end]: frameUnder(event) }))
    }
    const onKeyDown = (event: KeyboardEvent) => {
      const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
      if (!by) return
      event.preventDefault()
      event.stopPropagation()
      const index = span[end] + by * (event.shiftKey ? 10 : 1)
      session.edit('change the span', edits.setSpan({ [end]: index }))
      workbench.goTo(session.document.span[end])
    }
    return (
      <Box
        role="slider"
        tabIndex={0}
        aria-label={label}
        aria-valuemin={0}
        aria-valuemax={clock.seconds.length - 1}
        aria-valuenow={span[end]}
        aria-valuetext={`frame ${span[end]}`}
        title={`${label}: drag, or arrow keys`}
        data-span-end={end}
        position="absolute"
        top={`${RULER_HEIGHT - 3}px`}
        left={`${xOf(span[end]) - (end === 'first' ? 13 : 1)}px`}
        width="14px"
        height={`${FILM_HEIGHT + 6}px`}
        cursor="ew-resize"
        touchAction="none"
        onPointerDown={onDrag}
        onPointerMove={onDrag}
        onPointerUp={onDrag}
        onKeyDown={onKeyDown}
      >
        <Box
          position="absolute"
          insetY="0"
          {...(end === 'first' ? { right: '0' } : { left: '0' })}
          width="9px"
          bg="petrol"
          borderRadius={end === 'first' ? '3px 0 0 3px' : '0 3px 3px 0'}
        />
      </Box>
    )
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
          <Box
            position="absolute"
            left="0"
            width={`${Math.max(0, xOf(span.first))}px`}
            top={`${RULER_HEIGHT}px`}
            bottom="0"
            bg="rgba(250,248,243,0.72)"
            pointerEvents="none"
          />
          <Box
            position="absolute"
            left={`${xOf(span.last)}px`}
            right="0"
            top={`${RULER_HEIGHT}px`}
            bottom="0"
            bg="rgba(250,248,243,0.72)"
            pointerEvents="none"
          />
          {bodies.map(([id, item], row) => (
            <Lane
              key={id}
              id={id}
              body={item}
              diagnosis={diagnosisOf(id)}
              span={span}
              used={used}
              clock={clock}
              scale={scale}
              top={RULER_HEIGHT + FILM_HEIGHT + row * LANE_HEIGHT}
            />
          ))}
          {landmarks.map(([id, landmark], row) => (
            <LandmarkLane
              key={id}
              id={id}
              landmark={landmark}
              scale={scale}
              top={RULER_HEIGHT + FILM_HEIGHT + (Math.max(1, bodies.length) + row) * LANE_HEIGHT}
            />
          ))}
          {cameraGraph ? (
            <CameraGraph scale={scale} top={RULER_HEIGHT + FILM_HEIGHT + lanes * LANE_HEIGHT} />
          ) : (
            <LiveGraph body={body} scale={scale} top={RULER_HEIGHT + FILM_HEIGHT + lanes * LANE_HEIGHT} />
          )}
          {[span.first, span.last].map((index, i) => (
            <Box
              key={i === 0 ? 'first' : 'last'}
              position="absolute"
              left={`${xOf(index) - 1}px`}
              width="2px"
              top={`${RULER_HEIGHT}px`}
              bottom="0"
              bg="petrol"
              pointerEvents="none"
            />
          ))}
          <MotionBand xOf={xOf} top={RULER_HEIGHT} height={FILM_HEIGHT} />
          {spanEnd('first')}
          {spanEnd('last')}
          <Cursor xOf={xOf} last={clock.seconds.length - 1} />
        </Box>
      </Flex>
    </Box>
  )
})

/** The saffron line of the current frame, with a dark edge. Plain elements: it moves with every step. */
function Cursor({ xOf, last }: { xOf: (frame: number) => number; last: number }) {
  const x = xOf(
    Math.min(
      useWorkbench((state) => state.frame),
      last,
    ),
  )
  return (
    <div style={{ ...LINE, transform: `translateX(${x}px)` }} data-cursor>
      <div style={HEAD} />
    </div>
  )
}

const LINE: CSSProperties = {
  position: 'absolute',
  top: 0,
  bottom: 0,
  left: -1.5,
  width: 3,
  background: PAINT.saffron,
  outline: '0.5px solid rgba(60,38,0,0.55)',
  pointerEvents: 'none',
}
const HEAD: CSSProperties = {
  position: 'absolute',
  top: 0,
  left: -5,
  width: 13,
  height: 12,
  background: PAINT.saffron,
  borderRadius: '2px 2px 6px 6px',
  border: '0.5px solid rgba(60,38,0,0.55)',
}
