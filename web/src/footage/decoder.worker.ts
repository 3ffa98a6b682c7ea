import { nearestFrame } from '@apokinema/core/time'
import * as Comlink from 'comlink'
import { VideoSampleSink } from 'mediabunny'
import { FootageError } from './FootageError.ts'
import { type ClipFacts, type OpenClip, openClip } from './facts.ts'
import { FrameSource, type TakePicture, type Wanted } from './frameSource.ts'
import { Rest } from './rest.ts'

/** A clip that can't be used; see FootageError. */
export interface Refused {
  refused: string
  convertible: boolean
}

let clip: OpenClip | null = null
let source: FrameSource | null = null
const rest = new Rest()

function opened(): OpenClip {
  if (!clip) throw new Error('No clip is open.')
  return clip
}

async function still(index: number, width: number): Promise<OffscreenCanvas | null> {
  const { track, seconds, facts } = opened()
  const sample = await new VideoSampleSink(track).getSample(seconds[index] + 1e-6)
  if (!sample) return null
  const canvas = new OffscreenCanvas(width, Math.max(1, Math.round((width * facts.height) / facts.width)))
  sample.draw(canvas.getContext('2d')!, 0, 0, canvas.width, canvas.height)
  sample.close()
  return canvas
}

/** API of the decoding worker. Errors carry a message for people. */
const decoder = {
  /** Opens a clip and returns its facts, or why it can't be used: an error object would lose its fields between threads. */
  async open(from: Blob | string): Promise<ClipFacts | Refused> {
    source?.close()
    source = null
    try {
      clip = await openClip(from)
      return clip.facts
    } catch (error) {
      if (!(error instanceof FootageError)) throw error
      return { refused: error.message, convertible: error.convertible }
    }
  },

  /** Returns true if the clip's first frame can be decoded: a file that is damaged at its start can have a sound index. */
  async beginsSound(): Promise<boolean> {
    const { track, seconds } = opened()
    try {
      const sample = await new VideoSampleSink(track).getSample(seconds[0] + 1e-6)
      sample?.close()
      return sample !== null && nearestFrame(seconds, sample.timestamp) === 0
    } catch {
      return false
    }
  },

  /** Sets the receiver of decoded pictures, and the memory for them in bytes. */
  deliverTo(take: TakePicture, mostBytes: number): void {
    source = new FrameSource(opened(), mostBytes, (index, picture, failure) =>
      take(index, picture && Comlink.transfer(picture, [picture]), failure),
    )
  },

  /** Sets the memory for decoded pictures in bytes. */
  limitTo(bytes: number): void {
    source?.limitTo(bytes)
  },

  /** Replaces the list of wanted frames, most urgent first. */
  want(frames: Wanted[]): void {
    source?.want(frames)
  },

  /** Decodes small pictures of some frames in order, and hands over each as soon as it is ready. */
  async film(
    indices: number[],
    height: number,
    onPicture: (index: number, picture: ImageBitmap) => void,
  ): Promise<void> {
    const { track, seconds, facts } = opened()
    const width = Math.max(1, Math.round((height * facts.width) / facts.height))
    const times = indices.map((index) => seconds[index] + 1e-6)
    let at = 0
    for await (const sample of new VideoSampleSink(track).samplesAtTimestamps(times)) {
      const index = indices[at++]
      if (!sample) continue
      const canvas = new OffscreenCanvas(width, height)
      sample.draw(canvas.getContext('2d')!, 0, 0, width, height)
      sample.close()
      const bitmap = canvas.transferToImageBitmap()
      onPicture(index, Comlink.transfer(bitmap, [bitmap]))
      await rest.over()
    }
  },

  /** Pauses the film strip for a number of milliseconds. */
  hold(milliseconds: number): void {
    rest.hold(milliseconds)
  },

  /** Returns a small JPEG of a frame, for the list of investigations. */
  async poster(index: number): Promise<Blob | null> {
    return (await still(index, 640))?.convertToBlob({ type: 'image/jpeg', quality: 0.8 }) ?? null
  },
}

export type Decoder = typeof decoder

Comlink.expose(decoder)
