import { type GraphDescription, type Limits, slopesOf, slopeUnit } from '@apokinema/core/graphs'
import { edits, type Graph, type HandTangent } from '@apokinema/core/investigation'
import { fixed, measurement, significant, withUnit } from '@apokinema/core/units'
import { Box } from '@chakra-ui/react'
import { type KeyboardEvent, type PointerEvent, useMemo, useRef } from 'react'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { PAINT } from '../../theme/system.ts'
import { useWorkbench } from '../workbenchStore.ts'

/** Where a graph's points lie, in pixels of its canvas. */
export interface Area {
  left: number
  top: number
  width: number
  height: number
}

type Place = { x: number; y: number }

/** Share of the width that a tangent reaches to either side. */
const REACH = 0.16
/** Pixels that an arrow key moves an end by; with Shift ten times as far. */
const STEP = 1

/** A line to begin with: from the first to the last third of the points, in the units that are kept. */
export function firstLine({ series: [{ points }], up }: GraphDescription): HandTangent {
  const [from, to] = [points[Math.floor(points.length / 3)], points[Math.floor((2 * points.length) / 3)]]
  const kept = (point: Place | undefined) => ({ x: point?.x ?? 0, y: (point?.y ?? 0) / up.perKept })
  return { from: kept(from), to: kept(to) }
}

/**
 * The tangent at the current frame, with its slope by the derivative in use, and a line that is laid by hand, with how
 * far its slope is from the computed one where it lies.
 */
export function Tangent({
  id,
  graph,
  description,
  limits,
  area,
}: {
  id: string
  graph: Graph
  description: GraphDescription
  limits: { across: Limits; up: Limits }
  area: Area
}) {
  const { derivation } = useInvestigation()
  const frame = useWorkbench((state) => state.frame)
  const { up, series } = description
  const [{ table, column }] = series
  const used = graph.derivation ?? derivation
  const slopes = useMemo(
    () => (up.transform.id === 'none' ? slopesOf(table, graph.quantity, used) : []),
    [table, graph.quantity, used, up.transform.id],
  )
  const unit = slopeUnit(column, table.length)
  const seen = { across: limits.across.to - limits.across.from, up: limits.up.to - limits.up.from }
  const pixelOf = ({ x, y }: Place): Place => ({
    x: area.left + ((x - limits.across.from) / seen.across) * area.width,
    y: area.top + area.height - ((y - limits.up.from) / seen.up) * area.height,
  })
  const here = slopes.find(({ row }) => table.frames[row] <= frame && table.until[row] >= frame)
  const nearest = (time: number) =>
    slopes.reduce<(typeof slopes)[number] | null>(
      (best, one) => (!best || Math.abs(one.time - time) < Math.abs(best.time - time) ? one : best),
      null,
    )
  const reach = REACH * seen.across
  const line = here && {
    from: pixelOf({ x: here.time - reach, y: here.value - reach * here.slope }),
    to: pixelOf({ x: here.time + reach, y: here.value + reach * here.slope }),
  }
  // Above the point, or below it where the graph ends.
  const beside = ({ x, y }: Place): Place => ({ x, y: y > area.top + 44 ? y - 22 : y + 34 })
  const clip = `tangent-${id}`
  return (
    <Box as="svg" position="absolute" inset="0" width="100%" height="100%" pointerEvents="none" data-tangent>
      <clipPath id={clip}>
        <rect x={area.left} y={area.top} width={area.width} height={area.height} />
      </clipPath>
      <g clipPath={`url(#${clip})`}>
        {graph.tangent && line && (
          <>
            <Line from={line.from} to={line.to} colour={PAINT.saffron} />
            <Words
              at={beside(pixelOf({ x: here.time, y: here.value }))}
              area={area}
              text={`slope ${measurement(here.slope, here.error, unit)}`}
            />
          </>
        )}
      </g>
      {graph.tangent && !here && (
        <Words
          at={{ x: area.left + area.width / 2, y: area.top + 24 }}
          area={area}
          text="no slope at this frame"
        />
      )}
      {graph.handTangent && (
        <HandLine
          id={id}
          line={graph.handTangent}
          perKept={up.perKept}
          unit={unit}
          seen={seen}
          area={area}
          pixelOf={pixelOf}
          computed={nearest}
        />
      )}
    </Box>
  )
}

function Line({ from, to, colour }: { from: Place; to: Place; colour: string }) {
  return (
    <>
      {[
        ['#FFFFFF', 4],
        [colour, 2],
      ].map(([stroke, width]) => (
        <line
          key={stroke}
          x1={from.x}
          y1={from.y}
          x2={to.x}
          y2={to.y}
          stroke={String(stroke)}
          strokeWidth={width}
        />
      ))}
    </>
  )
}

/** Pixels that a letter is wide, about. */
const LETTER = 6.8

/** Words around a place, as far as the graph has room for them. */
function Words({ at, area, text }: { at: Place; area: Area; text: string }) {
  const half = (LETTER * text.length) / 2
  const [least, most] = [area.left + half + 4, area.left + area.width - half - 4]
  return (
    <text
      x={least < most ? Math.min(most, Math.max(least, at.x)) : area.left + area.width / 2}
      y={Math.min(area.top + area.height - 6, Math.max(area.top + 16, at.y))}
      textAnchor="middle"
      fontSize="13"
      fontWeight="600"
      fill={PAINT.ink}
      stroke="#FFFFFF"
      strokeWidth="4"
      paintOrder="stroke"
    >
      {text}
    </text>
  )
}

/** A line between two handles, which are dragged or moved by arrow keys. */
function HandLine({
  id,
  line,
  perKept,
  unit,
  seen,
  area,
  pixelOf,
  computed,
}: {
  id: string
  line: HandTangent
  perKept: number
  unit: string
  seen: { across: number; up: number }
  area: Area
  pixelOf: (place: Place) => Place
  computed: (time: number) => { slope: number; error: number } | null
}) {
  const session = useSession()
  const held = useRef<{ end: 'from' | 'to'; x: number; y: number; line: HandTangent } | null>(null)
  const shown = (place: Place) => ({ x: place.x, y: place.y * perKept })
  const [from, to] = [pixelOf(shown(line.from)), pixelOf(shown(line.to))]
  const slope = (perKept * (line.to.y - line.from.y)) / (line.to.x - line.from.x)
  const known = computed((line.from.x + line.to.x) / 2)
  const off = known && known.slope !== 0 ? (100 * (slope - known.slope)) / Math.abs(known.slope) : null
  /** The line with an end moved by some pixels. */
  const moved = (start: HandTangent, end: 'from' | 'to', dx: number, dy: number): HandTangent => ({
    ...start,
    [end]: {
      x: start[end].x + (dx / area.width) * seen.across,
      y: start[end].y - ((dy / area.height) * seen.up) / perKept,
    },
  })
  const laid = (handTangent: HandTangent) => edits.changeGraph(id, { handTangent })
  const at = (event: PointerEvent) => {
    const { end, x, y, line: start } = held.current!
    return laid(moved(start, end, event.clientX - x, event.clientY - y))
  }
  const handle = (end: 'from' | 'to', place: Place) => (
    <circle
      role="slider"
      aria-label={end === 'from' ? 'First end of the line' : 'Second end of the line'}
      aria-valuenow={slope}
      aria-valuetext={`slope ${significant(slope, 3)} ${unit}`}
      tabIndex={0}
      cx={place.x}
      cy={place.y}
      r={7}
      fill="#FFFFFF"
      stroke={PAINT.petrol}
      strokeWidth={2}
      style={{ pointerEvents: 'auto', cursor: 'move', touchAction: 'none' }}
      onPointerDown={(event) => {
        event.stopPropagation()
        event.currentTarget.setPointerCapture(event.pointerId)
        held.current = { end, x: event.clientX, y: event.clientY, line }
      }}
      onPointerMove={(event) => {
        if (!held.current) return
        event.stopPropagation()
        session.preview(at(event))
      }}
      onPointerUp={(event) => {
        if (!held.current) return
        event.stopPropagation()
        session.edit('lay the line', at(event))
        held.current = null
      }}
      onPointerCancel={() => {
        held.current = null
        session.preview(null)
      }}
      onKeyDown={(event: KeyboardEvent) => {
        const by = ARROWS[event.key]
        if (!by) return
        event.preventDefault()
        event.stopPropagation()
        const far = event.shiftKey ? 10 * STEP : STEP
        session.edit('lay the line', laid(moved(line, end, far * by[0], far * by[1])), `line ${id}`)
      }}
    />
  )
  const says = [
    `yours ${withUnit(significant(slope, 3), unit)}`,
    known && `computed here ${measurement(known.slope, known.error, unit)}`,
    off !== null && Number.isFinite(off) && `${off < 0 ? '−' : '+'}${fixed(Math.abs(off), 1)} %`,
  ].filter(Boolean)
  return (
    <>
      <Line from={from} to={to} colour={PAINT.petrol} />
      <Words at={{ x: (from.x + to.x) / 2, y: Math.min(from.y, to.y) }} area={area} text={says.join(' · ')} />
      {handle('from', from)}
      {handle('to', to)}
    </>
  )
}

const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
}
