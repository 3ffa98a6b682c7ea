import { analyse } from '@apokinema/core/analysis'
import { midpoint, type Point } from '@apokinema/core/geometry'
import { inOrder, type Probe } from '@apokinema/core/investigation'
import { probeReading } from '@apokinema/core/scene'
import { memo } from 'react'
import { probeText } from '../../lengths.ts'
import { useWorkbench } from '../../workbenchStore.ts'
import type { OverlayProps } from './overlayProps.ts'
import { Edged, Handle, Label, uprightAngle } from './strokes.tsx'

/** Probes on the picture, thin and dashed. */
export const Probes = memo(function Probes({ investigation, frame, see }: OverlayProps) {
  const selection = useWorkbench((state) => state.selection)
  return inOrder(investigation.probes)
    .filter(([, probe]) => !probe.oneFrame || probe.points[0].frame === frame)
    .map(([id, probe]) => {
      const points = probe.points.map(see)
      if (points.some((point) => point === null)) return null
      const at = points as Point[]
      const reading = probeReading(analyse(investigation).scene(), probe)
      return (
        <ProbeLines
          key={id}
          probe={probe}
          at={at}
          text={reading ? probeText(reading, investigation.lengthUnit) : '–'}
          chosen={selection?.kind === 'probe' && selection.probe === id ? selection.point : null}
        />
      )
    })
})

function ProbeLines({
  probe,
  at,
  text,
  chosen,
}: {
  probe: Probe
  at: Point[]
  text: string
  chosen: number | null
}) {
  const middle = probe.kind === 'angle' ? at[1] : midpoint(at[0], at[1])
  const [from, to] = [at[0], at[1]]
  const length = Math.hypot(to.x - from.x, to.y - from.y) || 1
  const label =
    probe.kind === 'angle'
      ? { x: middle.x, y: middle.y + 22 }
      : { x: middle.x + (14 * (to.y - from.y)) / length, y: middle.y - (14 * (to.x - from.x)) / length }
  return (
    <>
      <Edged points={at} width={1.2} dash={[7, 4]} />
      <Label at={label} text={text} angle={probe.kind === 'angle' ? 0 : uprightAngle(from, to)} />
      {at.map((point, i) => (
        <Handle key={`${point.x} ${point.y}`} at={point} chosen={chosen === i} />
      ))}
    </>
  )
}
