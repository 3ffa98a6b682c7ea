import { type Investigation, pictureSize } from '@apokinema/core/investigation'
import type { Shown } from '@apokinema/words/report/shown'
import type { ClipState } from '../../ClipContext.tsx'
import { reportChronophotograph } from './chronophotographs.ts'
import { drawFrame, framePicture } from './framePictures.ts'
import { graphSvg } from './graphPictures.ts'
import { photoData } from './photos.ts'

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

/** Returns what a block shows with its picture in it, so that it no longer needs its source. A picture that can't be made stays as it is. */
export async function withDrawing(
  investigation: Investigation,
  clip: ClipState,
  shown: Shown,
): Promise<Shown> {
  if (shown.kind !== 'figure') return shown
  const { picture } = shown
  if (picture.of === 'graph') {
    const svg = await graphSvg(investigation, picture, shown.width)
    return svg === null ? shown : { ...shown, picture: { of: 'drawing', svg } }
  }
  const data = await photoOf(investigation, clip, picture)
  return data === null ? shown : { ...shown, picture: { of: 'photo', data } }
}

async function photoOf(
  investigation: Investigation,
  clip: ClipState,
  picture: Extract<Shown, { kind: 'figure' }>['picture'],
): Promise<string | null> {
  if (picture.of === 'frame') {
    const canvas = await frameCanvas(investigation, clip, picture.frame)
    return canvas && photoData(await createImageBitmap(canvas))
  }
  if (picture.of !== 'chronophotograph' || clip.from === null) return null
  const found = await reportChronophotograph(clip.from, investigation, picture)
  return found instanceof Blob ? photoData(found) : null
}
