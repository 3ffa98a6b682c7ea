import type { Point } from '@apokinema/core/geometry'
import { strokeWidth } from '../../../theme/look.ts'
import { CHOSEN, DARK, LIGHT } from '../../strokes.ts'

/** Maps a picture point to the stage. */
export type ToStage = (point: Point) => Point

/** Returns points as an SVG attribute. */
export const pointsText = (points: readonly Point[]) => points.map(({ x, y }) => `${x},${y}`).join(' ')

/** A line with a dark edge around a light core, visible on any picture. */
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
  const Shape = closed ? 'polygon' : 'polyline'
  const shape = {
    points: pointsText(points),
    fill: 'none',
    strokeLinecap: 'round',
    strokeLinejoin: 'round',
    strokeDasharray: dash?.join(' '),
  } as const
  return (
    <>
      <Shape {...shape} stroke={DARK} style={{ strokeWidth: strokeWidth(width + 2.4) }} />
      <Shape {...shape} stroke={colour} style={{ strokeWidth: strokeWidth(width) }} />
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
    <text
      transform={`translate(${at.x} ${at.y}) rotate(${angle})`}
      textAnchor="middle"
      dominantBaseline="central"
      style={{
        fontSize: italic ? '1.0625rem' : '0.875rem',
        fontStyle: italic ? 'italic' : 'normal',
        fontFamily: italic ? "'Instrument Sans Variable'" : "'JetBrains Mono Variable'",
      }}
      fill={LIGHT}
      stroke={DARK}
      strokeWidth={3.5}
      paintOrder="stroke"
    >
      {text}
    </text>
  )
}

/** Returns the two strokes of an arrow head at `tip`, coming from `from`. */
export function ArrowHead({ tip, from, size = 9 }: { tip: Point; from: Point; size?: number }) {
  const angle = Math.atan2(tip.y - from.y, tip.x - from.x)
  const wing = (turn: number) => ({
    x: tip.x - size * Math.cos(angle + turn),
    y: tip.y - size * Math.sin(angle + turn),
  })
  return <Edged points={[wing(0.42), tip, wing(-0.42)]} />
}

/** A small ring around a point that can be dragged; the point itself stays free. */
export function Handle({ at, chosen, small = false }: { at: Point; chosen: boolean; small?: boolean }) {
  const radius = small ? 3.5 : chosen ? 8 : 5.5
  return (
    <>
      <circle
        cx={at.x}
        cy={at.y}
        r={radius}
        fill="none"
        stroke={DARK}
        style={{ strokeWidth: strokeWidth(4) }}
      />
      <circle
        cx={at.x}
        cy={at.y}
        r={radius}
        fill="none"
        stroke={chosen ? CHOSEN : LIGHT}
        style={{ strokeWidth: strokeWidth(1.8) }}
      />
    </>
  )
}

/** Returns the angle of text along a line, never upside down, in degrees. */
export function uprightAngle(from: Point, to: Point): number {
  const angle = (Math.atan2(to.y - from.y, to.x - from.x) * 180) / Math.PI
  if (angle > 90) return angle - 180
  return angle <= -90 ? angle + 180 : angle
}
