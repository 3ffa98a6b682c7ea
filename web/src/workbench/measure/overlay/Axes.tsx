import type { Point } from '@apokinema/core/geometry'
import { axesOf, inOrder } from '@apokinema/core/investigation'
import { memo } from 'react'
import { useWorkbench } from '../../workbenchStore.ts'
import { axesIn } from '../hitTest.ts'
import { useGhostAxes } from './GhostAxes.tsx'
import type { OverlayProps } from './overlayProps.ts'
import { ArrowHead, Edged, Handle, Label } from './strokes.tsx'

/** The main axes as two arrows, with an arc between them that turns them; others as their origin and name. */
export const Axes = memo(function Axes({ investigation, frame, toStage, see }: OverlayProps) {
  const selection = useWorkbench((state) => state.selection)
  const mode = useWorkbench((state) => state.mode)
  const { footage, mainAxes } = investigation
  const axes = axesOf(investigation)
  const ghosts = useGhostAxes()
  // Axes that were not placed yet are hidden where they would only be in the way.
  const isInTheWay = ghosts !== null || (mode.kind !== 'select' && mode.kind !== 'origin')
  if (!footage || (!axes.placed && isInTheWay)) return null
  const lying = axesIn(investigation, frame)
  if (!lying) return null
  const [origin, handle, up] = [lying.origin, lying.handle, lying.up].map(toStage)
  const from = (end: Point, share: number): Point => ({
    x: origin.x + (end.x - origin.x) * share,
    y: origin.y + (end.y - origin.y) * share,
  })
  const beyond = (end: Point, by: number) =>
    from(end, 1 + by / Math.hypot(end.x - origin.x, end.y - origin.y))
  const [tipX, tipY] = [from(handle, 1.5), from(up, 1.2)]
  const tail = (end: Point) => from(end, -28 / Math.hypot(end.x - origin.x, end.y - origin.y))
  const arc = Array.from({ length: 13 }, (_, i) => {
    const turn = (i / 12) * (Math.PI / 2)
    const [x, y] = [Math.cos(turn) / 3, Math.sin(turn) / 3]
    return {
      x: origin.x + x * (handle.x - origin.x) + y * (up.x - origin.x),
      y: origin.y + x * (handle.y - origin.y) + y * (up.y - origin.y),
    }
  })
  const tips = [
    ['x', tipX],
    ['y', tipY],
  ] as const
  return (
    <>
      {inOrder(investigation.axes)
        .filter(([id, other]) => id !== mainAxes && other.placed)
        .map(([id, other]) => {
          const at = see(other.origin)
          return (
            at && (
              <g key={id} opacity={0.7}>
                <Edged
                  points={[
                    { x: at.x - 7, y: at.y },
                    { x: at.x + 7, y: at.y },
                  ]}
                />
                <Edged
                  points={[
                    { x: at.x, y: at.y - 7 },
                    { x: at.x, y: at.y + 7 },
                  ]}
                />
                <Label at={{ x: at.x, y: at.y + 18 }} text={other.name} />
              </g>
            )
          )
        })}
      <g opacity={axes.placed ? 1 : 0.55}>
        <Edged points={arc} width={1.2} />
        {tips.map(([name, tip]) => (
          <g key={name}>
            <Edged points={[tail(tip), tip]} />
            <ArrowHead tip={tip} from={origin} />
            <Label at={beyond(tip, 15)} text={name} italic />
          </g>
        ))}
        <Handle at={origin} chosen={selection?.kind === 'origin'} />
        <Handle at={handle} chosen={selection?.kind === 'tilt'} />
      </g>
    </>
  )
})
