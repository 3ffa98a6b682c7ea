import { analyse } from '@apokinema/core/analysis'
import type { Point } from '@apokinema/core/geometry'
import { inOrder } from '@apokinema/core/investigation'
import { memo } from 'react'
import { gridField } from '../../lengths.ts'
import { CHOSEN } from '../../strokes.ts'
import { useWorkbench } from '../../workbenchStore.ts'
import type { OverlayProps } from './overlayProps.ts'
import { Edged, Handle, pointsText } from './strokes.tsx'

/** The plane of motion: its corners, and a grid of squares once its size is known. */
export const PlaneGrid = memo(function PlaneGrid({ investigation, frame, toStage, see }: OverlayProps) {
  const selection = useWorkbench((state) => state.selection)
  const { plane } = investigation
  if (!plane) return null
  const corners = plane.corners.map(see)
  if (corners.some((corner) => corner === null)) return null
  const lines: Point[][] = []
  const scene = analyse(investigation).scene()
  const shown = scene.at(frame)
  if (scene.plane && shown && plane.width && plane.height) {
    // Coordinates along the plane's sides; they are linear in the scene.
    const [origin, right, , up] = plane.corners.map((corner) => scene.at(corner.frame)!.toScene(corner))
    const at = (u: number, v: number) =>
      toStage(
        shown.toPicture({
          x: origin.x + u * (right.x - origin.x) + v * (up.x - origin.x),
          y: origin.y + u * (right.y - origin.y) + v * (up.y - origin.y),
        }),
      )
    const field = gridField(plane.width, plane.height, investigation.lengthUnit)
    const along = (size: number) =>
      Array.from({ length: Math.floor(size / field + 1e-9) + 1 }, (_, i) => (i * field) / size)
    const fine = Array.from({ length: 13 }, (_, i) => i / 12)
    for (const u of along(plane.width)) lines.push(fine.map((v) => at(u, v)))
    for (const v of along(plane.height)) lines.push(fine.map((u) => at(u, v)))
  }
  return (
    <>
      {lines.map((line) => (
        <polyline
          key={`${line[0].x} ${line[0].y} ${line[12].x} ${line[12].y}`}
          points={pointsText(line)}
          fill="none"
          stroke={CHOSEN}
          strokeWidth={1}
          opacity={0.75}
        />
      ))}
      <Edged points={corners as Point[]} closed width={1.4} />
      {(corners as Point[]).map((corner, i) => (
        <Handle
          key={`${plane.corners[i].x} ${plane.corners[i].y}`}
          at={corner}
          chosen={selection?.kind === 'corner' && selection.corner === i}
        />
      ))}
    </>
  )
})

/** Lines along edges that are straight in reality. */
export const StraightEdges = memo(function StraightEdges({ investigation, toStage }: OverlayProps) {
  const { lens } = investigation
  return inOrder(lens?.edges ?? {}).map(([id, { points }]) => (
    <Edged key={id} points={points.map(toStage)} width={1.2} colour={CHOSEN} dash={[3, 5]} />
  ))
})
