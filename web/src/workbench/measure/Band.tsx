import { framesInUse, type Investigation } from '@apokinema/core/investigation'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { BODY_PAINT } from '../../theme/system.ts'
import { endPoints } from '../calibrating.ts'
import { collectsPoints, type Mode, useWorkbench, workbench } from '../workbenchStore.ts'
import { BandButton } from './BandButton.tsx'
import { FollowBand } from './FollowBand.tsx'
import { StrayBand } from './StrayBand.tsx'

const AXIS_LINES = {
  x: 'Draw a line along the ramp or the ground: x will run along it.',
  y: 'Draw a line along something upright, such as a door frame: y will run along it.',
  gravity: 'Draw along a plumb line or a door frame: things fall down it.',
}

const PROBES = {
  distance: ['Click one end of what you want to measure.', 'Now the other end.'],
  angle: ['Click a point on the first leg.', 'Now the corner.', 'Now a point on the second leg.'],
  slope: ['Draw along the line whose angle against x you want to know.', 'Now the other end.'],
}

/** What a click will do in a mode, with so many points placed. */
function saysOf(mode: Mode, placed: number, landmarks: Investigation['camera']['landmarks']): string {
  switch (mode.kind) {
    case 'reference':
      return placed > 0
        ? 'Now the other end.'
        : 'Drag from one end of something whose length you know to the other, or click both ends.'
    case 'origin':
      return 'Click where you want zero to be.'
    case 'axis-line':
      return placed > 0 ? 'Now another point of the same line.' : AXIS_LINES[mode.along]
    case 'edge':
      return placed > 0
        ? 'Now the other end of the edge.'
        : 'Draw along an edge that is upright in reality and moves fast sideways.'
    case 'probe':
      return PROBES[mode.probe][placed]
    case 'plane':
      return placed === 0
        ? 'Click the four corners of something rectangular in the plane of motion, in any order.'
        : `Corner ${placed + 1} of 4.`
    case 'lens':
      return placed === 0
        ? 'Click along an edge that is straight in reality and lies far from the middle of the picture.'
        : `${placed} ${placed === 1 ? 'point' : 'points'}. Go on along the same edge; five are better than three.`
    case 'landmark':
      return mode.id && landmarks[mode.id]
        ? `Click ${landmarks[mode.id].name} again wherever it has moved; between marks it is filled in. Step with , and .`
        : 'Click a fixed point of the scene that can be seen for long, as far away as the motion.'
    default:
      return ''
  }
}

/** One line above the stage that says what a click will do; only while it does something. */
export function Band() {
  const mode = useWorkbench((state) => state.mode)
  const frame = useWorkbench((state) => state.frame)
  const session = useSession()
  const investigation = useInvestigation()
  const { bodies, span } = investigation
  if (mode.kind === 'select') return <StrayBand />
  if (mode.kind === 'follow') return <FollowBand body={mode.body} />

  const body = mode.kind === 'mark' ? bodies[mode.body] : null
  const frames = framesInUse(investigation).list
  const place = frames.indexOf(frame) + 1
  const placed = collectsPoints(mode) ? mode.points.length : 0
  const says = saysOf(mode, placed, investigation.camera.landmarks)
  return (
    <Flex
      position="absolute"
      insetX="0"
      top="0"
      minHeight="9"
      align="center"
      gap="3"
      paddingX="4"
      paddingY="1"
      bg="rgba(24,29,31,0.88)"
      color="white"
      role="status"
      data-band
      onPointerDown={(event) => event.stopPropagation()}
    >
      {body && (
        <Box width="11px" height="11px" borderRadius="full" flex="none" bg={BODY_PAINT[body.colour].mark} />
      )}
      <Text flex="1">
        {body ? (
          <>
            Marking <b>{body.name}</b>: click its centre.{' '}
            {span.every === 1 ? 'The film goes on by itself.' : `The film goes on by ${span.every} frames.`}
          </>
        ) : (
          says
        )}
      </Text>
      {mode.kind === 'lens' && placed >= 3 && (
        <Button size="2xs" colorPalette="brand" onClick={() => endPoints(session)}>
          That was the last point
        </Button>
      )}
      {body && place > 0 && (
        <Text fontFamily="mono" fontSize="13px" color="#F0C063" whiteSpace="nowrap">
          {place} of {frames.length}
        </Text>
      )}
      <Text
        fontSize="13px"
        color="whiteAlpha.800"
        display={{ base: 'none', xl: 'block' }}
        whiteSpace="nowrap"
      >
        {body || placed > 0 ? 'Backspace takes the last one back · ' : ''}Arrows and Enter work, too
      </Text>
      <BandButton label="Done · Esc" onClick={() => workbench.leave()} />
    </Flex>
  )
}
