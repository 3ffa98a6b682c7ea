import { analyse } from '@apokinema/core/analysis'
import type { Point } from '@apokinema/core/geometry'
import type { Investigation, PlacedPoint } from '@apokinema/core/investigation'
import { placeIn } from '@apokinema/core/scene'
import { useDeferredValue, useMemo } from 'react'
import { useInvestigationExcept } from '../../../document/SessionContext.tsx'
import { useFollowing } from '../../following/followStore.ts'
import { collectsPoints, useWorkbench, type View } from '../../workbenchStore.ts'
import { Axes } from './Axes.tsx'
import { Curves } from './Curves.tsx'
import { DimensionLine } from './DimensionLine.tsx'
import { Follow } from './Follow.tsx'
import { GhostAxes } from './GhostAxes.tsx'
import { Ghosts } from './Ghosts.tsx'
import { Landmarks } from './Landmarks.tsx'
import type { OverlayProps } from './overlayProps.ts'
import { PlaneGrid, StraightEdges } from './PlaneGrid.tsx'
import { Probes } from './Probes.tsx'
import { Edged, Handle } from './strokes.tsx'

/** Marks matter here only if the scale or fitted motions depend on them. */
function withoutMarks({ knownMotions, drawn, fits }: Investigation): readonly (keyof Investigation)[] {
  const followsMarks = Object.keys(knownMotions).length > 0 || (drawn.curves && Object.keys(fits).length > 0)
  return followsMarks ? [] : ['bodies']
}

/** Everything on the video besides the marks, each line with a dark and a light edge, to be visible on any picture. */
export function Overlay({ size, view }: { size: { width: number; height: number }; view: View }) {
  const investigation = useInvestigationExcept(withoutMarks)
  // Fits to many marks take longer than a mark may take to appear.
  const fitted = useDeferredValue(investigation)
  const { references, hidden, camera, probes } = investigation
  // Renders with every step only if something changes with the frame.
  const changes = camera.motion !== 'still' || Object.values(probes).some(({ oneFrame }) => oneFrame)
  const frame = useWorkbench((state) => (changes ? (state.shown ?? state.frame) : 0))
  const seeing = useMemo<OverlayProps>(() => {
    const scene = analyse(investigation).scene()
    const toStage = ({ x, y }: Point): Point => ({ x: x * view.zoom + view.x, y: y * view.zoom + view.y })
    const see = (point: PlacedPoint) => {
      const seen = placeIn(scene, point, frame)
      return seen && toStage(seen)
    }
    return { investigation, frame, toStage, see }
  }, [investigation, frame, view])
  return (
    <svg
      width={size.width}
      height={size.height}
      aria-hidden="true"
      style={{ position: 'absolute', inset: 0, pointerEvents: 'none', overflow: 'hidden' }}
    >
      {!hidden.scale && <PlaneGrid {...seeing} />}
      {!hidden.scale && <StraightEdges {...seeing} />}
      {!hidden.axes && <Axes {...seeing} />}
      {!hidden.scale &&
        Object.entries(references).map(([id, reference]) => (
          <DimensionLine key={id} id={id} reference={reference} {...seeing} />
        ))}
      <Probes {...seeing} />
      <Landmarks {...seeing} />
      <Curves {...seeing} investigation={fitted} />
      <GhostAxes investigation={investigation} toStage={seeing.toStage} />
      <Ghosts toStage={seeing.toStage} />
      <Follow toStage={seeing.toStage} zoom={view.zoom} />
      <Drawing {...seeing} />
    </svg>
  )
}

/** The reticle of the keyboard, and the points placed so far. */
function Drawing({ toStage, see }: OverlayProps) {
  const mode = useWorkbench((state) => state.mode)
  const reticle = useWorkbench((state) => state.reticle)
  const streak = useWorkbench((state) => state.streak)
  const phase = useFollowing((state) => state.phase)
  if (mode.kind === 'select' || !reticle) return null
  if (mode.kind === 'follow' && (phase === 'running' || phase === 'paused' || phase === 'outlining'))
    return null
  const at = toStage(reticle)
  const placed = collectsPoints(mode) ? mode.points.map(see).filter((point) => point !== null) : []
  const arms: [number, number][] = [
    [1, 0],
    [-1, 0],
    [0, 1],
    [0, -1],
  ]
  return (
    <>
      {placed.length > 0 && <Edged points={[...placed, at]} />}
      {streak && <Edged points={[toStage(streak), at]} />}
      {placed.map((point) => (
        <Handle key={`${point.x} ${point.y}`} at={point} chosen={false} />
      ))}
      {arms.map(([dx, dy]) => (
        <Edged
          key={`${dx}${dy}`}
          width={1.2}
          points={[
            { x: at.x + dx * 9, y: at.y + dy * 9 },
            { x: at.x + dx * 19, y: at.y + dy * 19 },
          ]}
        />
      ))}
    </>
  )
}
