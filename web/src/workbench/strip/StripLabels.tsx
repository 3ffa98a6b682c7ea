import { analyse } from '@apokinema/core/analysis'
import { type Body, framesInUse, type Gap, gapsOf } from '@apokinema/core/investigation'
import type { TrackDiagnosis } from '@apokinema/core/motion'
import type { UsedFrames } from '@apokinema/core/time'
import { Box, Flex, Text } from '@chakra-ui/react'
import { memo } from 'react'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { BODY_PAINT } from '../../theme/palettes.ts'
import { Marker } from '../Marker.tsx'
import { shownBodies, shownLandmarks } from '../shown.ts'
import { goToNextOf, useTrackDiagnoses } from '../trackDiagnosis.ts'
import { useWorkbench, workbench } from '../workbenchStore.ts'
import { FILM_HEIGHT } from './Film.tsx'
import { LANE_HEIGHT } from './lanes.ts'
import { RULER_HEIGHT } from './Ruler.tsx'

/** Labels of the rows of the strip, at its left. */
export const StripLabels = memo(function StripLabels({
  height,
  body,
}: {
  height: number
  body: string | null
}) {
  const investigation = useInvestigation()
  const diagnosisOf = useTrackDiagnoses()
  const landmarks = shownLandmarks(investigation)
  return (
    <Box
      width={{ base: '92px', lg: '272px' }}
      flex="none"
      height={`${height}px`}
      borderRight="1px solid"
      borderColor="line"
      paddingX={{ base: '2', lg: '4' }}
      fontSize="small"
      overflow="hidden"
    >
      <Flex height={`${RULER_HEIGHT + FILM_HEIGHT}px`} align="center">
        <Text color="ink.muted">Film</Text>
      </Flex>
      {shownBodies(investigation, body).map(([id, item]) => (
        <LaneLabel
          key={id}
          id={id}
          body={item}
          active={id === body}
          diagnosis={diagnosisOf(id)}
          used={framesInUse(investigation)}
        />
      ))}
      {Object.keys(investigation.bodies).length === 0 && (
        <>
          <Text color="ink.muted" paddingTop="1" hideBelow="lg">
            What is followed or marked appears here, under its frames.
          </Text>
          <Text color="ink.muted" paddingTop="1" hideFrom="lg">
            Marks appear here.
          </Text>
        </>
      )}
      {landmarks.map(([id, landmark]) => (
        <Flex key={id} height={`${LANE_HEIGHT}px`} align="center" gap="2">
          <Text color="ink.muted" aria-hidden>
            ◇
          </Text>
          <Text truncate>{landmark.name}</Text>
        </Flex>
      ))}
      <GraphLabel />
    </Box>
  )
})

/** What the graph below the lanes shows: the position, or the motion of the camera. */
function GraphLabel() {
  const investigation = useInvestigation()
  const isCameraGraph = useWorkbench((state) => state.cameraGraph)
  const isMoving = investigation.camera.motion !== 'still'
  const unit = analyse(investigation).scene().scale
    ? `${investigation.lengthUnit}, from the origin`
    : 'pixels, from the origin'
  return (
    <>
      {isMoving && (
        <Text
          as="button"
          color="petrol"
          textDecoration="underline"
          float="right"
          onClick={() => workbench.showCameraGraph(!isCameraGraph)}
        >
          {isCameraGraph ? 'show position' : 'check camera'}
        </Text>
      )}
      {isMoving && isCameraGraph ? (
        <>
          <Text fontWeight="600" marginTop="1">
            Camera
          </Text>
          <Text color="ink.muted" display={{ base: 'none', lg: 'block' }}>
            by its landmarks: a slip is a spike
          </Text>
        </>
      ) : (
        <>
          <Text fontWeight="600" marginTop="1">
            Position
          </Text>
          <Text color="ink.muted" display={{ base: 'none', lg: 'block' }}>
            {unit}
          </Text>
          <Text color="ink.muted" whiteSpace="nowrap">
            ● x &nbsp; ○ y
          </Text>
        </>
      )}
    </>
  )
}

/** The name of a lane; renders only when its own body changes. */
const LaneLabel = memo(function LaneLabel(props: {
  id: string
  body: Body
  active: boolean
  diagnosis: TrackDiagnosis
  used: UsedFrames
}) {
  const { id, body, active, diagnosis, used } = props
  return (
    <Flex height={`${LANE_HEIGHT}px`} align="center" gap="2">
      <Marker shape={body.shape} colour={BODY_PAINT[body.colour]} />
      <Text truncate fontWeight={active ? '600' : '400'}>
        {body.name}
      </Text>
      <Count id={id} marks={body.marks} diagnosis={diagnosis} used={used} />
    </Flex>
  )
})

/** Goes to the first frame of the next gap. */
function goToNextGap(gaps: Gap[]): void {
  const { frame } = useWorkbench.getState()
  const next = gaps.find(({ from }) => from > frame) ?? gaps[0]
  workbench.goTo(next.from)
}

/** The number of a body's marks, or of those to be checked; a click goes through them. */
function Count({
  id,
  marks,
  diagnosis,
  used,
}: {
  id: string
  marks: Body['marks']
  diagnosis: TrackDiagnosis
  used: UsedFrames
}) {
  const outliers = diagnosis.outliers.map(({ frame }) => frame).filter(used.has)
  const breaks = diagnosis.breaks.filter(used.has)
  const jumps = diagnosis.jumps.map(({ frame }) => frame).filter(used.has)
  const gaps = gapsOf({ marks }, used)
  const empty = gaps.reduce((sum, { count }) => sum + count, 0)
  if (outliers.length + breaks.length + jumps.length + empty === 0)
    return (
      <Text color="ink.muted" whiteSpace="nowrap" marginLeft="auto" display={{ base: 'none', lg: 'block' }}>
        {Object.keys(marks).filter((frame) => used.has(Number(frame))).length} of {used.list.length} marks
      </Text>
    )
  const link = (
    frames: number[],
    word: string,
    colour: string,
    title: string,
    count = frames.length,
    act = () => goToNextOf(id, frames, useWorkbench.getState().frame),
  ) =>
    count > 0 && (
      <Text
        as="button"
        color={colour}
        textDecoration="underline"
        whiteSpace="nowrap"
        title={title}
        aria-label={`${count} ${word}`}
        onClick={act}
      >
        {count}
        <Text as="span" display={{ base: 'none', lg: 'inline' }}>
          {' '}
          {word}
        </Text>
      </Text>
    )
  const oneOr = (frames: number[], one: string, many: string) => (frames.length === 1 ? one : many)
  return (
    <Flex gap="2" marginLeft="auto">
      {link(
        gaps.map(({ from }) => from),
        'empty',
        'alarm',
        'Next frame in which it was not found',
        empty,
        () => goToNextGap(gaps),
      )}
      {link(breaks, oneOr(breaks, 'break?', 'breaks?'), 'ink', 'Next place where the motion seems to break')}
      {link(
        jumps,
        oneOr(jumps, 'jump', 'jumps'),
        'alarm',
        'Next mark that no motion leads to: following has perhaps gone over to something else',
      )}
      {link(outliers, oneOr(outliers, 'outlier', 'outliers'), 'alarm', 'Next outlier')}
    </Flex>
  )
}
