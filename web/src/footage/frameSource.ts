import { nearestFrame } from '@apokinema/core/time'
import { type VideoSample, VideoSampleSink } from 'mediabunny'
import type { OpenClip } from './facts.ts'

/** Number of frames before a wanted one that are kept when they are decoded on the way. */
const KEEP_BEFORE = 24

/** A decoded picture, copied so that the decoder's frame is released at once. */
interface Kept {
  data: ArrayBuffer | ImageBitmap
  init: VideoFrameBufferInit | VideoFrameInit
  bytes: number
}

/** A wanted frame, and the least width of its picture in pixels. */
export interface Wanted {
  index: number
  width: number
}

/** Returns why a frame has no picture, for people: a decoder's error message helps nobody. */
const troubleOf = (index: number, error: Error) =>
  error.name === 'EncodingError'
    ? `Frame ${index} can’t be decoded in this browser: the video is damaged there.`
    : error.message

/** Receives pictures as they are ready; a frame that can't be decoded comes as null with a message. */
export type TakePicture = (index: number, picture: ImageBitmap | null, failure: string | null) => void

/**
 * Decodes wanted frames in the order of their urgency, and hands over each as an upright picture. The list
 * can change at any time: decoding of a frame that is no longer wanted is aborted.
 * Decoded pictures near the most urgent frame are cached, limited in bytes.
 */
export class FrameSource {
  private readonly sink: VideoSampleSink
  private readonly cache = new Map<number, Kept>()
  private bytes = 0
  private cursor = 0
  private wanted: Wanted[] = []
  private working = false
  /** The running decoder, and the index of its next frame. */
  private run: { samples: AsyncGenerator<VideoSample, void, unknown>; next: number } | null = null

  /** @param mostBytes memory for the cached pictures */
  constructor(
    private readonly clip: OpenClip,
    private mostBytes: number,
    private readonly take: TakePicture,
  ) {
    this.sink = new VideoSampleSink(clip.track)
  }

  /** Replaces the list of wanted frames, most urgent first. */
  want(wanted: Wanted[]): void {
    this.wanted = wanted
    this.cursor = wanted[0]?.index ?? this.cursor
    if (!this.working) void this.work()
  }

  /** Sets the memory for the cached pictures in bytes. */
  limitTo(bytes: number): void {
    this.mostBytes = bytes
    this.giveUp(this.cursor)
  }

  private async work(): Promise<void> {
    this.working = true
    while (this.wanted.length > 0) {
      const [{ index, width }] = this.wanted
      try {
        const kept = this.cache.get(index) ?? (await this.decode(index))
        if (kept) this.take(index, upright(kept, this.clip, width), null)
      } catch (error) {
        this.take(index, null, troubleOf(index, error as Error))
      }
      this.wanted = this.wanted.filter((frame) => frame.index !== index || frame.width > width)
    }
    this.working = false
  }

  /** Decodes a frame; null if it was aborted. */
  private async decode(index: number): Promise<Kept | null> {
    const key = this.clip.keys.findLast((frame) => frame <= index) ?? 0
    // Continuing is as fast as restarting, unless a key frame lies between.
    if (!this.run || index < this.run.next || key > this.run.next) await this.startAt(key)
    const keepFrom = index - this.roomBefore()
    while (this.run) {
      if (!this.wanted.some((frame) => frame.index === index)) return null
      const [at, kept] = await this.step(keepFrom)
      if (at === index && kept) return kept
      if (at > index) break
    }
    throw new DOMException('', 'EncodingError')
  }

  /** Returns how many pictures before a decoded one are cached for steps back: copying takes time, so not all that fit are. */
  private roomBefore(): number {
    const { width, height } = this.clip.facts
    return Math.min(KEEP_BEFORE, Math.floor(this.mostBytes / 2 / (width * height * 1.5)))
  }

  private async startAt(key: number): Promise<void> {
    await this.run?.samples.return()
    this.run = { samples: this.sink.samples(this.clip.seconds[key]), next: key }
  }

  /** Decodes one more frame, and caches it from `keepFrom` on. Ends the run at the end of the clip. */
  private async step(keepFrom: number): Promise<[number, Kept | null]> {
    const run = this.run!
    const { value: sample, done } = await run.samples.next().catch((error) => {
      this.run = null
      throw error
    })
    if (done || !sample) {
      this.run = null
      return [Number.POSITIVE_INFINITY, null]
    }
    try {
      const at = nearestFrame(this.clip.seconds, sample.timestamp)
      run.next = at + 1
      if (at < keepFrom) return [at, null]
      const known = this.cache.get(at)
      if (known) return [at, known]
      const kept = await copyOut(sample)
      this.keep(at, kept)
      return [at, kept]
    } finally {
      sample.close()
    }
  }

  private keep(index: number, kept: Kept): void {
    this.cache.set(index, kept)
    this.bytes += kept.bytes
    this.giveUp(index)
  }

  /** Drops the cached pictures farthest from the cursor until the rest fits into the memory. */
  private giveUp(newest: number): void {
    while (this.bytes > this.mostBytes && this.cache.size > 1) {
      let farthest = newest
      for (const candidate of this.cache.keys())
        if (Math.abs(candidate - this.cursor) > Math.abs(farthest - this.cursor)) farthest = candidate
      const gone = this.cache.get(farthest)
      if (!gone) break
      this.bytes -= gone.bytes
      this.cache.delete(farthest)
      // The newest is still shown by its caller, even if it is not cached.
      if (farthest === newest) break
      if (gone.data instanceof ImageBitmap) gone.data.close()
    }
  }

  close(): void {
    this.wanted = []
    void this.run?.samples.return()
    this.clip.input.dispose()
  }
}

async function copyOut(sample: VideoSample): Promise<Kept> {
  const frame = sample.toVideoFrame()
  try {
    if (!frame.format) {
      // A picture in the decoder's own format can be drawn, but not copied.
      const bitmap = await createImageBitmap(frame)
      return { data: bitmap, init: { timestamp: frame.timestamp }, bytes: bitmap.width * bitmap.height * 4 }
    }
    const data = new ArrayBuffer(frame.allocationSize())
    const layout = await frame.copyTo(data)
    const visible = frame.visibleRect!
    const init: VideoFrameBufferInit = {
      format: frame.format,
      codedWidth: visible.width,
      codedHeight: visible.height,
      displayWidth: frame.displayWidth,
      displayHeight: frame.displayHeight,
      layout,
      colorSpace: frame.colorSpace.toJSON(),
      timestamp: frame.timestamp,
    }
    return { data, init, bytes: data.byteLength }
  } finally {
    frame.close()
  }
}

function frameOf({ data, init }: Kept): VideoFrame {
  return data instanceof ImageBitmap
    ? new VideoFrame(data, init as VideoFrameInit)
    : new VideoFrame(data, init as VideoFrameBufferInit)
}

/**
 * Returns the picture as it is displayed: in the screen's colour space, turned as the file states, with square pixels,
 * at the requested width but never wider than the original.
 */
function upright(kept: Kept, { facts }: OpenClip, wanted: number): ImageBitmap {
  const frame = frameOf(kept)
  try {
    const { rotation, flip } = facts
    const width = Math.min(facts.width, Math.max(1, Math.round(wanted)))
    const height = Math.max(1, Math.round((facts.height * width) / facts.width))
    const canvas = new OffscreenCanvas(width, height)
    const context = canvas.getContext('2d', { alpha: false })!
    context.translate(width / 2, height / 2)
    if (flip) context.scale(-1, 1)
    context.rotate((rotation * Math.PI) / 180)
    const [w, h] = rotation % 180 === 0 ? [width, height] : [height, width]
    context.drawImage(frame, -w / 2, -h / 2, w, h)
    return canvas.transferToImageBitmap()
  } finally {
    frame.close()
  }
}
