import { floatList, kernels, placeOf, withArena } from '../kernels/index.ts'

/**
 * Grey-scale morphology with square neighbourhoods; `core/kernels/morphology.ts` has the methods. Values that are NaN do
 * not count.
 */

/**
 * Returns the maximum within `half` pixels of each pixel; 0 if none is known. Row by row, length `width` × `height`.
 */
export const dilated = (data: Float32Array, width: number, height: number, half: number): Float32Array =>
  extreme(data, width, height, half, 1)

/**
 * Returns the minimum within `half` pixels of each pixel; 0 if none is known. Row by row, length `width` × `height`.
 */
export const eroded = (data: Float32Array, width: number, height: number, half: number): Float32Array =>
  extreme(data, width, height, half, -1)

/** Numbers that the kernels need room for besides what they read and write. */
export const extremeBytes = (width: number, height: number, half: number) =>
  width * (height + 2 * half) + 2 * half + 4

function extreme(data: Float32Array, width: number, height: number, half: number, sign: 1 | -1) {
  const room = extremeBytes(width, height, half)
  return withArena(4 * (2 * data.length + room) + 1024, () => {
    const to = floatList(data.length)
    kernels().extreme(placeOf(data), width, height, half, sign, placeOf(to), placeOf(floatList(room)))
    return to.slice()
  })
}

/**
 * Returns values with holes and bays up to a width closed (morphological closing); NaN stays NaN. Row by row, length
 * `width` × `height`.
 */
export function closed(data: Float32Array, width: number, height: number, half: number): Float32Array {
  const room = extremeBytes(width, height, half)
  return withArena(4 * (2 * data.length + room) + 1024, () => {
    const to = floatList(data.length)
    kernels().close(placeOf(data), width, height, half, placeOf(to), placeOf(floatList(room)))
    return to.slice()
  })
}
