import { analyse } from '@apokinema/core/analysis'
import { turnOf, zoomOf } from '@apokinema/core/geometry'
import { axesOf } from '@apokinema/core/investigation'
import { placeIn } from '@apokinema/core/scene'
import { significant } from '@apokinema/core/units'
import { memo, useMemo } from 'react'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { COLOUR } from '../../theme/palettes.ts'
import { useClock } from '../ClipContext.tsx'
import { LIVE_HEIGHT } from './LiveGraph.tsx'
import type { TimeScale } from './timeScale.ts'

/** Width of a letter of the label beside a curve, in pixels. */
const LETTER = 6.4

interface Curve {
  name: string
  unit: string
  values: Float64Array
}

/** Scale, roll and origin of the picture over time by the landmarks: a slip is a spike under its frame. */
export const CameraGraph = memo(function CameraGraph({ scale, top }: { scale: TimeScale; top: number }) {
  const investigation = useInvestigation()
  const clock = useClock()
  const count = clock?.seconds.length ?? 0
  const curves = useMemo<Curve[]>(() => {
    const scene = analyse(investigation).scene()
    const { origin } = axesOf(investigation)
    const empty = () => new Float64Array(count).fill(Number.NaN)
    const [zoom, roll, x, y] = [empty(), empty(), empty(), empty()]
    for (let frame = 0; frame < count; frame++) {
      const camera = scene.camera?.toReference(frame)
      const seen = placeIn(scene, origin, frame)
      if (!camera || !seen) continue
      // The path maps a picture back to the base; the graph shows the camera's motion.
      zoom[frame] = 1 / zoomOf(camera)
      roll[frame] = (turnOf(camera) * 180) / Math.PI
      x[frame] = seen.x
      y[frame] = seen.y
    }
    return [
      { name: 'scale', unit: '×', values: zoom },
      { name: 'roll', unit: '°', values: roll },
      { name: 'origin x', unit: 'px', values: x },
      { name: 'origin y', unit: 'px', values: y },
    ]
  }, [investigation, count])
  if (!clock) return null
  const each = LIVE_HEIGHT / curves.length
  return (
    <svg
      width={scale.width}
      height={LIVE_HEIGHT}
      style={{ position: 'absolute', left: 0, top, overflow: 'hidden' }}
      role="img"
      aria-label="Scale, roll and origin of the picture against time"
      data-camera-graph
    >
      {curves.map(({ name, unit, values }, row) => {
        const known = Array.from(values).filter(Number.isFinite)
        if (known.length === 0) return null
        const [low, high] = [Math.min(...known), Math.max(...known)]
        // A constant curve is drawn as a line, not as its magnified noise.
        const least = { scale: 0.004, roll: 0.2 }[name] ?? 2
        const room = Math.max(high - low, least)
        const middle = (low + high) / 2
        const said =
          high - low < least / 20
            ? significant(Math.abs(middle) < least / 20 ? 0 : middle, 3)
            : `${significant(low, 3)} to ${significant(high, 3)}`
        const y = (value: number) => each * (row + 0.5) - ((value - middle) / room) * (each - 7)
        const path = Array.from(values, (value, frame) =>
          Number.isFinite(value)
            ? `${Number.isFinite(values[frame - 1]) ? 'L' : 'M'}${scale.x(clock.seconds[frame] - clock.zero).toFixed(1)} ${y(value).toFixed(1)}`
            : '',
        ).join('')
        return (
          <g key={name}>
            <line x1={0} x2={scale.width} y1={each * (row + 1)} y2={each * (row + 1)} stroke={COLOUR.grid} />
            <path d={path} fill="none" stroke={COLOUR.petrol} strokeWidth={1.4} />
            <rect
              x={0}
              y={each * row + 1.5}
              width={(name.length + said.length + unit.length + 2) * LETTER + 8}
              height={each - 3}
              fill={COLOUR.panel}
              opacity={0.85}
            />
            <text x={4} y={each * (row + 0.5) + 4} fontSize="11" fill={COLOUR.ink}>
              {name} {said} {unit}
            </text>
          </g>
        )
      })}
    </svg>
  )
})
