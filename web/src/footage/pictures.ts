import * as Comlink from 'comlink'
import type { Decoder } from './decoder.worker.ts'
import type { Wanted } from './frameSource.ts'

/** So many frames ready ahead are enough not to be disturbed by fetching more, until the steps pause. */
const ENOUGH = 6
const PAUSE = 150
/** Where details are looked at, so many frames ahead and behind are kept in full, too. */
const DETAILED = { ahead: 3, behind: 1 }

/** A picture that is ready to be drawn. */
interface Ready {
  image: ImageBitmap
  /** Whether it was decoded from the footage for this, and is not the still that stands in for it. */
  exact: boolean
}

/**
 * Pictures of the frames around the current one, ready to be drawn, limited in bytes. They are as wide as
 * the stage needs, and whole for the current frame where somebody looks at details. A step to a neighbour
 * is drawn at once; what is missing is asked of the decoder, the most urgent frame first. On a jump far
 * away a still stands in until the decoder has got there.
 */
export class Pictures {
  private readonly kept = new Map<number, Ready>()
  private readonly failures = new Map<number, string>()
  private readonly stills = new Map<number, Blob>()
  private readonly listeners = new Set<() => void>()
  private cursor = 0
  private near: { ahead: number[]; behind: number[] } = { ahead: [], behind: [] }
  private detailed = false
  /** The frame whose picture is on show; it is not given up. */
  shown: number | undefined
  /** Whether the decoder has been asked for anything since it was last left in peace. */
  private asked = true
  /** Bytes of the pictures that are kept. */
  bytes = 0
  /** Grows with everything that arrives, so that it can be watched. */
  private arrived = 0
  /** Bytes of pictures that are kept now. */
  private limit: number
  private later: ReturnType<typeof setTimeout> | undefined

  /**
   * @param width of pictures around the current one, in pixels; the whole picture's at most
   * @param mostBytes of pictures that are kept; at least three are, however large
   */
  constructor(
    private readonly decoder: Comlink.Remote<Decoder>,
    private readonly picture: { width: number; height: number },
    readonly width: number,
    private readonly mostBytes: number,
  ) {
    void decoder.deliverTo(
      Comlink.proxy((index: number, image: ImageBitmap | null, failure: string | null) =>
        this.take(index, image && { image, exact: true }, failure),
      ),
      mostBytes / 2,
    )
    this.limit = mostBytes
  }

  /**
   * Keeps less for a while: whoever works through the film needs the memory and the decoder.
   *
   * @param bytes of pictures that are kept; null: as many as at first
   */
  limitTo(bytes: number | null): void {
    const limit = Math.min(bytes ?? this.mostBytes, this.mostBytes)
    if (limit === this.limit) return
    this.limit = limit
    void this.decoder.limitTo(limit / 2)
    this.giveUpFarthest()
    this.ask()
  }

  get(index: number): Ready | undefined {
    return this.kept.get(index)
  }

  /** Returns why a frame has no picture, for the person. */
  failure(index: number): string | null {
    return this.failures.get(index) ?? null
  }

  /**
   * Asks for a frame, then for the ones ahead and behind it, as many as can be kept.
   *
   * @param ahead the next frames in the direction of travel, nearest first
   * @param behind the ones on the other side, nearest first
   */
  want(frame: number, ahead: number[], behind: number[]): void {
    this.cursor = frame
    this.near = { ahead, behind }
    this.ask()
    if (!this.kept.has(frame)) void this.standIn(frame)
  }

  /** Says whether details are looked at: then the current frame and its neighbours are wanted whole. */
  showDetails(detailed: boolean): void {
    if (detailed === this.detailed) return
    this.detailed = detailed
    this.ask()
  }

  /** Returns how many stills there are, from the first frame on. */
  get stillCount(): number {
    return this.stills.size
  }

  /** Takes a small still of a frame, to stand in for its picture after a jump. */
  addStill(index: number, still: Blob): void {
    this.stills.set(index, still)
    this.changed()
    if (index === this.cursor && !this.kept.has(index)) void this.standIn(index)
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

  private ask(): void {
    const { ahead, behind } = this.near
    const each = (this.picture.height / this.picture.width) * this.width ** 2 * 4
    const room = Math.max(3, Math.floor(this.limit / each)) - 1
    const whole = this.detailed ? this.picture.width : this.width
    const wantedAs = (frames: number[], detailed: number): Wanted[] =>
      frames.map((index, i) => ({ index, width: i < detailed ? whole : this.width }))
    const missing = [
      ...wantedAs([this.cursor], 1),
      ...wantedAs(ahead.slice(0, Math.floor(room * 0.6)), DETAILED.ahead),
      ...wantedAs(behind.slice(0, Math.floor(room * 0.35)), DETAILED.behind),
    ].filter(({ index, width }) => !this.isReady(index, width) && !this.failures.has(index))
    clearTimeout(this.later)
    const nextMissing = ahead.findIndex((index) => !this.isReady(index, this.width))
    // While enough lies ready, a step has the machine to itself; the rest is fetched when it pauses.
    const waits = this.isReady(this.cursor, whole) && (nextMissing < 0 || nextMissing >= ENOUGH)
    if (waits)
      this.later = setTimeout(() => {
        this.asked = true
        void this.decoder.want(missing)
      }, PAUSE)
    if (waits && !this.asked) return
    this.asked = !waits
    void this.decoder.want(waits ? [] : missing)
  }

  private isReady(index: number, width: number): boolean {
    const ready = this.kept.get(index)
    return ready?.exact === true && ready.image.width >= width
  }

  private async standIn(index: number): Promise<void> {
    const still = this.stills.get(index)
    if (!still) return
    const image = await createImageBitmap(still)
    if (this.cursor === index && !this.kept.has(index)) this.take(index, { image, exact: false }, null)
    else image.close()
  }

  private take(index: number, ready: Ready | null, failure: string | null): void {
    if (failure) this.failures.set(index, failure)
    if (ready) {
      this.giveUp(index)
      this.kept.set(index, ready)
      this.bytes += bytesOf(ready)
    }
    this.giveUpFarthest()
    this.changed()
  }

  /** Gives up the pictures that are farthest from the current one until the rest may be kept. */
  private giveUpFarthest(): void {
    while (this.bytes > this.limit && this.kept.size > 3) {
      const farthest = this.farthest()
      if (farthest === null) break
      this.giveUp(farthest)
    }
  }

  private changed(): void {
    this.arrived++
    for (const listener of this.listeners) listener()
  }

  /** Returns the frame farthest from the current one of those that can be given up. */
  private farthest(): number | null {
    let farthest: number | null = null
    let distance = 0
    for (const candidate of this.kept.keys()) {
      const away = Math.abs(candidate - this.cursor)
      if (away <= distance || candidate === this.shown) continue
      farthest = candidate
      distance = away
    }
    return farthest
  }

  private giveUp(index: number): void {
    const ready = this.kept.get(index)
    if (!ready) return
    this.bytes -= bytesOf(ready)
    ready.image.close()
    this.kept.delete(index)
  }

  close(): void {
    clearTimeout(this.later)
    for (const { image } of this.kept.values()) image.close()
    this.kept.clear()
    this.stills.clear()
    this.listeners.clear()
  }
}

function bytesOf({ image }: Ready): number {
  return image.width * image.height * 4
}
