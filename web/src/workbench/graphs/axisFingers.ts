import { draggedLimits, type Limits } from '@apokinema/core/graphs'

/** Distance in pixels from which on an axis has been dragged. */
const DRAG_REACH = 2

/** A finger on an axis: its share of the axis (0 to 1) when the drag began and now, and the pixel where it came down. */
interface Finger {
  before: number
  now: number
  isMoved: boolean
  pixel: number
}

/** The fingers that drag an axis, and the limits from which they do. */
export class AxisFingers {
  private readonly fingers = new Map<number, Finger>()
  private began: Limits = { from: 0, to: 1 }

  get count(): number {
    return this.fingers.size
  }

  /** Returns the limits to which one or two fingers have dragged the axis. */
  limits(isLog: boolean): Limits {
    const two = [...this.fingers.values()].slice(0, 2)
    return draggedLimits(
      this.began,
      two.map(({ before }) => before),
      two.map(({ now }) => now),
      isLog,
    )
  }

  /** Adds a finger; from now on all of them drag the limits that are seen now. */
  add(pointer: number, share: number, pixel: number, seen: Limits): void {
    this.fingers.set(pointer, { before: share, now: share, isMoved: false, pixel })
    this.restart(seen)
  }

  /** Moves a finger; returns false if it is none of these. */
  move(pointer: number, share: number, pixel: number): boolean {
    const finger = this.fingers.get(pointer)
    if (!finger) return false
    finger.now = share
    finger.isMoved ||= Math.abs(pixel - finger.pixel) > DRAG_REACH
    return true
  }

  /** Removes a finger; returns whether it has dragged the axis, or null if it is none of these. */
  remove(pointer: number, isLog: boolean): { isMoved: boolean } | null {
    const finger = this.fingers.get(pointer)
    if (!finger) return null
    const seen = this.limits(isLog)
    this.fingers.delete(pointer)
    if (this.fingers.size > 0) this.restart(seen)
    for (const other of this.fingers.values()) other.isMoved ||= finger.isMoved
    return finger
  }

  clear(): void {
    this.fingers.clear()
  }

  private restart(seen: Limits): void {
    this.began = seen
    for (const finger of this.fingers.values()) finger.before = finger.now
  }
}
