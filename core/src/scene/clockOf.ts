import type { Investigation } from '../investigation/index.ts'
import { type Clock, realClock } from '../time/index.ts'

/** The clip's clock with the real time of the frame that counts as time zero. */
export interface InvestigationClock extends Clock {
  /** Real seconds of time zero from the clip's first frame. */
  zero: number
}

/** Returns the time of a frame in seconds from time zero: of the last frame for later ones, 0 without a clock. */
export const timeOfFrame = (clock: InvestigationClock | null, frame: number): number =>
  clock ? clock.seconds[Math.min(frame, clock.seconds.length - 1)] - clock.zero : 0

/** Kept by the footage object, which an edit of anything else leaves as it is. */
const known = new WeakMap<object, { timing: object; clock: Clock; timed: InvestigationClock }>()

/** Returns the clock of an investigation's footage, in real time; null without footage. */
export function clockOf({ footage, timing, span }: Investigation): InvestigationClock | null {
  if (!footage) return null
  const kept = known.get(footage)
  const clock = kept?.timing === timing ? kept.clock : realClock(footage.ticks, footage.timeBase, timing)
  const zero = clock.seconds[timing.zero ?? span.first] ?? 0
  if (kept?.clock === clock && kept.timed.zero === zero) return kept.timed
  const timed = { ...clock, zero }
  known.set(footage, { timing, clock, timed })
  return timed
}
