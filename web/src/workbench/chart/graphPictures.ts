import { BasicPlatform, Chart, type ChartItem } from 'chart.js'
import { canvasBlob } from '../../common/canvasBlob.ts'
import { PRINTED } from '../../theme/look.ts'
import { CAPTIONS, captionsPlugin } from './captions.ts'
import { graphConfiguration } from './graphChart.ts'
import type { GraphDrawing } from './graphDrawing.ts'
import { annotationsPlugin } from './plugins.ts'

/** Size of a picture of a graph, in CSS pixels. */
export interface PictureSize {
  width: number
  height: number
}

/** Size of an exported graph, in CSS pixels. */
export const PICTURE_SIZE = { width: 960, height: 560 }

/**
 * Draws a graph once, with title, axes and legend, on an offscreen context.
 *
 * @param read reads the picture from the context before the chart is destroyed
 */
export function withPicture<T>(
  drawing: GraphDrawing,
  context: unknown,
  pixelRatio: number,
  ground: string | null,
  read: () => T,
): T {
  const { content } = drawing
  const configuration = graphConfiguration(drawing, {
    sprites: false,
    look: PRINTED,
    padding: CAPTIONS,
    plugins: [
      annotationsPlugin(() => ({ content, look: PRINTED })),
      captionsPlugin(content, PRINTED, ground),
    ],
  })
  const chart = new Chart({ getContext: () => context } as unknown as ChartItem, {
    ...configuration,
    options: { ...configuration.options, responsive: false, devicePixelRatio: pixelRatio },
    platform: BasicPlatform,
  })
  try {
    return read()
  } finally {
    chart.destroy()
  }
}

/**
 * Draws a graph as PNG.
 *
 * @param pixelRatio pixels of the picture per CSS pixel
 * @throws if the browser can't encode the picture
 */
export async function pngOf(
  drawing: GraphDrawing,
  size: PictureSize,
  pixelRatio: number,
  ground: string | null,
): Promise<Blob> {
  const canvas = document.createElement('canvas')
  canvas.width = size.width
  canvas.height = size.height
  const context = canvas.getContext('2d')
  // The canvas is read at once, before the chart is destroyed; encoding may take longer.
  const blob = await withPicture(drawing, context, pixelRatio, ground, () => canvasBlob(canvas))
  if (!blob) throw new Error('No picture was made.')
  return blob
}
