import { median } from '../time/index.ts'
import type { Luma } from './luma.ts'

/** Brightness statistics of a picture. */
export interface Light {
  /** Mean brightness, 0 to 255. */
  mean: number
  /** Shares of the picture that are so dark or so bright that nothing can be told apart there. */
  dark: number
  bright: number
}

/** Returns the brightness statistics of a picture. Video encodes black as 16 and white as 235. */
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

/** Edges along a row or a column with enough contrast: how far the brightness rises or falls, and its largest step. */
function edgesAlong(
  data: Uint8Array,
  start: number,
  stride: number,
  count: number,
): { rise: number; steepest: number }[] {
  const edges: { rise: number; steepest: number }[] = []
  const stepAt = (i: number) => data[start + i * stride] - data[start + (i - 1) * stride]
  let i = 1
  while (i < count) {
    const sign = Math.sign(stepAt(i))
    let [rise, steepest] = [0, 0]
    for (; i < count && Math.sign(stepAt(i)) === sign; i++) {
      rise += Math.abs(stepAt(i))
      steepest = Math.max(steepest, Math.abs(stepAt(i)))
    }
    if (rise >= LEAST_CONTRAST) edges.push({ rise, steepest })
  }
  return edges
}

/**
 * Returns how wide the edges of a small piece of a picture are, in its own pixels: the rise of the edge with the most contrast
 * in its middle rows and columns over the steepest slope of that edge. NaN where there is no edge.
 */
export function edgeWidthAround({ width, height, data }: Luma): number {
  const [middleX, middleY] = [width >> 1, height >> 1]
  let best = { rise: 0, steepest: 0 }
  for (let off = -2; off <= 2; off++)
    for (const edge of [
      ...edgesAlong(data, (middleY + off) * width, 1, width),
      ...edgesAlong(data, middleX + off, width, height),
    ])
      if (edge.rise > best.rise) best = edge
  return best.rise / best.steepest
}

/**
 * Returns how wide the sharpest edges of a picture are, in its own pixels: along each row, the rise of an edge
 * over its steepest slope. About 1 to 2 in a sharp picture, more where it is out of focus or smeared by
 * compression. The quarter of the narrowest counts, since things out of focus may stand behind. NaN
 * where there are too few edges.
 */
export function edgeWidth({ width, height, data }: Luma): number {
  const widths: number[] = []
  for (let y = 0; y < height; y += 4)
    for (const { rise, steepest } of edgesAlong(data, y * width, 1, width)) widths.push(rise / steepest)
  if (widths.length < 40) return Number.NaN
  return median([...widths].sort((a, b) => a - b).slice(0, Math.ceil(widths.length / 2)))
}
