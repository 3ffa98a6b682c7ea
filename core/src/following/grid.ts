import { floatList, halfOf, withArena } from '../kernels/index.ts'

/** A rectangle of whole pixels of a picture. */
export interface Rect {
  x: number
  y: number
  width: number
  height: number
}

/** A part of a frame's brightness, row by row, 0 black to 255 white. */
export interface Plane extends Rect {
  data: Uint8Array
  /** Colour differences of the same part at half the size, where they were asked for. */
  chroma?: Chroma
}

/** Value of a colour difference that is grey. */
export const GREY = 128

/** Colour differences Cb and Cr (ITU-R BT.601, 709), `GREY` where there is no colour; a pixel for two by two of brightness. */
export interface Chroma extends Rect {
  blue: Uint8Array
  red: Uint8Array
}

/** Numbers on a part of a picture's pixels, or of a picture that was shrunk: pixel (x, y) is the first. */
export interface Grid extends Rect {
  data: Float32Array
}

/** Returns a plane as numbers. */
export function gridOf({ x, y, width, height, data }: Plane): Grid {
  return { x, y, width, height, data: new Float32Array(data) }
}

/**
 * Other numbers on the same pixels. Spelled out, as every grid is: engines are quick with objects whose fields
 * came in the same order in the same way.
 */
export function gridLike({ x, y, width, height }: Rect, data: Float32Array): Grid {
  return { x, y, width, height, data }
}

/** Returns the part of a plane that lies in a rectangle; `bytes` per pixel for planes with several. */
export function partOf<T extends Plane>(plane: T, within: Rect, bytes = 1): T {
  const rect = overlap(plane, within)
  const data = new Uint8Array(bytes * rect.width * rect.height)
  for (let row = 0; row < rect.height; row++) {
    const from = bytes * ((rect.y + row - plane.y) * plane.width + rect.x - plane.x)
    data.set(plane.data.subarray(from, from + bytes * rect.width), bytes * row * rect.width)
  }
  const part = { ...plane, ...rect, data }
  if (plane.chroma) part.chroma = chromaPart(plane.chroma, rect)
  return part
}

/** Returns the part of a grid within a rectangle, in the kernels' memory. */
export function partIn({ x, y, width, data }: Grid, rect: Rect): Grid {
  const part = floatList(rect.width * rect.height)
  for (let row = 0; row < rect.height; row++) {
    const from = (rect.y + row - y) * width + rect.x - x
    part.set(data.subarray(from, from + rect.width), row * rect.width)
  }
  return gridLike(rect, part)
}

/** Returns the part of a plane around a point, `reach` pixels each way and a little more. */
export const partAround = (plane: Plane, at: { x: number; y: number }, reach: number): Plane =>
  partOf(plane, rectAround(at, { x: reach, y: reach }, 16))

/** Returns the half-size pixels that a rectangle of whole pixels touches. */
export function halvedRect({ x, y, width, height }: Rect): Rect {
  const [left, top] = [Math.floor(x / 2), Math.floor(y / 2)]
  return {
    x: left,
    y: top,
    width: Math.ceil((x + width) / 2) - left,
    height: Math.ceil((y + height) / 2) - top,
  }
}

/** Returns the part of colour differences that lies in a rectangle of whole pixels. */
function chromaPart(chroma: Chroma, within: Rect): Chroma {
  const rect = overlap(chroma, halvedRect(within))
  const cut = (data: Uint8Array) => partOf({ ...chromaRect(chroma), data }, rect).data
  return { ...rect, blue: cut(chroma.blue), red: cut(chroma.red) }
}

const chromaRect = ({ x, y, width, height }: Rect): Rect => ({ x, y, width, height })

/** Returns the intersection of two rectangles; 0 wide or high if they don't meet. */
export function overlap(a: Rect, b: Rect): Rect {
  const x = Math.max(a.x, b.x)
  const y = Math.max(a.y, b.y)
  const width = Math.max(0, Math.min(a.x + a.width, b.x + b.width) - x)
  const height = Math.max(0, Math.min(a.y + a.height, b.y + b.height) - y)
  return { x, y, width, height }
}

/**
 * Returns the smallest rectangle around a point with this half size whose corner and size are multiples of a number.
 */
export function rectAround(at: { x: number; y: number }, reach: { x: number; y: number }, of: number): Rect {
  const x = Math.floor((at.x - reach.x) / of) * of
  const y = Math.floor((at.y - reach.y) / of) * of
  return {
    x,
    y,
    width: Math.ceil((at.x + reach.x - x) / of) * of,
    height: Math.ceil((at.y + reach.y - y) / of) * of,
  }
}

/**
 * Returns a grid at half the size: each pixel is the mean of four. Its corner must be even, so that grids of one
 * picture are aligned at every level.
 */
export function halved({ x, y, width, height, data }: Grid): Grid {
  const half = withArena(2 ** 16 + 8 * data.length, () => halfOf(data, width, height).slice())
  return { x: x >> 1, y: y >> 1, width: width >> 1, height: height >> 1, data: half }
}

/** Returns a grid and its successive halvings, `levels` in all. */
export function pyramid(grid: Grid, levels: number): Grid[] {
  const all = [grid]
  while (all.length < levels) all.push(halved(all[all.length - 1]))
  return all
}

/**
 * Returns the value of a grid at a point of its picture, between pixels by cubic convolution (Keys, IEEE Trans. ASSP 29
 * (1981) 1153: exact for parabolas); NaN where the sixteen pixels around it are not all there. The middle of
 * pixel (0, 0) is at (0.5, 0.5). Written out: most of the time of following is spent here.
 */
export function valueAt(grid: Grid, px: number, py: number): number {
  const { width, height, data } = grid
  const u = px - 0.5 - grid.x
  const v = py - 0.5 - grid.y
  const left = Math.floor(u)
  const top = Math.floor(v)
  if (!(left >= 1 && top >= 1 && left + 2 < width && top + 2 < height)) return Number.NaN
  const s = u - left
  const s2 = s * s
  const s3 = s2 * s
  const a = -0.5 * s + s2 - 0.5 * s3
  const b = 1 - 2.5 * s2 + 1.5 * s3
  const c = 0.5 * s + 2 * s2 - 1.5 * s3
  const d = -0.5 * s2 + 0.5 * s3
  const t = v - top
  const t2 = t * t
  const t3 = t2 * t
  const i = (top - 1) * width + left - 1
  const j = i + width
  const k = j + width
  const l = k + width
  return (
    (-0.5 * t + t2 - 0.5 * t3) * (a * data[i] + b * data[i + 1] + c * data[i + 2] + d * data[i + 3]) +
    (1 - 2.5 * t2 + 1.5 * t3) * (a * data[j] + b * data[j + 1] + c * data[j + 2] + d * data[j + 3]) +
    (0.5 * t + 2 * t2 - 1.5 * t3) * (a * data[k] + b * data[k + 1] + c * data[k + 2] + d * data[k + 3]) +
    (-0.5 * t2 + 0.5 * t3) * (a * data[l] + b * data[l + 1] + c * data[l + 2] + d * data[l + 3])
  )
}

/** Returns the bilinear value of a grid; 0 outside. */
export function roughValueAt(grid: Grid, px: number, py: number): number {
  const { width, height, data } = grid
  const u = px - 0.5 - grid.x
  const v = py - 0.5 - grid.y
  const left = Math.floor(u)
  const top = Math.floor(v)
  if (!(left >= 0 && top >= 0 && left + 1 < width && top + 1 < height)) return 0
  const du = u - left
  const at = top * width + left
  const upper = data[at] + du * (data[at + 1] - data[at])
  const lower = data[at + width] + du * (data[at + width + 1] - data[at + width])
  return upper + (v - top) * (lower - upper)
}
