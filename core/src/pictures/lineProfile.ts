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
 * Returns the colours along a line through a point, from a place on it to another, as far as the picture reaches; null if the point
 * itself is not in it.
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
  // The middle of a pixel is half a pixel from its corner.
  const left = origin.x - picture.x - 0.5
  const top = origin.y - picture.y - 0.5
  const isIn = (place: number) =>
    [-halfWidth, halfWidth].every((side) => {
      const x = left + direction.x * place - direction.y * side
      const y = top + direction.y * place + direction.x * side
      return x >= 0 && y >= 0 && x <= picture.width - 1 && y <= picture.height - 1
    })
  if (!isIn(0)) return null
  // What lies in a rectangle of a line is in one piece.
  const count = Math.floor((to - from) / step + 1e-9) + 1
  const places = Float64Array.from({ length: count }, (_, i) => from + i * step).filter(isIn)
  const channels = [0, 1, 2].map(() => new Float64Array(places.length)) as unknown as LineProfile['channels']
  places.forEach((place, i) => {
    for (let side = -halfWidth; side <= halfWidth; side++) {
      const x = left + direction.x * place - direction.y * side
      const y = top + direction.y * place + direction.x * side
      addColour(picture, x, y, 1 / (2 * halfWidth + 1), channels, i)
    }
  })
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

/** How fast the colours of a profile change at each place. */
export interface ProfileChange {
  /** Length of the derivative of all channels, in levels a pixel; 0 within three pixels of the ends. */
  size: Float64Array
  /** The derivative of each channel. */
  slopes: readonly Float64Array[]
}

/** Returns how fast the colours change along a profile, smoothed by a Gaussian of one pixel (Canny, IEEE PAMI 8 (1986) 679). */
export function changeAlong({ places, channels }: LineProfile): ProfileChange {
  const step = places[1] - places[0]
  const reach = Math.ceil((3 * BLUR) / step)
  const kernel = Float64Array.from({ length: 2 * reach + 1 }, (_, i) => {
    const s = (i - reach) * step
    return ((s * step) / (BLUR ** 3 * Math.sqrt(2 * Math.PI))) * Math.exp((-s * s) / (2 * BLUR * BLUR))
  })
  const slopes = channels.map((channel) =>
    channel.map((_, i) => {
      if (i < reach || i >= channel.length - reach) return 0
      let slope = 0
      for (let k = -reach; k <= reach; k++) slope += kernel[k + reach] * channel[i + k]
      return slope
    }),
  )
  const size = places.map((_, i) => Math.hypot(...slopes.map((slope) => slope[i])))
  return { size, slopes }
}

/** A place at which the colours of a profile change most. */
export interface Step {
  index: number
  /** Between the places of the profile, by a parabola. */
  place: number
  /** In levels a pixel. */
  size: number
}

/** Returns the maxima of a change along a profile, by place. */
export function stepsOf({ size }: ProfileChange, places: Float64Array): Step[] {
  const steps: Step[] = []
  for (let i = 1; i < size.length - 1; i++) {
    const [before, here, after] = [size[i - 1], size[i], size[i + 1]]
    if (!(here >= before && here > after)) continue
    const shift = (0.5 * (before - after)) / (before - 2 * here + after)
    steps.push({ index: i, place: places[i] + shift * (places[1] - places[0]), size: here })
  }
  return steps
}
