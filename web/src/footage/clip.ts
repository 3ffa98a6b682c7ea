import type { Footage, Orientation } from '@apokinema/core/investigation'
import * as Comlink from 'comlink'
import type { Decoder } from './decoder.worker.ts'
import { FootageError } from './FootageError.ts'
import type { ClipFacts } from './facts.ts'
import { Pictures } from './pictures.ts'

/** A clip that is open in a worker of its own. */
export interface Clip {
  facts: ClipFacts
  decoder: Comlink.Remote<Decoder>
  /** Pictures around the current frame; created on first use. */
  pictures(): Pictures
  close(): void
}

/**
 * Opens a clip in a new worker. Rejects with a message for people.
 *
 * @param name of the worker, where developer tools list it
 */
export async function openInWorker(from: Blob | string, name = 'decoder'): Promise<Clip> {
  const worker = new Worker(new URL('./decoder.worker.ts', import.meta.url), {
    type: 'module',
    name,
  })
  const decoder = Comlink.wrap<Decoder>(worker)
  let pictures: Pictures | null = null
  const close = () => {
    pictures?.close()
    decoder[Comlink.releaseProxy]()
    worker.terminate()
  }
  const broken = new Promise<never>((_, reject) => {
    worker.onerror = () => reject(new Error('The video decoder could not be started. Reload the page.'))
  })
  try {
    const facts = await Promise.race([decoder.open(from), broken])
    if ('refused' in facts) throw new FootageError(facts.refused, facts.convertible)
    return {
      facts,
      decoder,
      pictures: () => {
        pictures ??= new Pictures(decoder, facts, stageWidth(facts), pictureBytes())
        return pictures
      },
      close,
    }
  } catch (error) {
    close()
    throw error
  }
}

/** Time in milliseconds after which an unclaimed clip is closed. */
const LEFT_OPEN = 30_000

const leftOpen = new Map<string, Clip>()

/** Leaves a clip open for the next user of its footage, so that its index is not read again. */
export function leaveOpen(footage: string, clip: Clip): void {
  leftOpen.set(footage, clip)
  setTimeout(() => takeOpen(footage)?.close(), LEFT_OPEN)
}

/** Takes over a clip that was left open; null if there is none. */
export function takeOpen(footage: string): Clip | null {
  const clip = leftOpen.get(footage) ?? null
  leftOpen.delete(footage)
  return clip
}

/** Returns the footage of an open clip, in the document's form. */
export function footageOf(
  { missing, flip, ...facts }: ClipFacts,
  about: Pick<Footage, 'id' | 'name' | 'size' | 'converted'>,
): Footage {
  return { ...about, ...facts }
}

/** Memory for decoded pictures in bytes: a fortieth of the memory that the browser reports, between 96 and 256 MB. */
function pictureBytes(): number {
  const gigabytes = (navigator as { deviceMemory?: number }).deviceMemory ?? 4
  return Math.min(256, Math.max(96, gigabytes * 26)) * 1024 * 1024
}

/** Width of the largest picture on the stage, in device pixels. */
function stageWidth({ width, height }: { width: number; height: number }): number {
  const density = window.devicePixelRatio || 1
  const [across, down] = [screen.width - 272, screen.height - 284].map((length) => Math.max(320, length))
  return Math.min(width, Math.ceil(density * Math.max(960, Math.min(across, (down * width) / height))))
}

/**
 * Draws a picture with its orientation, its corner at the context's origin. A picture that was released after
 * it was requested (its size is 0) is skipped: its replacement is drawn next.
 *
 * @param size of the picture as the file has it, in the context's units: the image can be a smaller one
 */
export function drawTurned(
  context: CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D,
  image: ImageBitmap,
  { width, height }: { width: number; height: number },
  { mirrored, quarterTurns }: Orientation,
): void {
  if (image.width === 0) return
  context.save()
  const [w, h] = quarterTurns % 2 === 0 ? [width, height] : [height, width]
  context.translate(w / 2, h / 2)
  context.rotate((quarterTurns * Math.PI) / 2)
  if (mirrored) context.scale(-1, 1)
  context.drawImage(image, -width / 2, -height / 2, width, height)
  context.restore()
}
