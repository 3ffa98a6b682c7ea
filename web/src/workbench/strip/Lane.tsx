import { type Body, markedFrames } from '@apokinema/core/investigation'
import type { Course, InvestigationClock } from '@apokinema/core/motion'
import type { Span, UsedFrames } from '@apokinema/core/time'
import { memo } from 'react'
import { BODY_PAINT, PAINT } from '../../theme/system.ts'
import { MARKER_PATHS } from '../Marker.tsx'
import { useWorkbench, workbench } from '../workbenchStore.ts'
import type { TimeScale } from './timeScale.ts'

export const LANE_HEIGHT = 24

/** A followed mark on the lane: a bar, the higher the surer it is. */
function barOf(certainty: number): string {
  const high = 0.3 + 1.7 * certainty ** 3
  return `M-0.5 ${-high}h1v${2 * high}h-1z`
}

/**
 * A body's marks along time: its marker where a hand has set one, a bar where it was followed, an empty place
 * where the span still waits for one. It is rendered by what changes of its own body.
 */
export const Lane = memo(function Lane({
  id,
  body,
  course,
  span,
  used,
  clock,
  scale,
  top,
}: {
  id: string
  body: Body
  course: Course
  span: Span
  used: UsedFrames
  clock: InvestigationClock
  scale: TimeScale
  top: number
}) {
  const selection = useWorkbench((state) => state.selection)
  const colour = BODY_PAINT[body.colour].mark
  // Where empty places would lie closer than they are wide, the line alone has to do.
  const apart =
    scale.x(clock.seconds[Math.min(span.first + span.every, span.last)]) - scale.x(clock.seconds[span.first])
  const frames = apart >= 3 ? used.list : []
  const size = Math.max(
    1.6,
    Math.min(4.2, (scale.width / Math.max(1, clock.seconds.length)) * span.every * 0.42),
  )
  const xOf = (frame: number) => scale.x(clock.seconds[frame] - clock.zero)
  /** Halfway between a frame and the one in use before it. */
  const beforeOf = (frame: number) => (xOf(frame) + xOf(Math.max(0, frame - span.every))) / 2
  const middle = LANE_HEIGHT / 2
  const marked = Object.keys(body.marks).map(Number)
  const covered = markedFrames(body.marks)
  const breaks = Object.keys(body.breaks)
    .map(Number)
    .filter((frame) => body.breaks[frame] === 'break' && frame < clock.seconds.length)
  const choose = (frame: number) => {
    workbench.goTo(frame)
    workbench.select({ kind: 'mark', body: id, frame })
  }
  const strays = course.strays.filter(({ frame }) => used.has(frame))
  return (
    <svg
      width={scale.width}
      height={LANE_HEIGHT}
      style={{ position: 'absolute', left: 0, top }}
      aria-label={`Marks of ${body.name}`}
    >
      <line x1={xOf(span.first)} x2={xOf(span.last)} y1={middle} y2={middle} stroke="#DDD8CC" />
      {frames
        .filter((frame) => !covered.has(frame))
        .map((frame) => (
          <circle
            key={frame}
            cx={xOf(frame)}
            cy={middle}
            r={Math.max(1.2, size - 0.8)}
            fill="#FFFFFF"
            stroke="#BDB8AA"
          />
        ))}
      {marked
        .filter((frame) => body.marks[frame].until !== undefined && frame < clock.seconds.length)
        .map((frame) => (
          <line
            key={`rest${frame}`}
            x1={xOf(frame)}
            x2={xOf(Math.min(body.marks[frame].until!, clock.seconds.length - 1))}
            y1={middle}
            y2={middle}
            stroke={colour}
            strokeWidth={4}
            strokeLinecap="round"
            opacity={0.55}
            data-rest={frame}
          >
            <title>{`rests from frame ${frame} to ${body.marks[frame].until}`}</title>
          </line>
        ))}
      {breaks.map((frame) => (
        <line
          key={`break${frame}`}
          x1={beforeOf(frame)}
          x2={beforeOf(frame)}
          y1={2}
          y2={LANE_HEIGHT - 2}
          stroke={PAINT.ink}
          strokeWidth={2}
          data-broken={frame}
        >
          <title>{`the motion breaks before frame ${frame}`}</title>
        </line>
      ))}
      {course.breaks
        .filter((frame) => used.has(frame))
        .map((frame) => (
          // A question mark on a line: it is asked, and nothing is done yet.
          <g
            key={`asked${frame}`}
            data-break-asked={frame}
            style={{ cursor: 'pointer' }}
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
              stroke={PAINT.ink}
              strokeDasharray="3 3"
            />
            <circle cx={beforeOf(frame)} cy={6} r={5.5} fill={PAINT.ink} />
            <text
              x={beforeOf(frame)}
              y={9.5}
              fontSize="10"
              fontWeight="700"
              fill="#FFFFFF"
              textAnchor="middle"
            >
              ?
            </text>
            <title>{`does the motion change at once before frame ${frame}?`}</title>
          </g>
        ))}
      {marked
        .filter((frame) => frame < clock.seconds.length)
        .map((frame) => {
          const mark = body.marks[frame]
          const chosen = selection?.kind === 'mark' && selection.body === id && selection.frame === frame
          return (
            <path
              key={frame}
              d={mark.by === 'follow' ? barOf(mark.certainty) : MARKER_PATHS[body.shape]}
              transform={`translate(${xOf(frame)} ${middle}) scale(${size})`}
              fill={colour}
              opacity={used.has(frame) ? 1 : 0.3}
              stroke={chosen ? '#0F5C5C' : 'none'}
              strokeWidth={chosen ? 0.7 : 0}
              data-mark={frame}
              data-by={mark.by}
              onPointerDown={(event) => {
                event.stopPropagation()
                choose(frame)
              }}
            >
              <title>
                {mark.by === 'follow'
                  ? `frame ${frame}, followed, ${Math.round(mark.certainty * 100)} % sure`
                  : `frame ${frame}, by hand`}
              </title>
            </path>
          )
        })}
      {strays.map(({ frame, size: off }) => (
        <path
          key={`stray${frame}`}
          d={`M${xOf(frame)} 1l4.5 7h-9z`}
          fill={PAINT.alarm}
          data-stray-mark={frame}
          onPointerDown={(event) => {
            event.stopPropagation()
            choose(frame)
          }}
        >
          <title>{`frame ${frame}: ${Math.round(off)} standard errors off the course`}</title>
        </path>
      ))}
    </svg>
  )
})
