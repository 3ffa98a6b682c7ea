import { type Body, restOver } from '@apokinema/core/investigation'

/** Direction in which a body is followed from a frame: to the end of the span, to its beginning, or first on, then back. */
export type FollowWay = 'on' | 'back' | 'both'

/**
 * Returns the way that a body is followed from a frame unless a person chooses another. From the middle of the span it
 * is followed both ways, unless a frame beside the start is marked already: then a run is being continued or repeated.
 *
 * @param frames in use, increasing; `start` is one of them
 */
export function defaultWay(
  { marks }: Pick<Body, 'marks'>,
  frames: readonly number[],
  start: number,
): FollowWay {
  const at = frames.indexOf(start)
  const [before, after] = [frames[at - 1], frames[at + 1]]
  const isOpen = (frame: number | undefined) => frame !== undefined && restOver(marks, frame) === null
  if (after === undefined && before !== undefined) return 'back'
  return isOpen(before) && isOpen(after) ? 'both' : 'on'
}

/** Returns the frames of one direction from a frame, in order. */
export function framesAlong(way: 'on' | 'back', frames: readonly number[], start: number): number[] {
  return way === 'on'
    ? frames.filter((frame) => frame > start)
    : frames.filter((frame) => frame < start).reverse()
}
