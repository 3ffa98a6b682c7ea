import { floatList, halfOf, kernels, placeOf } from '../kernels/index.ts'
import type { Background } from './background.ts'
import { type Grid, gridLike, type Plane, partIn, type Rect } from './grid.ts'

/**
 * A frame around the place where a body is searched for, with the background there, at one pyramid level. Its lists
 * lie in the kernels' memory: valid only while one frame is processed.
 */
export interface Scene {
  frame: Grid
  /** On the frame's pixels; the frame itself where it is known nowhere. */
  background: Grid
  /** 1 where the background is known, 0 where it is not; null where it is known nowhere. */
  known: Grid | null
}

/** Looks, drawn and halved, all of them as large as a streak gets. */
const LOOKS = 2 ** 24

/** Returns an upper bound of the bytes needed to search a plane within a reach in its pixels. */
export function sceneBytes({ width, height }: Rect, reach: number): number {
  // Brightness as bytes and numbers, frame and two grids of background, of smaller sizes a third more; and what covers them.
  return (18 + 32) * width * height + scoreBytes(reach) + LOOKS
}

/** Returns the bytes of the scores of every place within a reach. */
export const scoreBytes = (reach: number) => 4 * (2 * Math.ceil(reach) + 3) ** 2

/** Returns a frame at its own size, at half, a quarter, and so on, without a known background. */
export function scenesOf(plane: Plane, levels: number): Scene[] {
  const { width, height, data } = plane
  const list = floatList(width * height)
  kernels().toFloats(placeOf(data), placeOf(list), width * height)
  let frame = gridLike(plane, list)
  return Array.from({ length: levels }, (_, level): Scene => {
    if (level > 0)
      frame = {
        x: frame.x >> 1,
        y: frame.y >> 1,
        width: frame.width >> 1,
        height: frame.height >> 1,
        data: halfOf(frame.data, frame.width, frame.height),
      }
    return { frame, background: frame, known: null }
  })
}

/** Returns the same scenes with the background that is known there; the first is at full size. */
export const beforeBackground = (scenes: readonly Scene[], { value, known }: Background): Scene[] =>
  scenes.map(({ frame }, level) => ({
    frame,
    background: partIn(value[level], frame),
    known: partIn(known[level], frame),
  }))
