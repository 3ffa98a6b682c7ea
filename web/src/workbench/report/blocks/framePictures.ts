import { type Investigation, pictureSize } from '@apokinema/core/investigation'
import * as Comlink from 'comlink'
import { drawTurned, openInWorker } from '../../../footage/clip.ts'
import { drawAllMarks } from '../../marksDrawing.ts'

/** Requests for frames' pictures, one after the other: each opens a decoder of its own. */
let queue: Promise<unknown> = Promise.resolve()

/** Returns the picture of a frame in full resolution, in the file's orientation; null if it can't be decoded. */
export function framePicture(from: Blob | string, frame: number): Promise<ImageBitmap | null> {
  const next = queue.then(() => decoded(from, frame)).catch(() => null)
  queue = next
  return next
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
 * Draws a frame's picture with its orientation and its marks, in pixels of the picture.
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
  drawAllMarks(context, investigation, frame, {
    size: pictureSize(investigation),
    view: { zoom: 1, x: 0, y: 0 },
    scale: 1,
    active: null,
    selection: null,
    outlined: null,
    marked: null,
    rows: null,
  })
}
