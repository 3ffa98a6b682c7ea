import * as Comlink from 'comlink'
import type { Decoder } from './decoder.worker.ts'
import type { Wanted } from './frameSource.ts'

/** Frames ready ahead above which no more are fetched until the steps pause. */
const ENOUGH = 6
const PAUSE = 150
/** Frames ahead and behind that are also kept at full resolution while details are looked at. */
const DETAILED = { ahead: 3, behind: 1 }

/** A picture that is ready to be drawn. */
interface Ready {
  image: ImageBitmap
  /** True if it was decoded from the footage, false for the still that stands in for it. */
  exact: boolean
}

/**
 * Pictures of the frames around the current one, ready to be drawn, limited in bytes. Their width is what
 * the stage needs, or the full width for the current frame while details are looked at. A step to a neighbour
 * is drawn at once; missing pictures are requested from the decoder, most urgent first. After a jump
 * a still is shown until the frame is decoded.
 */
export class Pictures {
  private readonly kept = new Map<number, Ready>()
  private readonly failures = new Map<number, string>()
  private readonly stills = new Map<number, Blob>()
  private readonly listeners = new Set<() => void>()
  private cursor = 0
  private near: { ahead: number[]; behind: number[] } = { ahead: [], behind: [] }
  private detailed = false
  /** The frame that is displayed; its picture is not dropped. */
  shown: number | undefined
  /** Whether the decoder has been asked for anything since it was last idle. */
  private asked = true
  /** Bytes of the cached pictures. */
  bytes = 0
  /** Increases with every picture that arrives, for subscribers. */
  private arrived = 0
  /** Bytes of the cached pictures. */
  private limit: number
  private later: ReturnType<typeof setTimeout> | undefined
  /** Whether the decoder may be gone. */
  private closed = false

  /**
   * @param width of pictures around the current one, in pixels; at most the full width
   * @param mostBytes memory for pictures; at least three are kept
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
   * Limits the memory for a while: long tasks on the film need the memory and the decoder.
   *
   * @param bytes memory for pictures; null restores the initial limit
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

  /** Returns why a frame has no picture, for people. */
  failure(index: number): string | null {
    return this.failures.get(index) ?? null
  }

  /**
   * Requests a frame, then as many ahead and behind as fit into the memory.
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

  /** Requests nothing more until a frame is wanted again. */
  rest(): void {
    clearTimeout(this.later)
    this.asked = false
    if (!this.closed) void this.decoder.want([])
  }

  /** Sets whether details are looked at: then the current frame and its neighbours are needed at full resolution. */
  showDetails(detailed: boolean): void {
    if (detailed === this.detailed) return
    this.detailed = detailed
    this.ask()
  }

  /** Returns the number of stills, from the first frame on. */
  get stillCount(): number {
    return this.stills.size
  }

  /** Adds a small still of a frame, to be shown after a jump until its picture is decoded. */
  addStill(index: number, still: Blob): void {
    this.stills.set(index, still)
    this.changed()
    if (index === this.cursor && !this.kept.has(index)) void this.standIn(index)
  }

  /** Sets the picture that is displayed: it is not dropped. */
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
    // While enough pictures are ready, nothing is fetched, so that steps stay fast; the rest is fetched when they pause.
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

  /** Drops the pictures farthest from the current one until the rest fits into the memory. */
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

  /** Returns the frame farthest from the current one among those that can be dropped. */
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
    this.closed = true
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
