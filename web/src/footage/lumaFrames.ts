import {
  type Chroma,
  type ColourPlane,
  halvedRect,
  overlap,
  type Plane,
  partOf,
  type Rect,
} from '@apokinema/core/following'
import type { Orientation } from '@apokinema/core/investigation'
import { lumaOfColours } from '@apokinema/core/survey'
import type { VideoSample } from 'mediabunny'
import type { ClipFacts } from './facts.ts'
import type { FrameReader } from './frameReader.ts'

/** A decoded frame whose brightness can be read in the orientation in which the person sees it. */
export interface LumaFrame {
  index: number
  /** Returns the brightness in a rectangle of the picture, with its colour differences on request; parts outside of the picture are cut off. */
  read(rect: Rect, withChroma?: boolean): Promise<Plane>
  /** Returns the colours in a rectangle of the picture, likewise. */
  readColours(rect: Rect): Promise<ColourPlane>
}

/** Formats whose first plane is brightness, one byte per pixel. */
export const PLAIN = /^(I420|I420A|I422|I444|NV12)$/
/** Formats with brightness and two colour planes at half the resolution, separate or interleaved. */
export const HALVED = /^(I420|NV12)$/
/** Number of whole frames that are kept at a time to iterate backwards. */
const BACKWARDS = 48

/**
 * Decodes frames one after the other, each valid until the next is requested; ends before the first that can't
 * be decoded.
 *
 * @param frames indices, all increasing or all decreasing
 * @param also what is needed besides brightness; it has to be stated to iterate backwards
 */
export async function* lumaFrames(
  reader: FrameReader,
  frames: number[],
  orientation: Orientation,
  also: { colours?: boolean; chroma?: boolean } = {},
): AsyncGenerator<LumaFrame> {
  const turning = new Turning(reader.facts, orientation)
  if (frames.length > 1 && frames[1] < frames[0]) {
    for (let from = 0; from < frames.length; from += BACKWARDS) {
      const some = frames.slice(from, from + BACKWARDS).reverse()
      const all = { x: 0, y: 0, ...turning.size }
      const whole: { index: number; luma: Plane; colours: ColourPlane | null }[] = []
      for await (const frame of forwards(reader, some, turning))
        whole.push({
          index: frame.index,
          luma: await frame.read(all, also.chroma),
          colours: also.colours ? await frame.readColours(all) : null,
        })
      for (const { index, luma, colours } of whole.reverse())
        yield {
          index,
          read: async (rect) => partOf(luma, rect),
          readColours: async (rect) => partOf(colours!, rect, 4),
        }
    }
  } else yield* forwards(reader, frames, turning)
}

async function* forwards(reader: FrameReader, frames: number[], turning: Turning): AsyncGenerator<LumaFrame> {
  for await (const { index, sample } of reader.through(frames))
    yield {
      index,
      read: (rect, withChroma) => turning.read(sample, rect, withChroma),
      readColours: (rect) => turning.readColours(sample, rect),
    }
}

/** Brightness and colour differences of some frames, by time; without frames that can't be decoded. */
export async function wholeLuma(
  reader: FrameReader,
  frames: number[],
  orientation: Orientation,
  onProgress: (share: number) => void,
): Promise<Plane[]> {
  const turning = new Turning(reader.facts, orientation)
  const planes: Plane[] = []
  const whole = { x: 0, y: 0, ...turning.size }
  const left = new Set([...frames].sort((a, b) => a - b))
  const take = async (frame: number, sample: VideoSample) => {
    planes.push(await turning.read(sample, whole, true))
    left.delete(frame)
    onProgress(1 - left.size / frames.length)
  }
  for await (const { index, sample } of reader.through([...left])) await take(index, sample)
  // If one can't be decoded, the others are decoded one by one.
  for (const frame of left) {
    const sample = await reader.single(frame)
    if (sample) await take(frame, sample).finally(() => sample.close())
  }
  return planes
}

/** Orientation of the sensor's rows in the displayed picture: turned by the file, then by hand. */
class Turning {
  /** Size of the displayed picture. */
  readonly size: { width: number; height: number }
  /** Size of the sensor's picture. */
  private readonly coded: { width: number; height: number }
  /** From the centre of the displayed picture to the centre of the sensor's: x = a·X + b·Y, y = c·X + d·Y. */
  private readonly back: { a: number; b: number; c: number; d: number }

  constructor(
    { width, height, rotation, flip }: ClipFacts,
    private readonly orientation: Orientation,
  ) {
    this.coded = rotation % 180 === 0 ? { width, height } : { width: height, height: width }
    const turned = orientation.quarterTurns % 2 === 0
    this.size = turned ? { width, height } : { width: height, height: width }
    const quarters = (turns: number, x: number, y: number): [number, number] => {
      let at: [number, number] = [x, y]
      for (let k = 0; k < ((turns % 4) + 4) % 4; k++) at = [-at[1], at[0]]
      return at
    }
    // The transformations of the sensor's picture, inverted in reverse order.
    const undo = (x: number, y: number) => {
      let [u, v] = quarters(-orientation.quarterTurns, x, y)
      if (orientation.mirrored) u = -u
      if (flip) u = -u
      ;[u, v] = quarters(-rotation / 90, u, v)
      return [u, v]
    }
    const [a, c] = undo(1, 0)
    const [b, d] = undo(0, 1)
    this.back = { a, b, c, d }
  }

  /** Returns the brightness of a part of the picture, with its colour differences on request; parts outside are cut off. */
  async read(sample: VideoSample, wanted: Rect, withChroma = false): Promise<Plane> {
    const rect = overlap(wanted, { x: 0, y: 0, ...this.size })
    if (rect.width === 0 || rect.height === 0) return { ...rect, data: new Uint8Array(0) }
    const part = await this.copied(sample, rect, withChroma ? HALVED : PLAIN)
    if (!part) {
      const colours = this.drawn(sample, rect)
      const plane: Plane = { ...rect, data: lumaOfColours(colours.data, rect.width, rect.height).data }
      if (withChroma) plane.chroma = chromaOfColours(colours)
      return plane
    }
    const { bytes, planes, across, down } = part
    const [{ offset, stride }] = planes
    const plain = asItLies(part, rect, withChroma)
    if (plain) return plain
    const step = across.x + across.y * stride
    const data = new Uint8Array(rect.width * rect.height)
    for (let row = 0; row < rect.height; row++) {
      const from = offset + (part.first.y + row * down.y) * stride + part.first.x + row * down.x
      if (step === 1) data.set(bytes.subarray(from, from + rect.width), row * rect.width)
      else for (let k = 0; k < rect.width; k++) data[row * rect.width + k] = bytes[from + k * step]
    }
    const plane: Plane = { ...rect, data }
    if (withChroma) plane.chroma = chromaOfPart(part, rect)
    return plane
  }

  /** Returns the colours of a part of the picture; parts outside are cut off. */
  async readColours(sample: VideoSample, wanted: Rect): Promise<ColourPlane> {
    const rect = overlap(wanted, { x: 0, y: 0, ...this.size })
    if (rect.width === 0 || rect.height === 0) return { ...rect, data: new Uint8Array(0) }
    const part = await this.copied(sample, rect, HALVED)
    if (!part) return this.drawn(sample, rect)
    const { bytes, planes, first, across, down } = part
    const [luma, blue, red] = planes
    const data = new Uint8ClampedArray(4 * rect.width * rect.height)
    for (let row = 0, to = 0; row < rect.height; row++)
      for (let column = 0; column < rect.width; column++, to += 4) {
        const x = first.x + row * down.x + column * across.x
        const y = first.y + row * down.y + column * across.y
        const [u, v] = [x >> 1, y >> 1]
        const bright = 1.164 * (bytes[luma.offset + y * luma.stride + x] - 16)
        // The colours are interleaved in one plane, or in two planes.
        const at = blue.offset + v * blue.stride + (red ? u : 2 * u)
        const cb = bytes[at] - 128
        const cr = (red ? bytes[red.offset + v * red.stride + u] : bytes[at + 1]) - 128
        data[to] = bright + 1.793 * cr
        data[to + 1] = bright - 0.213 * cb - 0.533 * cr
        data[to + 2] = bright + 2.112 * cb
        data[to + 3] = 255
      }
    return { ...rect, data: new Uint8Array(data.buffer) }
  }

  /**
   * The decoder's bytes of a part of the picture: offset of its first pixel, and the strides to the next pixel to the right
   * and down. Null if the format is not supported.
   */
  async copied(sample: VideoSample, rect: Rect, formats: RegExp) {
    const frame = sample.toVideoFrame()
    try {
      const visible = frame.visibleRect!
      const isPlain = frame.format !== null && formats.test(frame.format)
      if (!isPlain || visible.width !== this.coded.width || visible.height !== this.coded.height) return null
      const { a, b, c, d } = this.back
      const xOf = (x: number, y: number) =>
        a * (x - this.size.width / 2) + b * (y - this.size.height / 2) + this.coded.width / 2
      const yOf = (x: number, y: number) =>
        c * (x - this.size.width / 2) + d * (y - this.size.height / 2) + this.coded.height / 2
      const [x0, x1] = [xOf(rect.x, rect.y), xOf(rect.x + rect.width, rect.y + rect.height)]
      const [y0, y1] = [yOf(rect.x, rect.y), yOf(rect.x + rect.width, rect.y + rect.height)]
      // Decoders copy even-sized parts only.
      const left = 2 * Math.floor(Math.min(x0, x1) / 2)
      const top = 2 * Math.floor(Math.min(y0, y1) / 2)
      const part = {
        x: visible.x + left,
        y: visible.y + top,
        width: Math.min(visible.width - left, 2 * Math.ceil((Math.max(x0, x1) - left) / 2)),
        height: Math.min(visible.height - top, 2 * Math.ceil((Math.max(y0, y1) - top) / 2)),
      }
      const bytes = new Uint8Array(frame.allocationSize({ rect: part }))
      const planes = await frame.copyTo(bytes, { rect: part })
      return {
        bytes,
        planes,
        first: {
          x: Math.floor(xOf(rect.x + 0.5, rect.y + 0.5)) - left,
          y: Math.floor(yOf(rect.x + 0.5, rect.y + 0.5)) - top,
        },
        across: { x: a, y: c },
        down: { x: b, y: d },
      }
    } finally {
      frame.close()
    }
  }

  /** Returns the colours of a part of the picture by drawing it: for other pixel formats. */
  private drawn(sample: VideoSample, rect: Rect): ColourPlane {
    const { mirrored, quarterTurns } = this.orientation
    const { width, height } = this.size
    const [w, h] = quarterTurns % 2 === 0 ? [width, height] : [height, width]
    const canvas = new OffscreenCanvas(rect.width, rect.height)
    const context = canvas.getContext('2d', { willReadFrequently: true })!
    context.translate(width / 2 - rect.x, height / 2 - rect.y)
    context.rotate((quarterTurns * Math.PI) / 2)
    if (mirrored) context.scale(-1, 1)
    sample.draw(context, -w / 2, -h / 2, w, h)
    const { data } = context.getImageData(0, 0, rect.width, rect.height)
    return { ...rect, data: new Uint8Array(data.buffer) }
  }
}

/**
 * Returns a part of a picture without copying, if the decoder's bytes are in display order, with the colours in separate
 * planes; null otherwise.
 */
function asItLies(
  { bytes, planes, first, across, down }: Copied,
  rect: Rect,
  withChroma: boolean,
): Plane | null {
  const isUpright = across.x === 1 && across.y === 0 && down.x === 0 && down.y === 1
  const [luma, blue, red] = planes
  if (!isUpright || first.x !== 0 || first.y !== 0 || luma.stride !== rect.width) return null
  const data = bytes.subarray(luma.offset, luma.offset + rect.width * rect.height)
  if (!withChroma) return { ...rect, data }
  const half = halvedRect(rect)
  const isHalved = red !== undefined && rect.x % 2 === 0 && rect.y % 2 === 0
  if (!isHalved || blue.stride !== half.width || red.stride !== half.width) return null
  const planeAt = ({ offset }: PlaneLayout) => bytes.subarray(offset, offset + half.width * half.height)
  return { ...rect, data, chroma: { ...half, blue: planeAt(blue), red: planeAt(red) } }
}

type Copied = NonNullable<Awaited<ReturnType<Turning['copied']>>>

/** Returns the colour differences of a part of a picture from the decoder's bytes. */
function chromaOfPart({ bytes, planes, first, across, down }: Copied, rect: Rect): Chroma {
  const half = halvedRect(rect)
  const [, blue, red] = planes
  const made = {
    blue: new Uint8Array(half.width * half.height),
    red: new Uint8Array(half.width * half.height),
  }
  eachHalved(rect, half, (to, column, row) => {
    const u = (first.x + row * down.x + column * across.x) >> 1
    const v = (first.y + row * down.y + column * across.y) >> 1
    // The colours are interleaved in one plane, or in two planes.
    const at = blue.offset + v * blue.stride + (red ? u : 2 * u)
    made.blue[to] = bytes[at]
    made.red[to] = red ? bytes[red.offset + v * red.stride + u] : bytes[at + 1]
  })
  return { ...half, ...made }
}

/** Returns the colour differences of red, green and blue, with the weights of ITU-R BT.709. */
export function chromaOfColours(colours: ColourPlane): Chroma {
  const half = halvedRect(colours)
  const made = {
    blue: new Uint8ClampedArray(half.width * half.height),
    red: new Uint8ClampedArray(half.width * half.height),
  }
  eachHalved(colours, half, (to, column, row) => {
    const at = 4 * (row * colours.width + column)
    const [r, g, b] = colours.data.subarray(at, at + 3)
    const light = 0.2126 * r + 0.7152 * g + 0.0722 * b
    made.blue[to] = 128 + (b - light) / 1.8556
    made.red[to] = 128 + (r - light) / 1.5748
  })
  return { ...half, blue: new Uint8Array(made.blue.buffer), red: new Uint8Array(made.red.buffer) }
}

/** Iterates over the pixels at half the resolution, each with the column and row of one of its pixels in a rectangle. */
function eachHalved(rect: Rect, half: Rect, act: (to: number, column: number, row: number) => void): void {
  for (let y = 0, to = 0; y < half.height; y++)
    for (let x = 0; x < half.width; x++, to++) {
      const column = Math.max(0, 2 * (half.x + x) - rect.x)
      const row = Math.max(0, 2 * (half.y + y) - rect.y)
      act(to, column, row)
    }
}
