import { type Body, framesInUse, type Investigation } from '@apokinema/core/investigation'
import { Box, Button, Text } from '@chakra-ui/react'
import { memo, type ReactNode } from 'react'
import { TickBox } from '../../common/TickBox.tsx'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { BODY_PAINT } from '../../theme/palettes.ts'
import { endPoints } from '../calibrating.ts'
import { Marker } from '../Marker.tsx'
import { restUntilHere, skipFrame } from '../marking.ts'
import { useProposals } from '../proposals/useProposedBodies.ts'
import { useSnapping } from '../snapping.ts'
import { collectsPoints, type Mode, useWorkbench, workbench } from '../workbenchStore.ts'
import { BandButton } from './BandButton.tsx'
import { BandFrame } from './BandFrame.tsx'
import { FollowBand } from './FollowBand.tsx'
import { MarkBand } from './MarkBand.tsx'
import { useGhosts } from './overlay/Ghosts.tsx'

const AXIS_LINES = {
  x: 'Draw a line along the ramp or the ground: x will run along it.',
  y: 'Draw a line along something upright, such as a door frame: y will run along it.',
  gravity: 'Draw along a plumb line or a door frame.',
}

const PROBES = {
  distance: ['Click one end of what you want to measure.', 'Now the other end.'],
  angle: ['Click a point on the first leg.', 'Now the corner.', 'Now a point on the second leg.'],
  slope: ['Draw along the line whose angle against x you want to know.', 'Now the other end.'],
}

/** Returns what a click will do in a mode, given the number of placed points. */
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
        ? 'Click the four corners of something rectangular in the plane of motion, in any order, or drag along two of its sides.'
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

/** A line above the stage that says what a click does; hidden while it does nothing. */
export function Band() {
  const mode = useWorkbench((state) => state.mode)
  const hasMark = useWorkbench(({ selection }) => selection?.kind === 'mark')
  const session = useSession()
  const { camera } = useInvestigation()
  if (mode.kind === 'select') return hasMark ? <MarkBand /> : <ProposalBand />
  if (mode.kind === 'follow') return <FollowBand body={mode.body} />
  if (mode.kind === 'mark' || mode.kind === 'second') return <MarkingBand kind={mode.kind} id={mode.body} />
  const placed = collectsPoints(mode) ? mode.points.length : 0
  return (
    <BandFrame role="status" data-band>
      <Text flex={{ base: '1 1 100%', md: '1' }}>{saysOf(mode, placed, camera.landmarks)}</Text>
      {mode.kind === 'lens' && placed >= 3 && (
        <Button size="2xs" colorPalette="brand" onClick={() => endPoints(session)}>
          That was the last point
        </Button>
      )}
      {mode.kind === 'reference' && <SnapSwitch of="on" label="Ends snap to edges" />}
      <Hint>{placed > 0 ? 'Backspace takes the last one back · ' : ''}Arrows and Enter work, too</Hint>
      <BandButton label="Done · Esc" onClick={() => workbench.leave()} />
    </BandFrame>
  )
}

/**
 * Whether the ends that are placed snap to edges, or marks settle on the centre of what is clicked. It stands here and not in the loupe,
 * which makes way for the pointer.
 */
function SnapSwitch({ of, label }: { of: 'on' | 'settles'; label: string }) {
  const isOn = useSnapping((state) => state[of])
  return (
    <Box whiteSpace="nowrap">
      <TickBox on={isOn} set={(on) => useSnapping.setState({ [of]: on })}>
        {label}
      </TickBox>
    </Box>
  )
}

/** Says what was found to move. */
function ProposalBand() {
  const { length } = useGhosts()
  if (length === 0) return null
  return (
    <BandFrame role="status" data-proposal-band>
      <Text flex="1">
        {length === 1 ? 'Something moves here.' : `${length} things move here.`} Follow{' '}
        {length === 1 ? 'it' : 'one'}, or add a body yourself.
      </Text>
      <BandButton label="Hide · Esc" onClick={() => useProposals.setState({ hidden: true })} />
    </BandFrame>
  )
}

/** @param from the width of the window from which there is room for it */
function Hint({ from = 'xl', children }: { from?: 'xl' | '2xl'; children: ReactNode }) {
  return (
    <Text
      fontSize="small"
      color="whiteAlpha.800"
      display={{ base: 'none', [from]: 'block' }}
      whiteSpace="nowrap"
    >
      {children}
    </Text>
  )
}

/** Returns true if the main pointer is a finger. */
const isByFinger = () => matchMedia('(pointer: coarse)').matches

/** The body being marked, the position in the span, and other actions for this frame. */
function MarkingBand({ kind, id }: { kind: 'mark' | 'second'; id: string }) {
  const { bodies, span } = useInvestigation()
  const streak = useWorkbench((state) => state.streak !== null)
  const body = bodies[id]
  return (
    body && (
      <MarkingWords
        kind={kind}
        streak={streak}
        name={body.name}
        shape={body.shape}
        colour={body.colour}
        every={span.every}
      />
    )
  )
}

/** Renders neither with a mark nor with a step. */
const MarkingWords = memo(function MarkingWords({
  kind,
  streak,
  name,
  shape,
  colour,
  every,
}: Pick<Body, 'name' | 'shape' | 'colour'> & { kind: 'mark' | 'second'; streak: boolean; every: number }) {
  const session = useSession()
  const does = isByFinger() ? 'drag to aim at' : 'click'
  const on = every === 1 ? '' : ` The film goes on by ${every} frames.`
  return (
    <BandFrame role="status" flexWrap="wrap" data-band>
      <Marker shape={shape} colour={BODY_PAINT[colour]} />
      <Text flex="1" minWidth="12rem">
        {kind === 'second' ? (
          <>
            How <b>{name}</b> is turned: {does} a second point of it, the same each time.
          </>
        ) : streak ? (
          <>
            Now the other end of the streak of <b>{name}</b>.
          </>
        ) : (
          <>
            Marking <b>{name}</b>: {does} its centre{isByFinger() ? ', tap to set' : ''}.{on}
          </>
        )}
      </Text>
      <Place />
      {kind === 'mark' && !streak && <Hint from="2xl">Smeared? Drag from end to end.</Hint>}
      {kind === 'mark' && !streak && <SnapSwitch of="settles" label="Settle on its centre" />}
      <BandButton label="Skip · S" onClick={() => skipFrame(session)} />
      {kind === 'mark' && (
        <BandButton
          label="Still there · R"
          title="It has rested at its last mark until this frame"
          onClick={() => restUntilHere(session)}
        />
      )}
      <BandButton label="Done · Esc" onClick={() => workbench.leave()} />
    </BandFrame>
  )
})

/** Position of the frame among those in use. */
function Place() {
  const { list } = useInvestigation(framesInUse)
  const place = useWorkbench((state) => list.indexOf(state.frame)) + 1
  if (place === 0) return null
  return (
    <span
      style={{
        fontFamily: "'JetBrains Mono Variable'",
        fontSize: 13,
        color: '#F0C063',
        whiteSpace: 'nowrap',
      }}
    >
      {place} of {list.length}
    </span>
  )
}
