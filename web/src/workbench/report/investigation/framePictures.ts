import { type Investigation, pictureSize } from '@apokinema/core/investigation'
import * as Comlink from 'comlink'
import { drawTurned, openInWorker } from '../../../footage/clip.ts'
import { PRINTED } from '../../../theme/look.ts'
import type { ClipState } from '../../ClipContext.tsx'
import { drawAllMarks } from '../../marksDrawing.ts'
import { TEXT_WIDTH } from '../pageSize.ts'
import { drawCalibration } from './calibrationDrawing.ts'

/** Requests for frames' pictures, one after the other: each opens a decoder of its own. */
let queue: Promise<unknown> = Promise.resolve()

/** The picture that was asked for last: several places of a page show the same frame. */
let last: { from: Blob | string; frame: number; picture: Promise<ImageBitmap | null> } | null = null

/** Returns the picture of a frame in full resolution, in the file's orientation; null if it can't be decoded. */
export function framePicture(from: Blob | string, frame: number): Promise<ImageBitmap | null> {
  if (last?.from === from && last.frame === frame) return last.picture
  const picture = queue.then(() => decoded(from, frame)).catch(() => null)
  queue = picture
  last = { from, frame, picture }
  // What could not be decoded may be, another time.
  void picture.then((image) => {
    if (!image && last?.picture === picture) last = null
  })
  return picture
}

async function decoded(from: Blob | string, frame: number): Promise<ImageBitmap | null> {
  const clip = await openInWorker(from, 'report')
  try {
    let picture: ImageBitmap | null = null
    const take = (_: number, image: ImageBitmap) => {
      picture = image
    }
    await clip.decoder.film([frame], clip.facts.height, Comlink.proxy(take))
    return picture
  } finally {
    clip.close()
  }
}

/**
 * Draws a frame's picture with its orientation, its marks, the reference lengths and the axes, in pixels of the picture.
 *
 * @param facts size of the picture as the file has it
 */
export function drawFrame(
  context: CanvasRenderingContext2D,
  investigation: Investigation,
  facts: { width: number; height: number },
  image: ImageBitmap,
  frame: number,
): void {
  drawTurned(context, image, facts, investigation.orientation)
  // Signs and words have the size that they would have on a page of full width.
  const { width, height } = pictureSize(investigation)
  const scale = width / TEXT_WIDTH
  context.save()
  context.scale(scale, scale)
  drawAllMarks(context, investigation, frame, {
    size: { width: width / scale, height: height / scale },
    view: { zoom: 1 / scale, x: 0, y: 0 },
    scale: 1,
    look: PRINTED,
    active: null,
    selection: null,
    outlined: null,
    marked: null,
    rows: null,
  })
  drawCalibration(context, investigation, frame, scale)
  context.restore()
}

/** Returns the canvas with a frame's picture and its marks, in full resolution; null if it can't be decoded. */
export async function frameCanvas(
  investigation: Investigation,
  { from, clip }: ClipState,
  frame: number,
): Promise<HTMLCanvasElement | null> {
  const image = from !== null && clip ? await framePicture(from, frame) : null
  const canvas = document.createElement('canvas')
  Object.assign(canvas, pictureSize(investigation))
  const context = canvas.getContext('2d')
  if (!image || !clip || !context) return null
  drawFrame(context, investigation, clip.facts, image, frame)
  return canvas
}
