import * as Comlink from 'comlink'
import { VideoSample } from 'mediabunny'
import type { ClipFacts } from './facts.ts'
import type { Reader, ReadFrame } from './reader.worker.ts'

/** Frames that are decoded ahead of the one that is worked on. */
const AHEAD = 4

/** Whole frames of a clip, decoded in a thread of their own while the frames before are worked on in this one. */
export class FrameReader {
  private runs = 0

  private constructor(
    private readonly reader: Comlink.Remote<Reader>,
    readonly facts: ClipFacts,
    /** Time of every frame in the container's seconds. */
    readonly seconds: Float64Array,
  ) {}

  /** Opens a clip from a local file or from the server. It is open for as long as the thread that called lives. */
  static async open(from: Blob | string): Promise<FrameReader> {
    const worker = new Worker(new URL('./reader.worker.ts', import.meta.url), {
      type: 'module',
      name: 'reader',
    })
    const reader = Comlink.wrap<Reader>(worker)
    const { facts, seconds } = await reader.open(from)
    return new FrameReader(reader, facts, seconds)
  }

  /**
   * Goes through frames and lends each out until the next is asked for; ends before the first that can't be decoded.
   *
   * @param frames by index, all growing
   */
  async *through(frames: number[]): AsyncGenerator<{ index: number; sample: VideoSample }, void, unknown> {
    const run = ++this.runs
    await this.reader.begin(run, frames)
    const coming: Promise<ReadFrame | null>[] = []
    const ask = () => {
      const next = this.reader.next(run)
      // It is looked at when its turn comes.
      next.catch(() => {})
      coming.push(next)
    }
    for (let k = 0; k < AHEAD; k++) ask()
    try {
      for (let read = await coming.shift(); read; read = await coming.shift()) {
        ask()
        const sample = this.sampleOf(read)
        try {
          yield { index: read.index, sample }
        } finally {
          sample.close()
        }
      }
    } finally {
      void this.reader.end(run)
      for (const left of coming) left.then((read) => read?.frame.close()).catch(() => {})
    }
  }

  /** Returns one frame by itself, to be closed by whoever asked; null where it can't be decoded. */
  async single(index: number): Promise<VideoSample | null> {
    const read = await this.reader.single(index)
    return read && this.sampleOf(read)
  }

  private sampleOf({ frame }: ReadFrame): VideoSample {
    return new VideoSample(frame, {
      rotation: this.facts.rotation as 0 | 90 | 180 | 270,
      flip: this.facts.flip,
    })
  }
}
