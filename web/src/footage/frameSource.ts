import { nearestFrame } from '@apokinema/core/time'
import { EncodedPacketSink, type VideoSample, VideoSampleSink } from 'mediabunny'
import type { OpenClip } from './facts.ts'

/** Bytes of decoded pictures that are kept around the cursor. */
const CACHE_BYTES = 256 * 1024 * 1024
/** A frame this far ahead of the decoder is reached by decoding on; a farther one from its own key frame. */
const DECODE_ON = 48
/** Frames that are decoded ahead when nothing is asked for. */
const READ_AHEAD = 16

/** One decoded picture, copied out so that the decoder's own is given back at once. */
interface Kept {
  data: ArrayBuffer | ImageBitmap
  init: VideoFrameBufferInit | VideoFrameInit
  bytes: number
}

/** Answers "frame i" exactly, with a cache around the last asked frame that is limited in bytes. */
export class FrameSource {
  private readonly sink: VideoSampleSink
  private readonly packets: EncodedPacketSink
  private readonly cache = new Map<number, Kept>()
  private bytes = 0
  private cursor = 0
  /** The running decoder, and the frame that it gives next. */
  private run: { samples: AsyncGenerator<VideoSample, void, unknown>; next: number } | null = null
  private turn: Promise<unknown> = Promise.resolve()
  private asked = 0

  constructor(private readonly clip: OpenClip) {
    this.sink = new VideoSampleSink(clip.track)
    this.packets = new EncodedPacketSink(clip.track)
  }

  /** The picture of a frame; the caller closes it. Rejects where it can't be decoded. */
  async frame(index: number): Promise<VideoFrame> {
    this.asked++
    this.cursor = index
    const kept = this.cache.get(index)
    if (kept) {
      this.readAhead()
      return picture(kept)
    }
    const found = await this.inTurn(() => this.decode(index))
    this.readAhead()
    return picture(found)
  }

  /** Decoding is one at a time: requests wait for each other. */
  private inTurn<T>(work: () => Promise<T>): Promise<T> {
    const result = this.turn.then(work, work)
    this.turn = result.catch(() => {})
    return result
  }

  private async decode(index: number): Promise<Kept> {
    const ready = this.cache.get(index)
    if (ready) return ready
    if (!this.run || index < this.run.next || index > this.run.next + DECODE_ON) await this.startBefore(index)
    while (this.run) {
      const [at, kept] = await this.step()
      if (at === index && kept) return kept
      if (at > index) break
    }
    throw new Error(`Frame ${index} can't be decoded; the others are not affected.`)
  }

  private async startBefore(index: number): Promise<void> {
    await this.run?.samples.return()
    const time = this.clip.seconds[index]
    // A hair later, so that rounding of the time can't lead to the key frame before.
    const key = await this.packets.getKeyPacket(time + 1e-6, { metadataOnly: true })
    const start = Math.min(key?.timestamp ?? 0, time)
    this.run = { samples: this.sink.samples(start), next: nearestFrame(this.clip.seconds, start) }
  }

  /** Decodes one more frame and keeps it; ends the run at the end of the clip. */
  private async step(): Promise<[number, Kept | null]> {
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
    while (this.bytes > CACHE_BYTES && this.cache.size > 1) {
      let farthest = index
      for (const candidate of this.cache.keys())
        if (Math.abs(candidate - this.cursor) > Math.abs(farthest - this.cursor)) farthest = candidate
      if (farthest === index && Math.abs(index - this.cursor) < 2) break
      const gone = this.cache.get(farthest)!
      if (gone.data instanceof ImageBitmap) gone.data.close()
      this.bytes -= gone.bytes
      this.cache.delete(farthest)
      if (farthest === index) break
    }
  }

  /** Decodes on behind the cursor while nothing else is asked for. */
  private readAhead(): void {
    const asked = this.asked
    void this.inTurn(async () => {
      for (let ahead = 1; ahead <= READ_AHEAD && asked === this.asked && this.run; ahead++) {
        const { next } = this.run
        if (next <= this.cursor || next > this.cursor + READ_AHEAD) break
        await this.step()
      }
    }).catch(() => {
      // A frame that can't be decoded is reported when it is asked for.
    })
  }

  close(): void {
    void this.run?.samples.return()
    this.clip.input.dispose()
  }
}

async function copyOut(sample: VideoSample): Promise<Kept> {
  const frame = sample.toVideoFrame()
  try {
    if (!frame.format) {
      // A picture in the decoder's own form can only be drawn, not copied.
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

function picture({ data, init }: Kept): VideoFrame {
  return data instanceof ImageBitmap
    ? new VideoFrame(data, init as VideoFrameInit)
    : new VideoFrame(data, init as VideoFrameBufferInit)
}
