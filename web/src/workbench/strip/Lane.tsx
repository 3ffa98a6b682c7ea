import { type Body, framesOf, gapsOf, type Mark } from '@apokinema/core/investigation'
import type { TrackDiagnosis } from '@apokinema/core/motion'
import type { InvestigationClock } from '@apokinema/core/scene'
import type { Span, UsedFrames } from '@apokinema/core/time'
import { type CSSProperties, memo, useMemo } from 'react'
import type { Look } from '../../theme/look.ts'
import { BODY_PAINT, COLOUR } from '../../theme/palettes.ts'
import { useWorkbench, workbench } from '../workbenchStore.ts'
import { drawMarks } from './drawMarks.ts'
import { LaneQuestions } from './LaneQuestions.tsx'
import { LANE_HEIGHT } from './lanes.ts'
import { Signs } from './Signs.tsx'
import type { TimeScale } from './timeScale.ts'

const MIDDLE = LANE_HEIGHT / 2

/** Returns what a lane shows of a track: frames with a mark, rests, gaps, and frames before which the motion breaks. */
function useTrack(body: Body, used: UsedFrames, frames: number) {
  const marked = useMemo(() => framesOf(body).filter((frame) => frame < frames), [body, frames])
  const rests = useMemo(
    () =>
      marked.flatMap((from) => {
        const { until } = body.marks[from]
        return until === undefined ? [] : [{ from, until, to: Math.min(until, frames - 1) }]
      }),
    [marked, body, frames],
  )
  const breaks = Object.keys(body.breaks)
    .map(Number)
    .filter((frame) => body.breaks[frame] === 'break' && frame < frames)
  return { marked, rests, gaps: gapsOf(body, used), breaks }
}

const markTitle = (frame: number, mark: Mark) =>
  mark.by === 'follow'
    ? `frame ${frame}, followed, ${Math.round(mark.certainty * 100)} % sure`
    : `frame ${frame}, by hand`

/** Returns half the height of a sign in pixels: they shrink until neighbours just fit beside each other. */
function signSize(width: number, frames: number, every: number): number {
  return Math.max(1.6, Math.min(4.2, (width / Math.max(1, frames)) * every * 0.42))
}

interface LaneProps {
  id: string
  body: Body
  diagnosis: TrackDiagnosis
  span: Span
  used: UsedFrames
  clock: InvestigationClock
  scale: TimeScale
  top: number
}

/**
 * A body's marks along time: its marker where it was marked by hand, a bar where it was followed, an empty place
 * at frames in use without a mark. Renders only when its own body changes.
 */
export const Lane = memo(function Lane({ id, body, diagnosis, span, used, clock, scale, top }: LaneProps) {
  const selection = useWorkbench((state) => state.selection)
  // Where empty places would overlap, only the line is drawn.
  const apart =
    scale.x(clock.seconds[Math.min(span.first + span.every, span.last)]) - scale.x(clock.seconds[span.first])
  const frames = apart >= 3 ? used.list : []
  const size = signSize(scale.width, clock.seconds.length, span.every)
  const xOf = (frame: number) => scale.x(clock.seconds[frame] - clock.zero)
  /** Halfway between a frame and the one in use before it. */
  const beforeOf = (frame: number) => (xOf(frame) + xOf(Math.max(0, frame - span.every))) / 2
  const { marked, rests, gaps, breaks } = useTrack(body, used, clock.seconds.length)
  const choose = (frame: number) => {
    workbench.goTo(frame)
    workbench.select({ kind: 'mark', body: id, frame })
  }
  const chosen = selection?.kind === 'mark' && selection.body === id ? selection.frame : null
  const draw = (context: CanvasRenderingContext2D, { palette }: Look) =>
    drawMarks(context, { body, marked, places: frames, used, chosen, size, width: scale.width, xOf, palette })
  const titleOf = (frame: number | null, x: number) => {
    const rest = rests.find(({ from, to }) => from === frame || (x >= xOf(from) && x <= xOf(to)))
    if (rest) return `rests from frame ${rest.from} to ${rest.until}`
    const broken = breaks.find((before) => Math.abs(beforeOf(before) - x) < 3)
    if (broken !== undefined) return `the motion breaks before frame ${broken}`
    return frame === null ? '' : markTitle(frame, body.marks[frame])
  }
  const followed = marked.filter((frame) => body.marks[frame].by === 'follow').length
  const over: CSSProperties = { position: 'absolute', left: 0, top, pointerEvents: 'none' }
  return (
    <>
      <LaneLines
        width={scale.width}
        span={span}
        gaps={gaps}
        rests={rests}
        breaks={breaks}
        colour={BODY_PAINT[body.colour]}
        xOf={xOf}
        beforeOf={beforeOf}
        over={over}
      />
      <Signs
        width={scale.width}
        top={top}
        label={`Marks of ${body.name}: ${marked.length - followed} by hand, ${followed} followed`}
        frames={marked}
        xOf={xOf}
        size={size}
        titleOf={titleOf}
        choose={choose}
        draw={draw}
        depends={[body, used, clock, scale, chosen]}
      />
      <LaneQuestions
        name={body.name}
        width={scale.width}
        diagnosis={diagnosis}
        used={used}
        xOf={xOf}
        beforeOf={beforeOf}
        choose={choose}
        over={over}
      />
    </>
  )
})

/** The line of a lane's span, with its gaps, rests and breaks. */
function LaneLines({
  width,
  span,
  gaps,
  rests,
  breaks,
  colour,
  xOf,
  beforeOf,
  over,
}: {
  width: number
  span: Span
  gaps: readonly { from: number; to: number }[]
  rests: readonly { from: number; to: number }[]
  /** Frames before which the motion breaks. */
  breaks: readonly number[]
  colour: string
  xOf(frame: number): number
  beforeOf(frame: number): number
  over: CSSProperties
}) {
  return (
    <svg width={width} height={LANE_HEIGHT} style={over} aria-hidden="true">
      <line x1={xOf(span.first)} x2={xOf(span.last)} y1={MIDDLE} y2={MIDDLE} stroke={COLOUR.line} />
      {gaps.map(({ from, to }) => (
        <line
          key={`gap${from}`}
          x1={beforeOf(from)}
          x2={xOf(to) + (xOf(to) - beforeOf(to))}
          y1={MIDDLE}
          y2={MIDDLE}
          stroke={COLOUR.alarm}
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
          stroke={COLOUR.ink}
          strokeWidth={2}
          data-broken={frame}
        />
      ))}
    </svg>
  )
}
