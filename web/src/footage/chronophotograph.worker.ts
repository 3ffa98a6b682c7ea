import type { ColourPlane } from '@apokinema/core/following'
import type { Point } from '@apokinema/core/geometry'
import type { Orientation } from '@apokinema/core/investigation'
import { layOver, spreadEvenly, stillGround } from '@apokinema/core/pictures'
import typeAddress from '@fontsource-variable/jetbrains-mono/files/jetbrains-mono-latin-wght-normal.woff2?url'
import * as Comlink from 'comlink'
import { FrameReader } from './frameReader.ts'
import { lumaFrames } from './lumaFrames.ts'

/** A body's position in one frame. */
export interface Cut {
  frame: number
  from: Point
  to: Point
}

/** A line that is drawn over the picture, in pixels of it. */
export interface DrawnLine {
  points: Point[]
  colour: string
  width: number
}

/** Text on the picture: it begins at a point, at half its height. */
export interface DrawnWords {
  at: Point
  text: string
}

/** What a chronophotograph is made of. */
export interface ChronoTask {
  orientation: Orientation
  /** Size of the picture as the person sees it. */
  picture: { width: number; height: number }
  /** Frames from which the background is learned; empty if the camera moves. */
  still: number[]
  /** The frame used as the background if the camera moves. */
  base: number
  /** In frame order. */
  cuts: Cut[]
  /** Radius around its position within which a body is copied, in pixels. */
  radius: number
  lines: DrawnLine[]
  words: DrawnWords[]
  /** Height of the text, in pixels. */
  wordSize: number
  /** Picture of the same size that the bodies are copied onto; null: what stands still in this clip. */
  onto: Blob | null
}

/** Most bytes of frames from which the background is learned. */
const MOST_BYTES = 160e6
const FEWEST_STILL = 5

const worker = {
  /** Returns the picture as a PNG, or an error message. */
  async make(
    from: Blob | string,
    task: ChronoTask,
    onProgress: (share: number) => void,
  ): Promise<Blob | string> {
    const { orientation, picture, base, cuts, radius, lines, words, wordSize } = task
    const reader = await FrameReader.open(from)
    const whole = { x: 0, y: 0, ...picture }
    const most = Math.floor(MOST_BYTES / (4 * picture.width * picture.height))
    const still = spreadEvenly(task.still, Math.max(FEWEST_STILL, most))
    const all = still.length + cuts.length
    let done = 0
    const seen: ColourPlane[] = []
    for (const frame of still.length >= FEWEST_STILL ? still : []) {
      for await (const shown of lumaFrames(reader, [frame], orientation))
        seen.push(await shown.readColours(whole))
      onProgress(++done / all)
    }
    const ground = seen.length >= FEWEST_STILL ? stillGround(seen) : null
    let into: ColourPlane | null = task.onto
      ? await coloursOf(task.onto, picture)
      : ground && { ...ground, data: ground.data.slice() }
    if (!into)
      for await (const shown of lumaFrames(reader, [base], orientation)) into = await shown.readColours(whole)
    if (!into) return `Frame ${base} can’t be decoded.`
    const byFrame = new Map<number, Cut[]>()
    for (const cut of cuts) byFrame.set(cut.frame, [...(byFrame.get(cut.frame) ?? []), cut])
    for await (const shown of lumaFrames(reader, [...byFrame.keys()], orientation)) {
      for (const { from: at, to } of byFrame.get(shown.index) ?? []) {
        const part = await shown.readColours({
          x: Math.floor(at.x - radius),
          y: Math.floor(at.y - radius),
          width: 2 * Math.ceil(radius) + 1,
          height: 2 * Math.ceil(radius) + 1,
        })
        layOver(into, part, ground, { from: at, to, radius })
        onProgress(++done / all)
      }
    }
    const canvas = new OffscreenCanvas(picture.width, picture.height)
    const context = canvas.getContext('2d')!
    const pixels = new ImageData(new Uint8ClampedArray(into.data), picture.width, picture.height)
    context.putImageData(pixels, 0, 0)
    for (const line of lines) draw(context, line)
    if (words.length > 0) await write(context, words, wordSize)
    return canvas.convertToBlob({ type: 'image/png' })
  },
}

/** Returns the pixels of a picture, as large as is asked for. */
async function coloursOf(
  blob: Blob,
  { width, height }: { width: number; height: number },
): Promise<ColourPlane> {
  const bitmap = await createImageBitmap(blob)
  const context = new OffscreenCanvas(width, height).getContext('2d')!
  context.drawImage(bitmap, 0, 0, width, height)
  bitmap.close()
  const { data } = context.getImageData(0, 0, width, height)
  return { x: 0, y: 0, width, height, data: new Uint8Array(data.buffer) }
}

/** Draws a line with a dark edge, so that it is visible on any picture. */
function draw(context: OffscreenCanvasRenderingContext2D, { points, colour, width }: DrawnLine): void {
  context.lineJoin = 'round'
  context.lineCap = 'round'
  for (const [stroke, wide] of [
    // The edge of a hairline must not be stronger than the line.
    [`rgba(16,24,26,${width > 1 ? 0.7 : 0.18})`, width + 2],
    [colour, width],
  ] as const) {
    context.strokeStyle = stroke
    context.lineWidth = wide
    context.beginPath()
    points.forEach(({ x, y }, i) => {
      if (i === 0) context.moveTo(x, y)
      else context.lineTo(x, y)
    })
    context.stroke()
  }
}

/** Writes text in the application's font, with a dark edge. */
async function write(
  context: OffscreenCanvasRenderingContext2D,
  words: readonly DrawnWords[],
  size: number,
): Promise<void> {
  const face = new FontFace('Numbers', `url(${typeAddress})`)
  // A worker has its own set of fonts.
  const { fonts } = self as unknown as Pick<Document, 'fonts'>
  fonts.add(await face.load())
  context.font = `${size}px Numbers`
  context.textBaseline = 'middle'
  context.lineJoin = 'round'
  context.strokeStyle = 'rgba(16,24,26,0.85)'
  context.lineWidth = size / 4
  context.fillStyle = '#FFFFFF'
  for (const { at, text } of words) {
    context.strokeText(text, at.x, at.y)
    context.fillText(text, at.x, at.y)
  }
}

export type ChronoWorker = typeof worker

Comlink.expose(worker)
