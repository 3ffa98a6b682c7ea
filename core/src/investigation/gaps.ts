import type { UsedFrames } from '../time/index.ts'
import { indexOfFrame } from './byFrame.ts'
import type { Body } from './document/bodies.ts'
import { framesOf } from './rests.ts'

/** A row of frames in use in which a body that was followed has no mark, between two marks. */
export interface Gap {
  /** First and last of them, and how many. */
  from: number
  to: number
  count: number
}

/** Kept by the marks, with the frames that were in use. */
const known = new WeakMap<object, { used: UsedFrames; gaps: Gap[] }>()

/**
 * Returns the gaps that following has left, in order: where of two marks beside each other at least one was followed, and frames
 * in use lie between them. What a hand has left out is none.
 */
export function gapsOf(body: Pick<Body, 'marks'>, used: UsedFrames): Gap[] {
  const kept = known.get(body.marks)
  if (kept?.used === used) return kept.gaps
  const gaps: Gap[] = []
  const frames = framesOf(body)
  for (let i = 1; i < frames.length; i++) {
    const [before, after] = [frames[i - 1], frames[i]]
    const mark = body.marks[before]
    if (after - before < 2 || (mark.by !== 'follow' && body.marks[after].by !== 'follow')) continue
    const first = indexOfFrame(used.list, (mark.until ?? before) + 1)
    const end = indexOfFrame(used.list, after)
    if (end > first) gaps.push({ from: used.list[first], to: used.list[end - 1], count: end - first })
  }
  known.set(body.marks, { used, gaps })
  return gaps
}
