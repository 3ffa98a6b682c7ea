import type { GraphDescription } from '@apokinema/core/graphs'
import { edits, type HandTangent } from '@apokinema/core/investigation'
import { significant } from '@apokinema/core/units'
import { Box } from '@chakra-ui/react'
import { useRef } from 'react'
import { useSession } from '../../document/SessionContext.tsx'
import { type Area, placesIn } from '../chart/area.ts'
import { GraphHandle } from '../chart/GraphHandle.tsx'
import type { GraphLimits } from '../chart/graphDrawing.ts'

/** The ends of a line laid by hand, as handles. */
export function HandTangentHandles({
  id,
  line,
  slope,
  unit,
  description,
  limits,
  area,
}: {
  id: string
  line: HandTangent
  slope: number
  unit: string
  description: GraphDescription
  limits: GraphLimits
  area: Area
}) {
  const session = useSession()
  const { perKept } = description.y
  /** The line when a drag began. */
  const held = useRef(line)
  const places = placesIn(limits, area)
  const shown = ({ x, y }: { x: number; y: number }) => ({ x, y: y * perKept })
  /** Returns the line with an end moved by some pixels. */
  const moved = (start: HandTangent, end: 'from' | 'to', dx: number, dy: number): HandTangent => {
    const { x, y } = places.moved(shown(start[end]), dx, dy)
    return { ...start, [end]: { x, y: y / perKept } }
  }
  const laid = (start: HandTangent, end: 'from' | 'to', dx: number, dy: number) =>
    edits.changeGraph(id, { handTangent: moved(start, end, dx, dy) })
  return (
    <Box as="svg" position="absolute" inset="0" width="100%" height="100%" pointerEvents="none">
      {(['from', 'to'] as const).map((end) => (
        <GraphHandle
          key={end}
          at={places.pixelOf(shown(line[end]))}
          label={end === 'from' ? 'First end of the line' : 'Second end of the line'}
          value={slope}
          text={`slope ${significant(slope, 3)} ${unit}`}
          onHold={() => {
            held.current = line
          }}
          onMove={(dx, dy) => session.preview(laid(held.current, end, dx, dy))}
          onDrop={(dx, dy) => session.edit('lay the line', laid(held.current, end, dx, dy))}
          onKey={(dx, dy) => session.edit('lay the line', laid(line, end, dx, dy), `line ${id}`)}
          onCancel={() => session.preview(null)}
        />
      ))}
    </Box>
  )
}
