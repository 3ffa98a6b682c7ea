import { midpoint, type Point } from '@apokinema/core/geometry'
import type { Reference } from '@apokinema/core/investigation'
import { fixed, withUnit } from '@apokinema/core/units'
import { Circle, Group, Stage as KonvaStage, Layer, Line, Text } from 'react-konva'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { useWorkbench, type View } from '../workbenchStore.ts'
import { tiltHandle } from './holdAt.ts'

const DARK = 'rgba(16,24,26,0.85)'
const LIGHT = '#FFFFFF'
/** How far beside its object a dimension line stands, in CSS pixels. */
const SET_OFF = 30

/** What lies on the video beside the marks, each line with a dark and a light edge so that it shows on any picture. */
export function Overlay({ size, view }: { size: { width: number; height: number }; view: View }) {
  const { references } = useInvestigation()
  const toStage = ({ x, y }: Point): Point => ({ x: x * view.zoom + view.x, y: y * view.zoom + view.y })
  return (
    <KonvaStage
      width={size.width}
      height={size.height}
      listening={false}
      style={{ position: 'absolute', inset: 0, pointerEvents: 'none' }}
    >
      <Layer>
        <Axes toStage={toStage} />
        {Object.entries(references).map(([id, reference]) => (
          <DimensionLine key={id} id={id} reference={reference} toStage={toStage} />
        ))}
        <Drawing toStage={toStage} />
      </Layer>
    </KonvaStage>
  )
}

type ToStage = (point: Point) => Point

/** A line with a dark edge around a light core. */
function Edged({
  points,
  closed = false,
  width = 1.6,
  colour = LIGHT,
}: {
  points: Point[]
  closed?: boolean
  width?: number
  colour?: string
}) {
  const flat = points.flatMap(({ x, y }) => [x, y])
  return (
    <>
      <Line
        points={flat}
        closed={closed}
        stroke={DARK}
        strokeWidth={width + 2.4}
        lineCap="round"
        lineJoin="round"
      />
      <Line
        points={flat}
        closed={closed}
        stroke={colour}
        strokeWidth={width}
        lineCap="round"
        lineJoin="round"
      />
    </>
  )
}

function Label({
  at,
  text,
  angle = 0,
  italic = false,
}: {
  at: Point
  text: string
  angle?: number
  italic?: boolean
}) {
  return (
    <Text
      x={at.x}
      y={at.y}
      rotation={angle}
      text={text}
      width={160}
      offsetX={80}
      offsetY={8}
      align="center"
      fontSize={italic ? 17 : 14}
      fontStyle={italic ? 'italic' : 'normal'}
      fontFamily={italic ? "'Instrument Sans Variable'" : "'JetBrains Mono Variable'"}
      fill={LIGHT}
      stroke={DARK}
      strokeWidth={3.5}
      fillAfterStrokeEnabled
    />
  )
}

/** Two strokes of an arrow's head at `tip`, coming from direction `from`. */
function ArrowHead({ tip, from, size = 9 }: { tip: Point; from: Point; size?: number }) {
  const angle = Math.atan2(tip.y - from.y, tip.x - from.x)
  const wing = (turn: number) => ({
    x: tip.x - size * Math.cos(angle + turn),
    y: tip.y - size * Math.sin(angle + turn),
  })
  return <Edged points={[wing(0.42), tip, wing(-0.42)]} />
}

/** A small square ring around a point that can be taken hold of. */
function Handle({ at, chosen }: { at: Point; chosen: boolean }) {
  return (
    <>
      <Circle x={at.x} y={at.y} radius={chosen ? 8 : 5.5} stroke={DARK} strokeWidth={4} />
      <Circle
        x={at.x}
        y={at.y}
        radius={chosen ? 8 : 5.5}
        stroke={chosen ? '#9FE3DC' : LIGHT}
        strokeWidth={1.8}
      />
    </>
  )
}

function Axes({ toStage }: { toStage: ToStage }) {
  const investigation = useInvestigation()
  const selection = useWorkbench((state) => state.selection)
  const { axes, footage } = investigation
  const mode = useWorkbench((state) => state.mode)
  // Axes that nobody has placed yet would only lie in the way of an end.
  if (!footage || (!axes.placed && mode.kind === 'reference')) return null
  const origin = toStage(axes.origin)
  const along = (angle: number, length: number): Point => ({
    x: origin.x + length * Math.cos(angle),
    y: origin.y - length * Math.sin(angle),
  })
  const handle = toStage(tiltHandle(investigation))
  const length = Math.hypot(handle.x - origin.x, handle.y - origin.y) * 1.5
  const quarter = Math.PI / 2
  const arc = Array.from({ length: 13 }, (_, i) => along(axes.tilt + (i / 12) * quarter, length / 4.5))
  const tips = [
    ['x', along(axes.tilt, length), along(axes.tilt, -28), along(axes.tilt, length + 15)],
    [
      'y',
      along(axes.tilt + quarter, length * 0.8),
      along(axes.tilt + quarter, -28),
      along(axes.tilt + quarter, length * 0.8 + 15),
    ],
  ] as const
  return (
    <Group opacity={axes.placed ? 1 : 0.55}>
      <Edged points={arc} width={1.2} />
      {tips.map(([name, tip, tail, label]) => (
        <Group key={name}>
          <Edged points={[tail, tip]} />
          <ArrowHead tip={tip} from={tail} />
          <Label at={label} text={name} italic />
        </Group>
      ))}
      <Handle at={origin} chosen={selection?.kind === 'origin'} />
      <Handle at={handle} chosen={selection?.kind === 'tilt'} />
    </Group>
  )
}

/** A reference length as a true dimension line: two extension lines, a line with arrow ends, the value along it. */
function DimensionLine({ id, reference, toStage }: { id: string; reference: Reference; toStage: ToStage }) {
  const selection = useWorkbench((state) => state.selection)
  const mode = useWorkbench((state) => state.mode)
  const [a, b] = reference.ends.map(toStage)
  const length = Math.hypot(b.x - a.x, b.y - a.y)
  if (length === 0) return null
  // Set off towards the left or upper side, whichever way the ends were drawn.
  const normal = { x: (b.y - a.y) / length, y: -(b.x - a.x) / length }
  const side = normal.x > 1e-9 || (Math.abs(normal.x) <= 1e-9 && normal.y > 0) ? -1 : 1
  const off = (point: Point, by: number): Point => ({
    x: point.x + side * normal.x * by,
    y: point.y + side * normal.y * by,
  })
  const [from, to] = [off(a, SET_OFF), off(b, SET_OFF)]
  const angle = (Math.atan2(to.y - from.y, to.x - from.x) * 180) / Math.PI
  const upright = angle > 90 ? angle - 180 : angle <= -90 ? angle + 180 : angle
  const text = reference.length === null ? 'how long?' : withUnit(fixed(reference.length, 3), 'm')
  const chosen = (end: 0 | 1) =>
    selection?.kind === 'end' && selection.reference === id && selection.end === end
  return (
    <Group opacity={mode.kind === 'mark' ? 0.6 : 1}>
      {[a, b].map((end, i) => (
        <Edged key={i === 0 ? 'from' : 'to'} points={[off(end, 7), off(end, SET_OFF + 6)]} width={1.1} />
      ))}
      <Edged points={[from, to]} width={1.3} />
      <ArrowHead tip={to} from={from} />
      <ArrowHead tip={from} from={to} />
      <Label at={off(midpoint(a, b), SET_OFF + 13)} text={text} angle={upright} />
      <Handle at={a} chosen={chosen(0)} />
      <Handle at={b} chosen={chosen(1)} />
    </Group>
  )
}

/** The reticle of the keyboard, and a line that is being drawn. */
function Drawing({ toStage }: { toStage: ToStage }) {
  const mode = useWorkbench((state) => state.mode)
  const reticle = useWorkbench((state) => state.reticle)
  if (mode.kind === 'select' || !reticle) return null
  const at = toStage(reticle)
  const first = 'first' in mode && mode.first ? toStage(mode.first) : null
  const arms: [number, number][] = [
    [1, 0],
    [-1, 0],
    [0, 1],
    [0, -1],
  ]
  return (
    <>
      {first && <Edged points={[first, at]} />}
      {first && <Handle at={first} chosen={false} />}
      {arms.map(([dx, dy]) => (
        <Edged
          key={`${dx}${dy}`}
          width={1.2}
          points={[
            { x: at.x + dx * 9, y: at.y + dy * 9 },
            { x: at.x + dx * 19, y: at.y + dy * 19 },
          ]}
        />
      ))}
    </>
  )
}
