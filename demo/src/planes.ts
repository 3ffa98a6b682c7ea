import type { Plane } from '@apokinema/core/following'

/** Returns a whole frame as following reads it, from its bytes as yuv420p: brightness, and colour differences at half the size. */
export function planeOf(frame: Uint8Array, width: number, height: number): Plane {
  const bright = width * height
  return {
    x: 0,
    y: 0,
    width,
    height,
    data: frame.subarray(0, bright),
    chroma: {
      x: 0,
      y: 0,
      width: width / 2,
      height: height / 2,
      blue: frame.subarray(bright, (5 * bright) / 4),
      red: frame.subarray((5 * bright) / 4),
    },
  }
}

/** Bytes of a frame as yuv420p. */
export const frameBytes = (width: number, height: number) => (3 * width * height) / 2
