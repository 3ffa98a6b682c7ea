/** The frames in use: the first, the last, and every n-th from the first on. */
export interface Span {
  first: number
  last: number
  every: number
}

/** Whether a frame is one of the span's. */
export function inSpan(span: Span, frame: number): boolean {
  return frame >= span.first && frame <= span.last && (frame - span.first) % span.every === 0
}

/** The span's frames in order. */
export function spanFrames(span: Span): number[] {
  const frames: number[] = []
  for (let frame = span.first; frame <= span.last; frame += span.every) frames.push(frame)
  return frames
}

/** A span forced into a clip of `frames` frames: whole numbers, first ≤ last, every ≥ 1. */
export function clampSpan(span: Span, frames: number): Span {
  const whole = (value: number, low: number, high: number) =>
    Math.min(high, Math.max(low, Number.isFinite(value) ? Math.round(value) : low))
  const first = whole(span.first, 0, frames - 1)
  const last = whole(span.last, first, frames - 1)
  return { first, last, every: whole(span.every, 1, Math.max(1, last - first)) }
}

/**
 * The span's frame that `steps` steps lead to from any frame (negative: back). From between two
 * frames of the span the first step goes to the neighbour; beyond the ends it stays at the end.
 */
export function stepInSpan(span: Span, frame: number, steps: number): number {
  const position = (frame - span.first) / span.every
  const from = steps > 0 ? Math.floor(position) : Math.ceil(position)
  const count = Math.floor((span.last - span.first) / span.every)
  return span.first + Math.min(count, Math.max(0, from + steps)) * span.every
}
