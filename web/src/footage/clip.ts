import * as Comlink from 'comlink'
import type { Decoder } from './decoder.worker.ts'
import type { ClipFacts } from './facts.ts'

/** A clip that is open in a worker of its own. */
export interface Clip {
  facts: ClipFacts
  decoder: Comlink.Remote<Decoder>
  close(): void
}

/** Opens a clip in a new worker; rejects with a sentence for the person. */
export async function openInWorker(from: Blob | string): Promise<Clip> {
  const worker = new Worker(new URL('./decoder.worker.ts', import.meta.url), {
    type: 'module',
    name: 'decoder',
  })
  const decoder = Comlink.wrap<Decoder>(worker)
  const close = () => {
    decoder[Comlink.releaseProxy]()
    worker.terminate()
  }
  const broken = new Promise<never>((_, reject) => {
    worker.onerror = () => reject(new Error('The video decoder could not be started. Reload the page.'))
  })
  try {
    const facts = await Promise.race([decoder.open(from), broken])
    return { facts, decoder, close }
  } catch (error) {
    close()
    throw error
  }
}

/**
 * Draws a decoded picture upright so that the picture's pixel (0, 0) corner lands on the context's
 * origin, one unit a pixel.
 */
export function drawUpright(
  context: CanvasRenderingContext2D,
  frame: VideoFrame,
  { width, height, rotation, flip }: ClipFacts,
): void {
  context.save()
  context.translate(width / 2, height / 2)
  if (flip) context.scale(-1, 1)
  context.rotate((rotation * Math.PI) / 180)
  const lying = rotation % 180 !== 0
  const [w, h] = lying ? [height, width] : [width, height]
  context.drawImage(frame, -w / 2, -h / 2, w, h)
  context.restore()
}
