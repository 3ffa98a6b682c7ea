import { smallerEigenvalue } from './points.ts'

/** Half the side of the square over which the structure tensor of a corner is summed, in pixels. */
const HALF = 3

/**
 * Returns how clearly the brightness around each pixel changes in every direction: the smaller eigenvalue of the mean structure tensor over
 * seven by seven pixels (Shi and Tomasi, Good Features to Track, Proc. IEEE CVPR 1994, 593), in square grey levels a square pixel. 0 within
 * four pixels of the border.
 *
 * @param data brightness, row by row
 */
export function cornerStrengths({
  width,
  height,
  data,
}: {
  width: number
  height: number
  data: ArrayLike<number>
}): Float32Array {
  const products = [0, 1, 2].map(() => new Float64Array(width * height))
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const at = y * width + x
      const gx = (data[at + 1] - data[at - 1]) / 2
      const gy = (data[at + width] - data[at - width]) / 2
      products[0][at] = gx * gx
      products[1][at] = gx * gy
      products[2][at] = gy * gy
    }
  const [xx, xy, yy] = products.map((values) => squareSums(values, width, height))
  const area = (2 * HALF + 1) ** 2
  return Float32Array.from(xx, (value, at) => smallerEigenvalue(value, xy[at], yy[at]) / area)
}

/** Returns the sum over the square around each pixel; 0 where it reaches the border, at which nothing is known of the gradient. */
function squareSums(values: Float64Array, width: number, height: number): Float64Array {
  const rows = new Float64Array(width * height)
  const sums = new Float64Array(width * height)
  const rim = HALF + 1
  for (let y = 0; y < height; y++)
    for (let x = rim; x < width - rim; x++) {
      let sum = 0
      for (let dx = -HALF; dx <= HALF; dx++) sum += values[y * width + x + dx]
      rows[y * width + x] = sum
    }
  for (let y = rim; y < height - rim; y++)
    for (let x = rim; x < width - rim; x++) {
      let sum = 0
      for (let dy = -HALF; dy <= HALF; dy++) sum += rows[(y + dy) * width + x]
      sums[y * width + x] = sum
    }
  return sums
}
