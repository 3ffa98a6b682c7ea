/**
 * Records that are keyed by frame, such as the marks of a body. JavaScript copies and lists an object with thousands of
 * numbered keys slowly (300 ms for 100,000), so their frames are kept as a list, by which they are copied in a few
 * milliseconds.
 */

type ByFrame<T = unknown> = Readonly<Record<string, T>>

/** Only of frozen records, which never change. */
const known = new WeakMap<object, readonly number[]>()

/** Returns the frames that a record has an entry for, increasing. */
export function framesIn(record: ByFrame): readonly number[] {
  const kept = known.get(record)
  if (kept) return kept
  const keys = Object.keys(record)
  const frames = keys.map(Number).sort((a, b) => a - b)
  if (Object.isFrozen(record) && keys.every(isFrameKey)) known.set(record, frames)
  return frames
}

/** Returns the index of the first frame of an increasing list that is not below a frame; the list's length where there is none. */
export function indexOfFrame(frames: readonly number[], frame: number): number {
  let [low, high] = [0, frames.length]
  while (low < high) {
    const middle = (low + high) >> 1
    if (frames[middle] < frame) low = middle + 1
    else high = middle
  }
  return low
}

/** Returns true if a frozen object is a record by frame with so many entries that it is worth copying by its frames. */
export function isLargeByFrame(record: object): boolean {
  // Numbered keys come before all others.
  for (const first in record) {
    if (!isFrameKey(first)) return false
    break
  }
  return framesIn(record as ByFrame).length > SMALL && known.has(record)
}

/** Entries up to which a record is copied as any other object. */
const SMALL = 200

/** Returns true if all keys of a record are numbers of frames. */
export const hasFrameKeys = (record: object) => known.has(record) || Object.keys(record).every(isFrameKey)

/** Returns true if a key is the number of a frame as JSON writes it. */
export const isFrameKey = (key: string) => /^(0|[1-9]\d{0,8})$/.test(key)

/** A copy of a record by frame that is being changed, with the frames that it has. */
export class DraftByFrame {
  readonly record: Record<string, unknown> = {}
  /** Frames of the original, and of entries that were added. */
  private readonly before: readonly number[]
  private readonly added: number[] = []
  private hasLost = false

  constructor(from: ByFrame) {
    this.before = framesIn(from)
    for (const frame of this.before) this.record[frame] = from[frame]
  }

  set(frame: number, entry: unknown): void {
    if (!Object.hasOwn(this.record, frame)) this.added.push(frame)
    this.record[frame] = entry
  }

  delete(frame: number): void {
    this.hasLost ||= Object.hasOwn(this.record, frame)
    delete this.record[frame]
  }

  /** Ends the changes: the record is frozen. */
  end(): void {
    const all = this.added.length > 0 ? [...this.before, ...this.added].sort((a, b) => a - b) : this.before
    Object.freeze(this.record)
    // What was removed and added again is there twice.
    const frames = this.hasLost
      ? all.filter((frame, i) => frame !== all[i - 1] && Object.hasOwn(this.record, frame))
      : all
    known.set(this.record, frames)
  }
}
