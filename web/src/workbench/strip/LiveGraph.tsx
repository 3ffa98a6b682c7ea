import { significant } from '@apokinema/core/units'
import { memo } from 'react'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { BODY_PAINT } from '../../theme/system.ts'
import { MARKER_PATHS } from '../Marker.tsx'
import { shownTableOf } from '../tables.ts'
import type { TimeScale } from './timeScale.ts'

export const LIVE_HEIGHT = 76
const MARGIN = 9

/** x and y of the active body under the frames that they come from: x filled, y hollow. */
export const LiveGraph = memo(function LiveGraph({
  body,
  scale,
  top,
}: {
  body: string | null
  scale: TimeScale
  top: number
}) {
  const investigation = useInvestigation()
  const table = body ? shownTableOf(investigation, body) : null
  const values = table ? [...table.column('x').values, ...table.column('y').values] : []
  if (!table || !body || values.length === 0)
    return (
      <svg
        width={scale.width}
        height={LIVE_HEIGHT}
        style={{ position: 'absolute', left: 0, top }}
        aria-hidden="true"
      >
        <text x={scale.x(0) + 10} y={LIVE_HEIGHT / 2 + 4} fontSize="13" fill="#5C6664">
          {body ? 'Marks appear here as soon as there are some.' : ''}
        </text>
      </svg>
    )
  const low = Math.min(0, ...values)
  const high = Math.max(...values, low + 1e-9)
  const y = (value: number) =>
    LIVE_HEIGHT - MARGIN - ((value - low) / (high - low)) * (LIVE_HEIGHT - 2 * MARGIN)
  const { colour, shape } = investigation.bodies[body]
  const paint = BODY_PAINT[colour].mark
  const size = Math.max(1.5, Math.min(3.4, (scale.width / table.frames.length) * 0.12))
  return (
    <svg
      width={scale.width}
      height={LIVE_HEIGHT}
      style={{ position: 'absolute', left: 0, top, overflow: 'hidden' }}
      role="img"
      aria-label="Position against time"
    >
      <line x1={0} x2={scale.width} y1={y(0)} y2={y(0)} stroke="#DDD8CC" strokeDasharray="4 4" />
      {[low, high].map((value) => (
        <text
          key={value}
          x={4}
          y={y(value) + 4}
          fontSize="11"
          fill="#5C6664"
          fontFamily="'JetBrains Mono Variable'"
        >
          {significant(value, 2)}
        </text>
      ))}
      {(['x', 'y'] as const).map((component) =>
        table.frames.map((frame, row) => (
          <path
            key={`${component}${frame}`}
            d={MARKER_PATHS[shape]}
            transform={`translate(${scale.x(table.times[row])} ${y(table.column(component).values[row])}) scale(${size})`}
            fill={component === 'x' ? paint : '#FFFFFF'}
            stroke={paint}
            strokeWidth={1.4 / size}
          />
        )),
      )}
    </svg>
  )
})
