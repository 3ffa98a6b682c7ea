import { decodeTicks, type FrameTicks, type TimeBase } from './ticks.ts'

/** How the frames of a clip lie in time. All durations in seconds. */
export interface FrameTimes {
  /** Time of each frame in seconds, counted from the clip's first frame. */
  seconds: Float64Array
  /** Median frames per second; 0 for a single frame. */
  rate: number
  shortest: number
  median: number
  longest: number
  /** Whether an even clock explains every time (to a millionth of a frame, or to the tick's rounding). */
  even: boolean
  /** Whether the even clock behind rounded ticks was used in place of the ticks. */
  dequantised: boolean
  /** What the file's times may have been rounded to; 0 where rounding has been seen through, or there is none. */
  rounding: number
}

/** Grains longer than this are too coarse to be taken for the times themselves. */
const COARSE_GRAIN = 0.0005
/** Frames that last one tick of this length or more keep to the camera's own rhythm: nothing was rounded to it. */
const RHYTHM = 0.002

/** Returns the largest number of ticks of which all steps from frame to frame are whole multiples; 1 for a single frame. */
function grainOf({ runs }: FrameTicks): number {
  return runs.reduce((grain, [step]) => greatestDivisor(grain, step), 0) || 1
}

function greatestDivisor(a: number, b: number): number {
  return b === 0 ? a : greatestDivisor(b, a % b)
}

/**
 * Returns the even clock that integer ticks were rounded from, or null where rounding does not explain their
 * jitter. A rounded even clock keeps within one tick of a straight line through its ticks; the line
 * is the least-squares one.
 */
function evenClock(ticks: Float64Array): { start: number; step: number } | null {
  const n = ticks.length
  if (n < 3) return null
  const middle = (n - 1) / 2
  let covariance = 0
  let variance = 0
  let mean = 0
  for (const tick of ticks) mean += tick / n
  for (let i = 0; i < n; i++) {
    covariance += (i - middle) * (ticks[i] - mean)
    variance += (i - middle) ** 2
  }
  const step = covariance / variance
  let low = Number.POSITIVE_INFINITY
  let high = Number.NEGATIVE_INFINITY
  for (let i = 0; i < n; i++) {
    const off = ticks[i] - mean - step * (i - middle)
    low = Math.min(low, off)
    high = Math.max(high, off)
  }
  // The least-squares line may lean a little against the clock's own: a twentieth of a tick is allowed for it.
  return high - low <= 1.05 ? { start: mean - step * middle, step } : null
}

/**
 * Times of a clip's frames from the file's own ticks. What counts is the grain that they have, which can be many ticks of
 * the base that the file states. Where it is coarse (half a millisecond or more, as in WebM), frames last two grains or
 * more, and an even clock explains their jitter by rounding alone, that clock is used. Frames that last one grain and now
 * and then two are no rounding: one was dropped there.
 */
export function frameTimes(code: FrameTicks, base: TimeBase): FrameTimes {
  const ticks = decodeTicks(code)
  const tick = base.numerator / base.denominator
  const grain = grainOf(code)
  const steps = Float64Array.from(ticks.subarray(1), (value, i) => value - ticks[i]).sort()
  const mayBeRounded = (steps[steps.length >> 1] ?? 0) >= 2 * grain
  const clock =
    code.runs.length > 1 && mayBeRounded && grain * tick >= COARSE_GRAIN
      ? evenClock(ticks.map((value) => value / grain))
      : null
  const seconds = Float64Array.from(
    ticks,
    (value, i) => ((clock ? i * clock.step * grain : value - code.first) * base.numerator) / base.denominator,
  )
  const lengths = Float64Array.from(seconds.subarray(1), (time, i) => time - seconds[i]).sort()
  const median = lengths.length ? lengths[lengths.length >> 1] : 0
  const shortest = lengths[0] ?? 0
  const longest = lengths.at(-1) ?? 0
  const even = longest - shortest <= median * 1e-6
  return {
    seconds,
    rate: median > 0 ? 1 / median : 0,
    shortest,
    median,
    longest,
    even,
    dequantised: clock !== null,
    rounding: even ? 0 : mayBeRounded ? grain * tick : tick < RHYTHM ? tick : 0,
  }
}

/** Returns the index of the frame on show at a time in seconds (the last one that has begun), within the clip. */
export function frameAt(seconds: Float64Array, time: number): number {
  let low = 0
  let high = seconds.length - 1
  // A billionth of a second forgives the rounding of a time that was computed from a frame's own.
  while (low < high) {
    const middle = (low + high + 1) >> 1
    if (seconds[middle] <= time + 1e-9) low = middle
    else high = middle - 1
  }
  return low
}

/** Returns the index of the frame whose time is nearest to a time in seconds. */
export function nearestFrame(seconds: Float64Array, time: number): number {
  const before = frameAt(seconds, time)
  const after = Math.min(before + 1, seconds.length - 1)
  return time - seconds[before] <= seconds[after] - time ? before : after
}
