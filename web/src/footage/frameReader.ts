import * as Comlink from 'comlink'
import { VideoSample } from 'mediabunny'
import type { ClipFacts } from './facts.ts'
import type { Reader, ReadFrame } from './reader.worker.ts'

/** Number of frames decoded ahead of the current one. */
const AHEAD = 4

/** Whole frames of a clip, decoded in another thread while earlier ones are processed in this one. */
export class FrameReader {
  private runs = 0

  private constructor(
    private readonly reader: Comlink.Remote<Reader>,
    readonly facts: ClipFacts,
    /** Time of every frame in the container's seconds. */
    readonly seconds: Float64Array,
  ) {}

  /** Opens a clip from a local file or from the server. It stays open as long as the calling thread. */
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
   * Iterates over frames, each valid until the next is requested; ends before the first that can't be decoded.
   *
   * @param frames indices in increasing order
   */
  async *through(frames: number[]): AsyncGenerator<{ index: number; sample: VideoSample }, void, unknown> {
    const run = ++this.runs
    await this.reader.begin(run, frames)
    const coming: Promise<ReadFrame | null>[] = []
    const ask = () => {
      const next = this.reader.next(run)
      // A rejection is handled when the frame's turn comes.
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

  /** Returns one frame, to be closed by the caller; null if it can't be decoded. */
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
