import { byteList, kernels, placeOf, withArena } from '../kernels/index.ts'

/** A small picture of brightness, row by row, 0 black to 255 white. */
export interface Luma {
  width: number
  height: number
  data: Uint8Array
}

/** Width to which pictures are reduced for a survey: a body of a few pixels is still visible, noise is averaged. */
const SURVEY_WIDTH = 320

/** Bytes that three lists in the kernels' memory take beside their content. */
const ROOM_BETWEEN = 128

/** Returns the whole factor by which a picture of a width is reduced for a survey. */
export const surveyFactor = (width: number): number => Math.max(1, Math.round(width / SURVEY_WIDTH))

/**
 * Shrinks a plane of brightness by a whole factor, each small pixel the mean of its square. What does not
 * fill a whole square at the right and lower edge is left out.
 *
 * @param plane bytes of the plane, from its first row on
 * @param stride bytes from one row to the next
 * @param step bytes from one pixel to the next
 */
export function shrink(
  plane: Uint8Array,
  stride: number,
  size: { width: number; height: number },
  factor: number,
  step = 1,
): Luma {
  const width = Math.max(1, Math.floor(size.width / factor))
  const height = Math.max(1, Math.floor(size.height / factor))
  const needed = (height * factor - 1) * stride + width * factor * step
  const sums = 2 * width * factor * step
  const data = withArena(needed + sums + width * height + ROOM_BETWEEN, () => {
    const pixels = byteList(needed)
    pixels.set(plane.subarray(0, needed))
    // A picture that is lower than one square has nothing below.
    pixels.fill(0, plane.length)
    const small = byteList(width * height)
    kernels().shrink(
      placeOf(pixels),
      stride,
      step,
      factor,
      width,
      height,
      placeOf(byteList(sums)),
      placeOf(small),
    )
    return small.slice()
  })
  return { width, height, data }
}

/**
 * Returns the brightness between pixels, by the nearest four.
 *
 * @param x column, 0 to less than width − 1; `y` row likewise: the centre of the first pixel is at 0
 */
export function lumaBetween({ width, data }: Luma, x: number, y: number): number {
  const [left, top] = [Math.floor(x), Math.floor(y)]
  const [dx, dy] = [x - left, y - top]
  const at = top * width + left
  const upper = data[at] * (1 - dx) + data[at + 1] * dx
  const lower = data[at + width] * (1 - dx) + data[at + width + 1] * dx
  return upper * (1 - dy) + lower * dy
}

/** Brightness of a picture in red, green, blue and opacity, by the weights of ITU-R BT.709. */
export function lumaOfColours(pixels: ArrayLike<number>, width: number, height: number): Luma {
  const data = new Uint8Array(width * height)
  for (let i = 0, at = 0; i < data.length; i++, at += 4)
    data[i] = 0.2126 * pixels[at] + 0.7152 * pixels[at + 1] + 0.0722 * pixels[at + 2] + 0.5
  return { width, height, data }
}
