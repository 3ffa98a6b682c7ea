import type { TrackDiagnosis } from '@apokinema/core/motion'
import type { UsedFrames } from '@apokinema/core/time'
import { fixed } from '@apokinema/core/units'
import type { CSSProperties } from 'react'
import { COLOUR } from '../../theme/palettes.ts'
import { LANE_HEIGHT } from './lanes.ts'

/** Questions about a body's track on its lane: possible breaks, jumps and outliers. A click goes to the frame. */
export function LaneQuestions({
  name,
  width,
  diagnosis,
  used,
  xOf,
  beforeOf,
  choose,
  over,
}: {
  /** Of the body. */
  name: string
  width: number
  diagnosis: TrackDiagnosis
  used: UsedFrames
  xOf(frame: number): number
  /** Halfway between a frame and the one in use before it. */
  beforeOf(frame: number): number
  choose(frame: number): void
  over: CSSProperties
}) {
  const outliers = diagnosis.outliers.filter(({ frame }) => used.has(frame))
  const asked = [
    ...diagnosis.breaks.map((frame) => ({
      frame,
      colour: COLOUR.ink,
      title: `bounce or collision at frame ${frame}?`,
      'data-break-asked': frame,
    })),
    ...diagnosis.jumps.map(({ frame, length }) => ({
      frame,
      colour: COLOUR.alarm,
      title: `a jump by ${fixed(length, 0)} px before frame ${frame}: is it still ${name}?`,
      'data-jump-asked': frame,
    })),
  ].filter(({ frame }) => used.has(frame))
  return (
    <svg width={width} height={LANE_HEIGHT} style={over} aria-label={`Questions about ${name}`}>
      {asked.map(({ frame, colour: ink, title, ...data }) => (
        // A question mark on a dashed line: nothing has been decided yet.
        <g
          key={`asked${frame}`}
          {...data}
          style={{ cursor: 'pointer', pointerEvents: 'auto' }}
          onPointerDown={(event) => {
            event.stopPropagation()
            choose(frame)
          }}
        >
          <line
            x1={beforeOf(frame)}
            x2={beforeOf(frame)}
            y1={2}
            y2={LANE_HEIGHT - 2}
            stroke={ink}
            strokeDasharray="3 3"
          />
          <circle cx={beforeOf(frame)} cy={6} r={5.5} fill={ink} />
          <text
            x={beforeOf(frame)}
            y={9.5}
            fontSize="10"
            fontWeight="700"
            fill={COLOUR.panel}
            textAnchor="middle"
          >
            ?
          </text>
          <title>{title}</title>
        </g>
      ))}
      {outliers.map(({ frame, size }) => (
        <OutlierSign key={`stray${frame}`} frame={frame} sigmas={size} x={xOf(frame)} choose={choose} />
      ))}
    </svg>
  )
}

/** An outlier, and by how many standard errors it is off. */
function OutlierSign({
  frame,
  sigmas,
  x,
  choose,
}: {
  frame: number
  sigmas: number
  x: number
  choose(frame: number): void
}) {
  return (
    <path
      d={`M${x} 1l4.5 7h-9z`}
      fill={COLOUR.alarm}
      data-stray-mark={frame}
      style={{ pointerEvents: 'auto' }}
      onPointerDown={(event) => {
        event.stopPropagation()
        choose(frame)
      }}
    >
      <title>{`frame ${frame}: ${Math.round(sigmas)} standard errors away from its neighbours`}</title>
    </path>
  )
}
