import type { ColourPicture } from '../pictures/index.ts'
import { normalSource, randomSource } from '../random/index.ts'

/** A striped stick before a structured ground, as a camera and a codec would leave it. */
export interface Stick {
  from: { x: number; y: number }
  to: { x: number; y: number }
  /** Pixels across. */
  width: number
  /** Colours of the stripes in turn, and their number along it; `perspective` lets them shrink: the last is that share of the first. */
  colours: readonly (readonly [number, number, number])[]
  stripes: number
  perspective?: number
  ground: readonly [number, number, number]
  /** Standard deviations of the blur (pixels) and of the noise (levels), and the step to which 8×8 cosine coefficients are rounded. */
  blur: number
  noise: number
  quantisation: number
  seed: number
}

/** Samples a pixel has along each direction. */
const SAMPLES = 4

/** Returns where the borders of a stick's stripes are, as shares of its length from 0 to 1. */
function stripeBorders({ stripes, perspective = 1 }: Pick<Stick, 'stripes' | 'perspective'>): number[] {
  // s = k / (1 + c (N − k)), scaled: equal divisions seen under perspective.
  const c = stripes > 1 ? (1 / Math.sqrt(perspective) - 1) / (stripes - 1) : 0
  const place = (k: number) => k / (1 + c * k)
  return Array.from({ length: stripes + 1 }, (_, k) => place(k) / place(stripes))
}

/** Returns a picture of a stick. */
export function stickPicture(stick: Stick, width: number, height: number): ColourPicture {
  const { from, to, colours, ground, blur, noise, quantisation, seed } = stick
  const length = Math.hypot(to.x - from.x, to.y - from.y)
  const [ux, uy] = [(to.x - from.x) / length, (to.y - from.y) / length]
  const borders = stripeBorders(stick)
  const normal = normalSource(randomSource(seed))
  const planes = [0, 1, 2].map(() => new Float64Array(width * height))
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let sy = 0; sy < SAMPLES; sy++)
        for (let sx = 0; sx < SAMPLES; sx++) {
          const dx = x + (sx + 0.5) / SAMPLES - from.x
          const dy = y + (sy + 0.5) / SAMPLES - from.y
          const [along, across] = [(ux * dx + uy * dy) / length, ux * dy - uy * dx]
          const isOn = along >= 0 && along < 1 && Math.abs(across) <= stick.width / 2
          const stripe = borders.findIndex((border) => border > along) - 1
          const colour = isOn ? colours[stripe % colours.length] : ground
          // A ground that is not quite even.
          const wave = isOn ? 0 : 4 * Math.sin(x / 23 + y / 31)
          for (let c = 0; c < 3; c++) planes[c][y * width + x] += (colour[c] + wave) / SAMPLES ** 2
        }
  const data = new Uint8ClampedArray(4 * width * height).fill(255)
  planes.forEach((plane, c) => {
    const blurred = gaussian(plane, width, height, blur)
    const noisy = blurred.map((value) => value + noise * normal())
    const coded = quantisation > 0 ? cosineRounded(noisy, width, height, quantisation) : noisy
    for (let i = 0; i < coded.length; i++) data[4 * i + c] = Math.round(coded[i])
  })
  return { width, height, data, x: 0, y: 0 }
}

function gaussian(plane: Float64Array, width: number, height: number, sigma: number): Float64Array {
  if (sigma <= 0) return plane
  const reach = Math.ceil(4 * sigma)
  const kernel = Array.from({ length: 2 * reach + 1 }, (_, i) =>
    Math.exp(-((i - reach) ** 2) / (2 * sigma ** 2)),
  )
  const sum = kernel.reduce((total, one) => total + one, 0)
  const pass = (source: Float64Array, dx: number, dy: number) =>
    source.map((_, i) => {
      const [x, y] = [i % width, Math.floor(i / width)]
      return kernel.reduce((total, weight, k) => {
        const px = Math.min(width - 1, Math.max(0, x + dx * (k - reach)))
        const py = Math.min(height - 1, Math.max(0, y + dy * (k - reach)))
        return total + (weight / sum) * source[py * width + px]
      }, 0)
    })
  return pass(pass(plane, 1, 0), 0, 1)
}

/** Cosines of the transform of 8 values: one row a coefficient. */
const COSINES = Array.from({ length: 8 }, (_, k) =>
  Array.from(
    { length: 8 },
    (_, i) => Math.sqrt((k === 0 ? 1 : 2) / 8) * Math.cos(((2 * i + 1) * k * Math.PI) / 16),
  ),
)

/** Rounds the cosine coefficients of blocks of 8×8, as codecs do. */
function cosineRounded(plane: Float64Array, width: number, height: number, step: number): Float64Array {
  const result = Float64Array.from(plane)
  const multiply = (a: number[][], b: number[][]) =>
    a.map((row) => b[0].map((_, k) => row.reduce((sum, value, i) => sum + value * b[i][k], 0)))
  const turned = COSINES[0].map((_, k) => COSINES.map((row) => row[k]))
  for (let top = 0; top + 8 <= height; top += 8)
    for (let left = 0; left + 8 <= width; left += 8) {
      const at = (x: number, y: number) => (top + y) * width + left + x
      const block = COSINES.map((_, y) => COSINES.map((_, x) => plane[at(x, y)]))
      const coefficients = multiply(multiply(COSINES, block), turned)
      const rounded = coefficients.map((row) => row.map((value) => step * Math.round(value / step)))
      multiply(multiply(turned, rounded), COSINES).forEach((row, y) => {
        row.forEach((value, x) => {
          result[at(x, y)] = value
        })
      })
    }
  return result
}
