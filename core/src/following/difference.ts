import type { Background } from './background.ts'
import { type Grid, gridLike, overlap, type Plane, roughValueAt } from './grid.ts'

/** Squared noise, in deviations, of one channel and of all three: what a difference has on the average where nothing is. */
const NOISE_SQUARED = { light: 1, all: 3 }

/**
 * How far a frame differs from the background, in standard deviations of the noise over brightness and colours together;
 * NaN where the background is not known.
 */
export function differenceFrom(plane: Plane, { value, known, noise, chroma }: Background): Grid {
  const [whole, sure] = [value[0], known[0]]
  const data = new Float32Array(plane.width * plane.height)
  const colours = chroma && plane.chroma ? chromaDifference(plane.chroma, chroma) : null
  for (let row = 0, at = 0; row < plane.height; row++)
    for (let column = 0; column < plane.width; column++, at++) {
      const [x, y] = [plane.x + column, plane.y + row]
      const behind = y * whole.width + x
      if (sure.data[behind] < 0.5) {
        data[at] = Number.NaN
        continue
      }
      const light = (plane.data[at] - whole.data[behind]) / noise
      const square = light * light + (colours ? roughValueAt(colours, (x + 0.5) / 2, (y + 0.5) / 2) : 0)
      data[at] = Math.sqrt(Math.max(0, square - (colours ? NOISE_SQUARED.all : NOISE_SQUARED.light)))
    }
  return { x: plane.x, y: plane.y, width: plane.width, height: plane.height, data }
}

/** Squared difference of the colours from the background's, in deviations; 0 where that is not known. */
function chromaDifference(
  plane: NonNullable<Plane['chroma']>,
  { blue, red, known, noise }: NonNullable<Background['chroma']>,
): Grid {
  const rect = overlap(plane, blue)
  const data = new Float32Array(rect.width * rect.height)
  for (let row = 0, at = 0; row < rect.height; row++)
    for (let column = 0; column < rect.width; column++, at++) {
      const behind = (rect.y + row - blue.y) * blue.width + rect.x + column - blue.x
      const from = (rect.y + row - plane.y) * plane.width + rect.x + column - plane.x
      if (known.data[behind] < 0.5) continue
      const b = (plane.blue[from] - blue.data[behind]) / noise
      const r = (plane.red[from] - red.data[behind]) / noise
      data[at] = b * b + r * r
    }
  return gridLike(rect, data)
}
