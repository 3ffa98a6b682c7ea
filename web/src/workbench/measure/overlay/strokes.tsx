import type { Point } from '@apokinema/core/geometry'
import { Circle, Line, Text } from 'react-konva'
import { CHOSEN, DARK, LIGHT } from '../../strokes.ts'

/** A picture point to a point of the stage. */
export type ToStage = (point: Point) => Point

/** A line with a dark edge around a light core, so that it shows on any picture. */
export function Edged({
  points,
  closed = false,
  width = 1.6,
  colour = LIGHT,
  dash,
}: {
  points: Point[]
  closed?: boolean
  width?: number
  colour?: string
  dash?: number[] | undefined
}) {
  const flat = points.flatMap(({ x, y }) => [x, y])
  const shape = { points: flat, closed, lineCap: 'round', lineJoin: 'round', ...(dash && { dash }) } as const
  return (
    <>
      <Line {...shape} stroke={DARK} strokeWidth={width + 2.4} />
      <Line {...shape} stroke={colour} strokeWidth={width} />
    </>
  )
}

export function Label({
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
      width={220}
      offsetX={110}
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
export function ArrowHead({ tip, from, size = 9 }: { tip: Point; from: Point; size?: number }) {
  const angle = Math.atan2(tip.y - from.y, tip.x - from.x)
  const wing = (turn: number) => ({
    x: tip.x - size * Math.cos(angle + turn),
    y: tip.y - size * Math.sin(angle + turn),
  })
  return <Edged points={[wing(0.42), tip, wing(-0.42)]} />
}

/** A small ring around a point that can be taken hold of; the point itself stays free. */
export function Handle({ at, chosen, small = false }: { at: Point; chosen: boolean; small?: boolean }) {
  const radius = small ? 3.5 : chosen ? 8 : 5.5
  return (
    <>
      <Circle x={at.x} y={at.y} radius={radius} stroke={DARK} strokeWidth={4} />
      <Circle x={at.x} y={at.y} radius={radius} stroke={chosen ? CHOSEN : LIGHT} strokeWidth={1.8} />
    </>
  )
}

/** The angle of text along a line that is never upside down, in degrees. */
export function uprightAngle(from: Point, to: Point): number {
  const angle = (Math.atan2(to.y - from.y, to.x - from.x) * 180) / Math.PI
  if (angle > 90) return angle - 180
  return angle <= -90 ? angle + 180 : angle
}
