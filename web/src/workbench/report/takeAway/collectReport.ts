import type { Shown, ShownBlock } from '@apokinema/words/report/shown'
import { showReport } from '@apokinema/words/report/showReport'
import { canvasBlob } from '../../../common/canvasBlob.ts'
import { svgText } from '../../chart/graphSvg.ts'
import { cleanSvg, scalable } from '../blocks/cleanSvg.ts'
import { residualsSvg } from '../blocks/residualsSvg.ts'
import { isPlot } from '../blocks/withDrawing.ts'
import { PIXEL_RATIO, TEXT_WIDTH } from '../pageSize.ts'
import type { ReportSource } from '../source.ts'
import type { FilePicture, ReportFile } from './reportFile.ts'

/** A picture, and its width as a share of the page's. */
type Drawn = Pick<Extract<Shown, { kind: 'figure' }>, 'picture' | 'width'>

/** Returns the picture that a block shows: a figure, or the residuals of a fit; null for none. */
function drawnOf(shown: Shown): Drawn | null {
  if (shown.kind === 'figure') return shown
  if (shown.kind !== 'result' || !shown.residuals) return null
  return { picture: { of: 'drawing', svg: residualsSvg(shown.residuals) }, width: 1 }
}

/** Returns a drawing as text of an SVG file, without anything that runs or loads; null if it is none. */
function cleanText(svg: string): string | null {
  const drawn = cleanSvg(svg)
  return drawn && svgText(drawn)
}

/** Draws an image on a canvas of a width, in pixels; null if it can't be decoded. */
async function onCanvas(address: string, width: number): Promise<HTMLCanvasElement | null> {
  const image = new Image()
  image.src = address
  try {
    await image.decode()
  } catch {
    return null
  }
  const canvas = document.createElement('canvas')
  canvas.width = Math.round(width)
  canvas.height = Math.round((width * image.naturalHeight) / image.naturalWidth)
  canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height)
  return canvas
}

/** Returns a pinned drawing as PNG with 300 pixels to the inch; null if it can't be drawn. */
async function drawingPng(svg: string, width: number): Promise<Blob | null> {
  const address = URL.createObjectURL(new Blob([svg], { type: 'image/svg+xml' }))
  try {
    const canvas = await onCanvas(address, TEXT_WIDTH * width * PIXEL_RATIO)
    return canvas && (await canvasBlob(canvas))
  } finally {
    URL.revokeObjectURL(address)
  }
}

/** A picture as PNG, and as SVG where it is a drawing. */
interface Made {
  png: Blob
  svg: string | null
}

/** Returns a drawing without anything that runs or loads; null if there is none in it. */
async function drawnDrawing(drawing: string, width: number): Promise<Made | null> {
  const svg = cleanText(drawing)
  const png = svg === null ? null : await drawingPng(svg, width)
  return png && { png, svg }
}

/** Returns the pictures of a figure; null if they can't be made. */
async function drawn(source: ReportSource, { picture, width }: Drawn): Promise<Made | null> {
  if (picture.of === 'drawing') return drawnDrawing(picture.svg, width)
  if (picture.of === 'photo') {
    const canvas = await onCanvas(picture.data, TEXT_WIDTH * width * PIXEL_RATIO)
    const png = canvas && (await canvasBlob(canvas))
    return png && { png, svg: null }
  }
  if (isPlot(picture)) {
    const [svg, png] = [source.svg(picture, width), await source.png(picture, width)]
    return svg && png ? { png, svg: svgText(scalable(svg)) } : null
  }
  const png = await source.photo(picture)
  return png && { png, svg: null }
}

async function filePicture({ png, svg }: Made, width: number): Promise<FilePicture> {
  const image = await createImageBitmap(png)
  const wide = TEXT_WIDTH * width
  const height = (wide * image.height) / image.width
  image.close()
  return {
    width: Math.round(wide),
    height: Math.round(height),
    png: new Uint8Array(await png.arrayBuffer()),
    svg,
  }
}

/**
 * Returns the pictures of blocks for a file, by the ids of the blocks. One that can't be made is left out.
 *
 * @throws what the signal was aborted with
 */
async function picturesOf(
  source: ReportSource,
  blocks: readonly ShownBlock[],
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<Record<string, FilePicture>> {
  const figures = blocks.flatMap(({ id, shown }) => {
    const of = drawnOf(shown)
    return of ? [{ id, of }] : []
  })
  const pictures: Record<string, FilePicture> = {}
  for (const [i, { id, of }] of figures.entries()) {
    const made = await drawn(source, of)
    signal.throwIfAborted()
    if (made) pictures[id] = await filePicture(made, of.width)
    onProgress((i + 1) / figures.length)
  }
  return pictures
}

/**
 * Returns a report with all its pictures, to be made a file of. A picture that can't be made is left out; its caption stays.
 *
 * @param onProgress told the share that is done
 * @throws what the signal was aborted with
 */
export async function collectReport(
  source: ReportSource,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<ReportFile> {
  const { title, author, date, paper } = source.session.document.report
  const blocks = showReport(source.subject())
  const pictures = await picturesOf(source, blocks, onProgress, signal)
  return { title: title || source.session.document.title, author, date, paper, blocks, pictures }
}
