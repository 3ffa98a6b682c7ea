import { framesIn, indexOfFrame } from './byFrame.ts'
import type { Body } from './document/bodies.ts'

/** Returns the frames of a body's marks, increasing. */
export const framesOf = ({ marks }: Pick<Body, 'marks'>): readonly number[] => framesIn(marks)

/** Returns the frame whose mark holds for a frame: its own, or that of a rest that reaches over it; null for none. */
export function restOver(marks: Body['marks'], frame: number): number | null {
  if (frame in marks) return frame
  // No rest reaches over another mark, so only the last one before can.
  const last = lastBefore(marks, frame)
  return last >= 0 && (marks[last].until ?? last) >= frame ? last : null
}

/** Frames that are looked at one by one for the mark before, before all marks are gone through. */
const CLOSE = 500

/** Returns the last frame before this one that has a mark of its own; -1 for none. */
function lastBefore(marks: Body['marks'], frame: number): number {
  if (Object.isFrozen(marks)) {
    const frames = framesIn(marks)
    return frames[indexOfFrame(frames, frame) - 1] ?? -1
  }
  // Mostly it is close by. To list the marks of a draft takes a second where there are thousands.
  for (let at = frame - 1; at >= Math.max(0, frame - CLOSE); at--) if (at in marks) return at
  let last = -1
  for (const key of Object.keys(marks)) {
    const at = Number(key)
    if (at < frame && at > last) last = at
  }
  return last
}

/** Returns all frames that have a mark: each mark's own, and those over which a rest reaches. */
export function markedFrames(marks: Body['marks']): Set<number> {
  const frames = new Set<number>()
  for (const [from, { until }] of Object.entries(marks))
    for (let frame = Number(from); frame <= (until ?? Number(from)); frame++) frames.add(frame)
  return frames
}
