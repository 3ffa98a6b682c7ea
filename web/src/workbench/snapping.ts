import { outlineReach, overlap, settledCentre } from '@apokinema/core/following'
import type { Point } from '@apokinema/core/geometry'
import type { PlacedPoint, Reference } from '@apokinema/core/investigation'
import { type Divisions, findDivisions, SNAP_REACH, snapEnd } from '@apokinema/core/pictures'
import { create } from 'zustand'
import { drawnColours, drawnLuma, drawnPicture, pictureRect } from './drawnPicture.ts'

/** Whether the ends of a reference length snap to where the picture changes along it, and marks settle on the centre of what is clicked. */
export const useSnapping = create<{ on: boolean; settles: boolean }>(() => ({ on: true, settles: false }))

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

/** Returns where a mark by hand settles: on the centre of the body that is clicked, as the stage shows its picture; null if it does not. */
export function settledMark(at: Point, frame: number): Point | null {
  const picture = drawnPicture()
  if (!useSnapping.getState().settles || picture?.frame !== frame) return null
  const rect = overlap(outlineReach(at), pictureRect(picture))
  if (rect.width === 0 || rect.height === 0) return null
  return settledCentre({ ...rect, data: drawnLuma(picture, rect).data }, at)
}

/** Returns the rectangle around points, in whole pixels. */
function around(points: readonly Point[], reach: number) {
  const [x, y] = (['x', 'y'] as const).map((axis) => {
    const values = points.map((point) => point[axis])
    return { from: Math.floor(Math.min(...values)) - reach, to: Math.ceil(Math.max(...values)) + reach }
  })
  return { x: x.from, y: y.from, width: x.to - x.from, height: y.to - y.from }
}
