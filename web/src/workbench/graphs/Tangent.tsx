import { type GraphDescription, type Limits, slopesOf, slopeUnit } from '@apokinema/core/graphs'
import { edits, type Graph, type HandTangent } from '@apokinema/core/investigation'
import { fixed, measurement, significant, withUnit } from '@apokinema/core/units'
import { Box } from '@chakra-ui/react'
import { useMemo, useRef } from 'react'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { PAINT } from '../../theme/system.ts'
import { useWorkbench } from '../workbenchStore.ts'
import { type Area, type Place, placesIn } from './area.ts'
import { GraphHandle } from './GraphHandle.tsx'

/** Share of the width that a tangent reaches to either side. */
const REACH = 0.16

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
  const places = placesIn(limits, area)
  const { pixelOf } = places
  const here = slopes.find(({ row }) => table.frames[row] <= frame && table.until[row] >= frame)
  const nearest = (time: number) =>
    slopes.reduce<(typeof slopes)[number] | null>(
      (best, one) => (!best || Math.abs(one.time - time) < Math.abs(best.time - time) ? one : best),
      null,
    )
  const reach = REACH * (limits.across.to - limits.across.from)
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
          area={area}
          places={places}
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
  area,
  places,
  computed,
}: {
  id: string
  line: HandTangent
  perKept: number
  unit: string
  area: Area
  places: ReturnType<typeof placesIn>
  computed: (time: number) => { slope: number; error: number } | null
}) {
  const session = useSession()
  /** The line as it was when one of its ends was taken hold of. */
  const held = useRef(line)
  const shown = (place: Place) => ({ x: place.x, y: place.y * perKept })
  const [from, to] = [places.pixelOf(shown(line.from)), places.pixelOf(shown(line.to))]
  const slope = (perKept * (line.to.y - line.from.y)) / (line.to.x - line.from.x)
  const known = computed((line.from.x + line.to.x) / 2)
  const off = known && known.slope !== 0 ? (100 * (slope - known.slope)) / Math.abs(known.slope) : null
  /** The line with an end moved by some pixels. */
  const moved = (start: HandTangent, end: 'from' | 'to', dx: number, dy: number): HandTangent => {
    const { x, y } = places.moved(shown(start[end]), dx, dy)
    return { ...start, [end]: { x, y: y / perKept } }
  }
  const laid = (handTangent: HandTangent) => edits.changeGraph(id, { handTangent })
  const handle = (end: 'from' | 'to', place: Place) => {
    const by = (start: HandTangent, dx: number, dy: number) => laid(moved(start, end, dx, dy))
    return (
      <GraphHandle
        at={place}
        label={end === 'from' ? 'First end of the line' : 'Second end of the line'}
        value={slope}
        text={`slope ${significant(slope, 3)} ${unit}`}
        onHold={() => {
          held.current = line
        }}
        onMove={(dx, dy) => session.preview(by(held.current, dx, dy))}
        onDrop={(dx, dy) => session.edit('lay the line', by(held.current, dx, dy))}
        onKey={(dx, dy) => session.edit('lay the line', by(line, dx, dy), `line ${id}`)}
        onCancel={() => session.preview(null)}
      />
    )
  }
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
