import { isPhotoData } from '@apokinema/core/investigation'
import { canvasBlob } from '../../../common/canvasBlob.ts'

/** Longest side of a picture that is kept in the document, in pixels: 300 to the inch over a page's width are not needed for a photo. */
const MOST_SIDE = 1400
/** JPEG qualities that are tried until a picture is small enough. */
const QUALITIES = [0.88, 0.75, 0.6, 0.4]

const asDataUrl = (blob: Blob) =>
  new Promise<string>((resolve, reject) => {
    const reader = new FileReader()
    reader.onload = () => resolve(reader.result as string)
    reader.onerror = () => reject(reader.error ?? new Error('The picture can’t be read.'))
    reader.readAsDataURL(blob)
  })

/** Returns a size with the same shape whose longer side is at most a number of pixels. */
function within({ width, height }: { width: number; height: number }, most: number) {
  const scale = Math.min(1, most / Math.max(width, height))
  return { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) }
}

/** Returns a picture as a data URL that a document can keep, made smaller if need be; null if it can't be decoded. */
export async function photoData(picture: Blob | ImageBitmap): Promise<string | null> {
  const image = picture instanceof Blob ? await createImageBitmap(picture).catch(() => null) : picture
  if (!image) return null
  const canvas = document.createElement('canvas')
  Object.assign(canvas, within(image, MOST_SIDE))
  const context = canvas.getContext('2d')
  if (!context) return null
  // A picture with transparent parts is on paper.
  context.fillStyle = '#FFFFFF'
  context.fillRect(0, 0, canvas.width, canvas.height)
  context.drawImage(image, 0, 0, canvas.width, canvas.height)
  image.close()
  for (const quality of QUALITIES) {
    const blob = await canvasBlob(canvas, 'image/jpeg', quality)
    const data = blob && (await asDataUrl(blob))
    if (data && isPhotoData(data)) return data
  }
  return null
}
