import { median } from '../time/index.ts'
import type { Luma } from './luma.ts'

/** How a picture is lit. */
export interface Light {
  /** Mean brightness, 0 to 255. */
  mean: number
  /** Shares of the picture that are so dark or so bright that nothing can be told apart there. */
  dark: number
  bright: number
}

/** How a picture is lit. Video keeps black at 16 and white at 235. */
export function lightOf({ data }: Luma): Light {
  let sum = 0
  let dark = 0
  let bright = 0
  for (const value of data) {
    sum += value
    if (value < 24) dark++
    if (value > 234) bright++
  }
  return { mean: sum / data.length, dark: dark / data.length, bright: bright / data.length }
}

/** Edges of less contrast, in brightness, are not measured. */
const LEAST_CONTRAST = 40

/**
 * How wide the sharpest edges of a picture are, in its own pixels: along each row, the rise of an edge
 * over its steepest slope. About 1 to 2 in a sharp picture, more where it is out of focus or smeared by
 * compression. The quarter of the narrowest counts, since things out of focus may stand behind. NaN
 * where there are too few edges.
 */
export function edgeWidth({ width, height, data }: Luma): number {
  const widths: number[] = []
  for (let y = 0; y < height; y += 4) {
    const row = y * width
    let x = 1
    while (x < width - 1) {
      const sign = Math.sign(data[row + x] - data[row + x - 1])
      if (sign === 0) {
        x++
        continue
      }
      const start = x - 1
      let steepest = 0
      while (x < width && Math.sign(data[row + x] - data[row + x - 1]) === sign) {
        steepest = Math.max(steepest, Math.abs(data[row + x] - data[row + x - 1]))
        x++
      }
      const rise = Math.abs(data[row + x - 1] - data[row + start])
      if (rise >= LEAST_CONTRAST) widths.push(rise / steepest)
    }
  }
  if (widths.length < 40) return Number.NaN
  return median([...widths].sort((a, b) => a - b).slice(0, Math.ceil(widths.length / 2)))
}
