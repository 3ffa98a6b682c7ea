import { frameCount, leftOutFrames, type UsedFrames, usedFrames } from '../time/index.ts'
import type { Investigation } from './document/investigation.ts'

/** Kept by the span object, which an edit replaces; with it the repeats that the list was made for. */
const known = new WeakMap<object, { repeats: object | null; frames: UsedFrames }>()

/** Returns the frames in use of an investigation: those of its span, less the repeats that are left out. */
export function framesInUse({ span, timing, footage }: Investigation): UsedFrames {
  const { repeats } = timing
  const kept = known.get(span)
  if (kept && kept.repeats === repeats) return kept.frames
  const count = footage ? frameCount(footage.ticks) : 0
  const frames = usedFrames(span, leftOutFrames(repeats, count))
  known.set(span, { repeats, frames })
  return frames
}
