/** Length of one tick in seconds, as the fraction that the file states. */
export interface TimeBase {
  numerator: number
  denominator: number
}

/**
 * Presentation times of all frames as integer ticks, run-length coded by their differences: an even
 * clip is one run, however long it is, and an uneven one loses nothing.
 */
export interface FrameTicks {
  first: number
  /** [difference to the frame before, how many frames in a row have it] */
  runs: [number, number][]
}

/** Codes the frames' ticks, in presentation order. Throws a RangeError where they do not increase. */
export function encodeTicks(ticks: ArrayLike<number>): FrameTicks {
  if (ticks.length === 0) throw new RangeError('A clip without frames has no times.')
  const runs: [number, number][] = []
  for (let i = 1; i < ticks.length; i++) {
    const step = ticks[i] - ticks[i - 1]
    if (!(step > 0)) throw new RangeError(`Frame ${i} does not come after the frame before it.`)
    const last = runs.at(-1)
    if (last && last[0] === step) last[1]++
    else runs.push([step, 1])
  }
  return { first: ticks[0], runs }
}

/** Number of frames that the code stands for. */
export function frameCount(code: FrameTicks): number {
  return code.runs.reduce((sum, [, count]) => sum + count, 1)
}

/** Returns the ticks of every frame, in presentation order. */
export function decodeTicks(code: FrameTicks): Float64Array {
  const ticks = new Float64Array(frameCount(code))
  let at = 0
  ticks[0] = code.first
  for (const [step, count] of code.runs)
    for (let k = 0; k < count; k++) {
      ticks[at + 1] = ticks[at] + step
      at++
    }
  return ticks
}
