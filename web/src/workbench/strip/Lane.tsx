import { type Body, framesOf, gapsOf, markedFrames } from '@apokinema/core/investigation'
import type { TrackDiagnosis } from '@apokinema/core/motion'
import type { InvestigationClock } from '@apokinema/core/scene'
import type { Span, UsedFrames } from '@apokinema/core/time'
import { fixed } from '@apokinema/core/units'
import { memo, useMemo } from 'react'
import { BODY_PAINT, PAINT } from '../../theme/system.ts'
import { MARKER_PATHS } from '../Marker.tsx'
import { useWorkbench, workbench } from '../workbenchStore.ts'
import { LANE_HEIGHT } from './lanes.ts'
import { Signs } from './Signs.tsx'
import type { TimeScale } from './timeScale.ts'

const MIDDLE = LANE_HEIGHT / 2

/** Returns a followed mark on the lane: a bar, the higher the surer it is. */
function barOf(certainty: number): Path2D {
  const high = 0.3 + 1.7 * certainty ** 3
  const bar = new Path2D()
  bar.rect(-0.5, -high, 1, 2 * high)
  return bar
}

/**
 * Returns the frames whose signs are drawn, in order: of those on the same pixel only one, where there is one by hand the
 * last of these, otherwise the least sure. Signs outside the lane are left out.
 */
function drawnFrames(
  marked: readonly number[],
  marks: Body['marks'],
  xOf: (frame: number) => number,
  width: number,
): number[] {
  const weight = (frame: number) => {
    const mark = marks[frame]
    return mark.by === 'hand' ? -1 : mark.certainty
  }
  const drawn: number[] = []
  let pixel = Number.NaN
  for (const frame of marked) {
    const x = Math.round(xOf(frame))
    if (x < -REACH || x > width + REACH) continue
    if (x !== pixel) drawn.push(frame)
    else if (weight(frame) <= weight(drawn[drawn.length - 1])) drawn[drawn.length - 1] = frame
    pixel = x
  }
  return drawn
}

/** Signs reach no farther than this beside their frame, in pixels. */
const REACH = 6

/**
 * A body's marks along time: its marker where a hand has set one, a bar where it was followed, an empty place
 * where the span still waits for one. It is rendered by what changes of its own body.
 */
export const Lane = memo(function Lane({
  id,
  body,
  diagnosis,
  span,
  used,
  clock,
  scale,
  top,
}: {
  id: string
  body: Body
  diagnosis: TrackDiagnosis
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
  const marked = useMemo(
    () => framesOf(body).filter((frame) => frame < clock.seconds.length),
    [body, clock.seconds.length],
  )
  const rests = useMemo(
    () =>
      marked.flatMap((from) => {
        const { until } = body.marks[from]
        return until === undefined ? [] : [{ from, until, to: Math.min(until, clock.seconds.length - 1) }]
      }),
    [marked, body, clock.seconds.length],
  )
  const gaps = gapsOf(body, used)
  const breaks = Object.keys(body.breaks)
    .map(Number)
    .filter((frame) => body.breaks[frame] === 'break' && frame < clock.seconds.length)
  const choose = (frame: number) => {
    workbench.goTo(frame)
    workbench.select({ kind: 'mark', body: id, frame })
  }
  const outliers = diagnosis.outliers.filter(({ frame }) => used.has(frame))
  const asked = [
    ...diagnosis.breaks.map((frame) => ({
      frame,
      colour: PAINT.ink,
      title: `bounce or collision at frame ${frame}?`,
      'data-break-asked': frame,
    })),
    ...diagnosis.jumps.map(({ frame, length }) => ({
      frame,
      colour: PAINT.alarm,
      title: `a jump by ${fixed(length, 0)} px before frame ${frame}: is it still ${body.name}?`,
      'data-jump-asked': frame,
    })),
  ].filter(({ frame }) => used.has(frame))
  const chosen = selection?.kind === 'mark' && selection.body === id ? selection.frame : null
  const draw = (context: CanvasRenderingContext2D) => {
    const covered = frames.length > 0 ? markedFrames(body.marks) : new Set()
    context.fillStyle = '#FFFFFF'
    context.strokeStyle = '#BDB8AA'
    context.beginPath()
    for (const frame of frames) {
      if (covered.has(frame)) continue
      const x = xOf(frame)
      const radius = Math.max(1.2, size - 0.8)
      context.moveTo(x + radius, MIDDLE)
      context.arc(x, MIDDLE, radius, 0, 2 * Math.PI)
    }
    context.fill()
    context.stroke()
    const marker = new Path2D(MARKER_PATHS[body.shape])
    context.fillStyle = colour
    const lay = (frame: number, isChosen: boolean) => {
      const mark = body.marks[frame]
      context.globalAlpha = used.has(frame) ? 1 : 0.3
      context.save()
      context.translate(xOf(frame), MIDDLE)
      context.scale(size, size)
      const sign = mark.by === 'hand' ? marker : barOf(mark.certainty)
      context.fill(sign)
      if (isChosen) {
        context.strokeStyle = '#0F5C5C'
        context.lineWidth = 0.7
        context.stroke(sign)
      }
      context.restore()
    }
    for (const frame of drawnFrames(marked, body.marks, xOf, scale.width)) lay(frame, false)
    if (chosen !== null && body.marks[chosen]) lay(chosen, true)
  }
  const titleOf = (frame: number | null, x: number) => {
    const rest = rests.find(({ from, to }) => from === frame || (x >= xOf(from) && x <= xOf(to)))
    if (rest) return `rests from frame ${rest.from} to ${rest.until}`
    const broken = breaks.find((before) => Math.abs(beforeOf(before) - x) < 3)
    if (broken !== undefined) return `the motion breaks before frame ${broken}`
    if (frame === null) return ''
    const mark = body.marks[frame]
    return mark.by === 'follow'
      ? `frame ${frame}, followed, ${Math.round(mark.certainty * 100)} % sure`
      : `frame ${frame}, by hand`
  }
  const followed = marked.filter((frame) => body.marks[frame].by === 'follow').length
  const over = { position: 'absolute', left: 0, top, pointerEvents: 'none' } as const
  return (
    <>
      <svg width={scale.width} height={LANE_HEIGHT} style={over} aria-hidden="true">
        <line x1={xOf(span.first)} x2={xOf(span.last)} y1={MIDDLE} y2={MIDDLE} stroke="#DDD8CC" />
        {gaps.map(({ from, to }) => (
          <line
            key={`gap${from}`}
            x1={beforeOf(from)}
            x2={xOf(to) + (xOf(to) - beforeOf(to))}
            y1={MIDDLE}
            y2={MIDDLE}
            stroke={PAINT.alarm}
            strokeWidth={3}
            strokeDasharray="2 2"
            data-gap={from}
          />
        ))}
        {rests.map(({ from, to }) => (
          <line
            key={`rest${from}`}
            x1={xOf(from)}
            x2={xOf(to)}
            y1={MIDDLE}
            y2={MIDDLE}
            stroke={colour}
            strokeWidth={4}
            strokeLinecap="round"
            opacity={0.55}
            data-rest={from}
          />
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
          />
        ))}
      </svg>
      <Signs
        width={scale.width}
        top={top}
        label={`Marks of ${body.name}: ${marked.length - followed} by hand, ${followed} followed`}
        {...{ frames: marked, xOf, size, titleOf, choose, draw }}
        depends={[body, used, clock, scale, chosen]}
      />
      <svg width={scale.width} height={LANE_HEIGHT} style={over} aria-label={`Questions about ${body.name}`}>
        {asked.map(({ frame, colour: ink, title, ...data }) => (
          // A question mark on a line: it is asked, and nothing is done yet.
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
              fill="#FFFFFF"
              textAnchor="middle"
            >
              ?
            </text>
            <title>{title}</title>
          </g>
        ))}
        {outliers.map(({ frame, size: off }) => (
          <path
            key={`stray${frame}`}
            d={`M${xOf(frame)} 1l4.5 7h-9z`}
            fill={PAINT.alarm}
            data-stray-mark={frame}
            style={{ pointerEvents: 'auto' }}
            onPointerDown={(event) => {
              event.stopPropagation()
              choose(frame)
            }}
          >
            <title>{`frame ${frame}: ${Math.round(off)} standard errors away from its neighbours`}</title>
          </path>
        ))}
      </svg>
    </>
  )
})
