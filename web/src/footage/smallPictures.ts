import { type Luma, lumaOfColours, type SmallPicture, shrink } from '@apokinema/core/survey'
import { chromaOfColours, HALVED, PLAIN } from './lumaFrames.ts'

/** Returns a decoded frame reduced in size by a whole factor, as the sensor saw it; its colours on request. */
export async function smallPictureOf(
  frame: VideoFrame,
  factor: number,
  withColours: boolean,
): Promise<SmallPicture> {
  const { width, height } = frame.visibleRect!
  if (!frame.format || !PLAIN.test(frame.format)) return drawnSmall(frame, factor)
  const bytes = new Uint8Array(frame.allocationSize())
  const [luma, blue, red] = await frame.copyTo(bytes)
  const planeAt = ({ offset }: PlaneLayout) => bytes.subarray(offset)
  const small = shrink(planeAt(luma), luma.stride, { width, height }, factor)
  if (!withColours || !HALVED.test(frame.format)) return { luma: small, blue: null, red: null }
  const half = { width: width >> 1, height: height >> 1 }
  // The colours are interleaved in one plane, or in two planes.
  const colour = (plane: Uint8Array, stride: number) => shrink(plane, stride, half, factor, red ? 1 : 2)
  return {
    luma: small,
    blue: colour(planeAt(blue), blue.stride),
    red: red ? colour(planeAt(red), red.stride) : colour(planeAt(blue).subarray(1), blue.stride),
  }
}

/** Returns the brightness of a decoded frame in full size. */
export async function wholeLumaOf(frame: VideoFrame): Promise<Luma> {
  if (!frame.format || !PLAIN.test(frame.format)) return drawnSmall(frame, 1).luma
  const { width, height } = frame.visibleRect!
  const bytes = new Uint8Array(frame.allocationSize())
  const [{ offset, stride }] = await frame.copyTo(bytes)
  return shrink(bytes.subarray(offset), stride, { width, height }, 1)
}

/** Reduces a frame by drawing it: for other pixel formats. */
function drawnSmall(frame: VideoFrame, factor: number): SmallPicture {
  const { width: wide, height: high } = frame.visibleRect!
  const [width, height] = [Math.max(1, Math.floor(wide / factor)), Math.max(1, Math.floor(high / factor))]
  const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true })!
  context.drawImage(frame, 0, 0, width, height)
  const { data } = context.getImageData(0, 0, width, height)
  const chroma = chromaOfColours({ x: 0, y: 0, width, height, data: new Uint8Array(data.buffer) })
  const colour = (plane: Uint8Array): Luma => ({ width: chroma.width, height: chroma.height, data: plane })
  return { luma: lumaOfColours(data, width, height), blue: colour(chroma.blue), red: colour(chroma.red) }
}
