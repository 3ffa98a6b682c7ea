import * as Comlink from 'comlink'
import { openInWorker } from '../../../footage/clip.ts'

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
