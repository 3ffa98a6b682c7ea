import * as Comlink from 'comlink'
import type { Decoder } from './decoder.worker.ts'

/** So many frames ready ahead are enough not to be disturbed by fetching more, until the steps pause. */
const ENOUGH = 6
const PAUSE = 150

/**
 * Pictures of the frames around the current one, ready to be drawn, limited in bytes. A step to a
 * neighbour is drawn at once; what is missing is asked of the decoder, the most urgent frame first.
 */
export class Pictures {
  private readonly kept = new Map<number, ImageBitmap>()
  private readonly troubles = new Map<number, string>()
  private readonly listeners = new Set<() => void>()
  private cursor = 0
  private shown = -1
  /** Grows with everything that arrives, so that it can be watched. */
  private arrived = 0
  private readonly capacity: number
  private later: ReturnType<typeof setTimeout> | undefined

  /** @param mostBytes of pictures that are kept; at least three are, however large */
  constructor(
    private readonly decoder: Comlink.Remote<Decoder>,
    private readonly picture: { width: number; height: number },
    mostBytes: number,
  ) {
    this.capacity = Math.max(3, Math.floor(mostBytes / (picture.width * picture.height * 4)))
    void decoder.deliverTo(
      Comlink.proxy((index: number, image: ImageBitmap | null, trouble: string | null) =>
        this.take(index, image, trouble),
      ),
      mostBytes / 2,
    )
  }

  get(index: number): ImageBitmap | undefined {
    return this.kept.get(index)
  }

  /** Why a frame has no picture, for the person. */
  trouble(index: number): string | null {
    return this.troubles.get(index) ?? null
  }

  /** Bytes of the pictures that are kept. */
  get bytes(): number {
    return this.kept.size * this.picture.width * this.picture.height * 4
  }

  /**
   * Asks for a frame, then for the ones ahead and behind it, as many as can be kept.
   *
   * @param ahead the next frames in the direction of travel, nearest first
   * @param behind the ones on the other side, nearest first
   */
  want(frame: number, ahead: number[], behind: number[]): void {
    this.cursor = frame
    const near = [
      ...ahead.slice(0, Math.floor((this.capacity - 1) * 0.6)),
      ...behind.slice(0, Math.floor((this.capacity - 1) * 0.35)),
    ]
    const missing = [frame, ...near].filter((index) => !this.kept.has(index) && !this.troubles.has(index))
    clearTimeout(this.later)
    const nextMissing = ahead.findIndex((index) => !this.kept.has(index))
    // While enough lies ready, a step has the machine to itself; the rest is fetched when it pauses.
    if (this.kept.has(frame) && (nextMissing < 0 || nextMissing >= ENOUGH)) {
      void this.decoder.want([])
      this.later = setTimeout(() => void this.decoder.want(missing), PAUSE)
    } else void this.decoder.want(missing)
  }

  /** Says which picture is on show: it is not given up. */
  show(index: number): void {
    this.shown = index
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  version = (): number => this.arrived

  private take(index: number, image: ImageBitmap | null, trouble: string | null): void {
    if (trouble) this.troubles.set(index, trouble)
    this.kept.get(index)?.close()
    if (image) this.kept.set(index, image)
    while (this.kept.size > this.capacity) this.giveUp()
    this.arrived++
    for (const listener of this.listeners) listener()
  }

  /** Gives up the picture that is farthest from the current frame. */
  private giveUp(): void {
    let farthest = -1
    let distance = 0
    for (const candidate of this.kept.keys()) {
      const away = Math.abs(candidate - this.cursor)
      if (away <= distance || candidate === this.shown) continue
      farthest = candidate
      distance = away
    }
    this.kept.get(farthest)?.close()
    this.kept.delete(farthest)
  }

  close(): void {
    clearTimeout(this.later)
    for (const image of this.kept.values()) image.close()
    this.kept.clear()
    this.listeners.clear()
  }
}
