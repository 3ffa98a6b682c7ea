/** The frames in use: the first, the last, and every n-th from the first on. */
export interface Span {
  first: number
  last: number
  every: number
}

/** Frames of a span that are in use: those that repeat the one before may be left out. */
export interface UsedFrames {
  list: number[]
  has(frame: number): boolean
  /**
   * Returns the frame in use that `steps` steps lead to from any frame (negative: back). From between two of
   * them the first step goes to the neighbour; beyond the ends it stays at the end.
   */
  step(frame: number, steps: number): number
}

/** Returns the frames in use of a span. */
export function usedFrames(span: Span, leftOut: ReadonlySet<number> = new Set()): UsedFrames {
  const list: number[] = []
  for (let frame = span.first; frame <= span.last; frame += span.every)
    if (!leftOut.has(frame)) list.push(frame)
  // A span of nothing but repeats still has a frame to stand on.
  if (list.length === 0) list.push(span.first)
  const has = (frame: number) =>
    frame >= span.first &&
    frame <= span.last &&
    (frame - span.first) % span.every === 0 &&
    !leftOut.has(frame)
  const step = (frame: number, steps: number) => {
    let low = 0
    let high = list.length
    while (low < high) {
      const middle = (low + high) >> 1
      if (list[middle] < frame) low = middle + 1
      else high = middle
    }
    // `low` is the first that is not before the frame; going on from between two, that is the first step already.
    const from = list[low] === frame || steps < 0 ? low : low - 1
    return list[Math.min(list.length - 1, Math.max(0, from + steps))]
  }
  return { list, has, step }
}

/** Returns a span forced into a clip of `frames` frames: whole numbers, first ≤ last, every ≥ 1. */
export function clampSpan(span: Span, frames: number): Span {
  const whole = (value: number, low: number, high: number) =>
    Math.min(high, Math.max(low, Number.isFinite(value) ? Math.round(value) : low))
  const first = whole(span.first, 0, frames - 1)
  const last = whole(span.last, first, frames - 1)
  return { first, last, every: whole(span.every, 1, Math.max(1, last - first)) }
}

/** Marks a person likes to set by hand at most, and the fewest that a fit should rest on. */
const COMFORTABLE = 30
const FEWEST = 10
/** A step should move a body by at least this many mark errors, or its velocity is mostly noise. */
const CLEAR_STEP = 4

/**
 * Returns every how many frames to mark: as many marks as are set in a few minutes, further apart where the body
 * hardly moves from frame to frame, but never fewer than ten.
 *
 * @param frames in the span
 * @param speed of the body in pixels a frame, or null where it is not known
 * @param markError of the body in pixels
 */
export function proposedStep(frames: number, speed: number | null, markError = 0.5): number {
  const comfortable = Math.ceil(frames / COMFORTABLE)
  const clear = speed && speed > 0 ? Math.ceil((CLEAR_STEP * markError) / speed) : 1
  const most = Math.max(1, Math.floor((frames - 1) / (FEWEST - 1)))
  return Math.min(most, Math.max(comfortable, clear, 1))
}
