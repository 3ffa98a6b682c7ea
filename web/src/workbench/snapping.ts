import type { Point } from '@apokinema/core/geometry'
import type { PlacedPoint, Reference } from '@apokinema/core/investigation'
import { type Divisions, findDivisions, SNAP_REACH, snapEnd } from '@apokinema/core/pictures'
import { create } from 'zustand'
import { drawnColours, drawnPicture } from './drawnPicture.ts'

/** Whether the ends of a reference length snap to where the picture changes along it. */
export const useSnapping = create<{ on: boolean }>(() => ({ on: true }))

/** Pixels around an end, and around a line, that are looked at. */
const AROUND_END = SNAP_REACH + 20
const AROUND_LINE = 10

/** Returns an end of a reference length where it snaps to, as the stage shows its picture; as it was placed if it does not. */
export function snappedEnd(end: PlacedPoint, other: Point): PlacedPoint {
  const picture = drawnPicture()
  if (!useSnapping.getState().on || picture?.frame !== end.frame) return end
  const colours = drawnColours(picture, around([end], AROUND_END))
  const snapped = colours && snapEnd(colours, end, other)
  return snapped ? { ...snapped, frame: end.frame } : end
}

/** Returns both ends of a reference length where they snap to. */
export function snappedEnds([first, second]: readonly [PlacedPoint, PlacedPoint]): [
  PlacedPoint,
  PlacedPoint,
] {
  return [snappedEnd(first, second), snappedEnd(second, first)]
}

/** Returns the equal divisions along a reference length, as the stage shows its picture; null if there are none. */
export function divisionsAlong({ ends: [from, to] }: Pick<Reference, 'ends'>): Divisions | null {
  const picture = drawnPicture()
  if (picture?.frame !== from.frame || picture.frame !== to.frame) return null
  const colours = drawnColours(picture, around([from, to], AROUND_LINE))
  return colours && findDivisions(colours, from, to)
}

/** Returns the rectangle around points, in whole pixels. */
function around(points: readonly Point[], reach: number) {
  const [x, y] = (['x', 'y'] as const).map((axis) => {
    const values = points.map((point) => point[axis])
    return { from: Math.floor(Math.min(...values)) - reach, to: Math.ceil(Math.max(...values)) + reach }
  })
  return { x: x.from, y: y.from, width: x.to - x.from, height: y.to - y.from }
}
