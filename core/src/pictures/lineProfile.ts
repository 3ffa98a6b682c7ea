import { distance, type Point } from '../geometry/index.ts'

/** A picture in colours, four bytes (red, green, blue, opacity) a pixel, row after row, as a canvas gives it. */
export interface ColourPicture {
  width: number
  height: number
  data: ArrayLike<number>
  /** Place of its upper left corner in the picture that it was cut from, in pixels. */
  x: number
  y: number
}

/** Number of colour channels of a profile. */
export const CHANNELS = 3

/** Colours along a line, averaged across it. */
export interface LineProfile {
  /** Places along the line in pixels, equally spaced, n of them. */
  places: Float64Array
  /** Red, green and blue at each place, n each. */
  channels: readonly [Float64Array, Float64Array, Float64Array]
}

/**
 * Returns the colours along a line through a point, from a place on it to another; null where the picture does not reach that far.
 *
 * @param origin where the place 0 is, in pixels of the whole picture
 * @param direction unit vector along the line
 * @param step between places, in pixels
 * @param halfWidth how far to each side is averaged, in pixels
 */
export function lineProfile(
  picture: ColourPicture,
  origin: Point,
  direction: Point,
  [from, to]: readonly [number, number],
  step: number,
  halfWidth: number,
): LineProfile | null {
  const n = Math.floor((to - from) / step + 1e-9) + 1
  const places = Float64Array.from({ length: n }, (_, i) => from + i * step)
  const channels = [new Float64Array(n), new Float64Array(n), new Float64Array(n)] as const
  const sides = 2 * halfWidth + 1
  for (let i = 0; i < n; i++)
    for (let side = -halfWidth; side <= halfWidth; side++) {
      // The middle of a pixel is half a pixel from its corner.
      const x = origin.x + direction.x * places[i] - direction.y * side - 0.5 - picture.x
      const y = origin.y + direction.y * places[i] + direction.x * side - 0.5 - picture.y
      if (x < 0 || y < 0 || x > picture.width - 1 || y > picture.height - 1) return null
      addColour(picture, x, y, 1 / sides, channels, i)
    }
  return { places, channels }
}

/** Adds the colour between four pixels, by bilinear interpolation. */
function addColour(
  { width, height, data }: ColourPicture,
  x: number,
  y: number,
  weight: number,
  channels: LineProfile['channels'],
  i: number,
): void {
  const left = Math.min(width - 2, Math.floor(x))
  const top = Math.min(height - 2, Math.floor(y))
  const [right, low] = [x - left, y - top]
  for (let c = 0; c < CHANNELS; c++) {
    const at = (dx: number, dy: number) => data[4 * ((top + dy) * width + left + dx) + c]
    channels[c][i] +=
      weight *
      ((1 - low) * ((1 - right) * at(0, 0) + right * at(1, 0)) +
        low * ((1 - right) * at(0, 1) + right * at(1, 1)))
  }
}

/** Returns the unit vector from one point to another. */
export function unitVector(from: Point, to: Point): Point {
  const length = distance(from, to)
  return { x: (to.x - from.x) / length, y: (to.y - from.y) / length }
}

/** Standard deviation of the Gaussian whose derivative finds where a profile changes, in pixels. */
const BLUR = 1

/**
 * Returns how fast the colours change at each place of a profile: the length of the derivative of all channels, in levels a pixel,
 * smoothed by a Gaussian of one pixel (Canny, IEEE PAMI 8 (1986) 679). Places within three pixels of the ends have 0.
 */
export function changeAlong({ places, channels }: LineProfile): Float64Array {
  const step = places[1] - places[0]
  const reach = Math.ceil((3 * BLUR) / step)
  const kernel = Float64Array.from({ length: 2 * reach + 1 }, (_, i) => {
    const s = (i - reach) * step
    return ((s * step) / (BLUR ** 3 * Math.sqrt(2 * Math.PI))) * Math.exp((-s * s) / (2 * BLUR * BLUR))
  })
  return places.map((_, i) => {
    if (i < reach || i >= places.length - reach) return 0
    let square = 0
    for (const channel of channels) {
      let slope = 0
      for (let k = -reach; k <= reach; k++) slope += kernel[k + reach] * channel[i + k]
      square += slope * slope
    }
    return Math.sqrt(square)
  })
}
