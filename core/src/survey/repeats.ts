import { median } from '../time/index.ts'
import { type Difference, LEAST_CHANGE } from './difference.ts'

/** Frames that repeat the one before, and the pattern that they follow. */
export interface FoundRepeats {
  /** Increasing. */
  frames: number[]
  /** Frames a second before the recording was saved at another rate; null where there is no regular pattern. */
  originalRate: number | null
  /** Change of a block, in brightness, up to which two pictures count as one. */
  threshold: number
}

/** As many repeats in a row at most. */
const LONGEST_RUN = 4
/** So few repeats are no pattern. */
const FEWEST = 4
/** A picture is free of noise where this share of its blocks does not change at all in most frames. */
const NOISE_FREE = 0.75
/** Phases that a pattern is tried with. */
const PHASES = 240
/** Rates at which recordings are made, frames a second. */
const USUAL_RATES = [
  10,
  12,
  12.5,
  15,
  20,
  24000 / 1001,
  24,
  25,
  30000 / 1001,
  30,
  48,
  50,
  60000 / 1001,
  60,
  120,
  240,
]

/** Share of what a moving body usually changes up to which a frame still counts as a repeat: saving it anew changes it, too. */
const SAVED_ANEW = 0.2
const LEAST_THRESHOLD = 0.3

/** Returns the change between frames that noise alone causes. */
export function typicalNoise(differences: Difference[]): number {
  const noise = median(differences.slice(1).map((difference) => difference.noise))
  return Number.isFinite(noise) ? noise : 0
}

/** Returns the proposed threshold: above the noise, and well below the change caused by motion. */
export function repeatThreshold(differences: Difference[]): number {
  const noise = typicalNoise(differences)
  const moving = differences
    .map(({ change }) => change)
    .filter((change) => change > Math.max(LEAST_CHANGE, 2 * noise))
  return Math.max(LEAST_THRESHOLD, noise, moving.length > 0 ? SAVED_ANEW * median(moving) : 0)
}

/**
 * Returns the frames whose picture is that of the frame before within the noise, while there is motion before and
 * after. A body that slows down and turns back is no repeat: there the change shrinks and grows again
 * steadily, while a repeat stands between frames that change as much as ever. In a picture without any
 * noise a slow body can stand still for a frame, so there only a regular pattern is taken for repeats.
 *
 * @param differences of every frame from the one before; the first one's is not looked at
 * @param rate of playback, frames a second
 * @param threshold see FoundRepeats; the proposed one where it is not given
 */
export function findRepeats(
  differences: Difference[],
  rate: number,
  threshold = repeatThreshold(differences),
): FoundRepeats {
  const frames: number[] = []
  const isStill = (frame: number) => differences[frame].change <= threshold
  /** Nearest frames to one side that are not still, the nearest first. */
  const movers = (frame: number, way: 1 | -1) => {
    const found: number[] = []
    for (
      let at = frame + way;
      found.length < 2 && at > 0 && at < differences.length && Math.abs(at - frame) <= 2 * LONGEST_RUN;
      at += way
    )
      if (!isStill(at)) found.push(at)
    return found
  }
  for (let frame = 1; frame < differences.length; frame++) {
    if (!isStill(frame)) continue
    const sides = [movers(frame, -1), movers(frame, 1)]
    const stands = sides.every(([near, far]) => {
      if (near === undefined || Math.abs(near - frame) > LONGEST_RUN) return false
      const change = differences[near].change
      if (change < 2 * Math.max(threshold, differences[frame].change)) return false
      // Where the motion dies away towards this frame, what the line through its neighbours foretells is small.
      return far === undefined || 2 * change - differences[far].change > threshold
    })
    if (stands) frames.push(frame)
  }
  for (const originalRate of possibleRates(frames, rate)) {
    const regular = pattern(frames, originalRate / rate, differences, threshold)
    if (regular) return { frames: regular, originalRate, threshold }
  }
  const noiseFree =
    differences.length > 1 && median(differences.slice(1).map(({ still }) => still)) > NOISE_FREE
  return { frames: noiseFree ? [] : frames, originalRate: null, threshold }
}

/** Where some repeats could not be told, their share is off by so much at most. */
const NEAR = 0.15

/** Rates that the share of repeats points to: typical ones near it, the nearest first, then the share's own. */
function possibleRates(frames: number[], rate: number): number[] {
  if (frames.length < FEWEST || !(rate > 0)) return []
  // From the first repeat to the last the pattern is whole; what is before and after need not move.
  const share = (frames.length - 1) / (frames[frames.length - 1] - frames[0])
  const found = rate * (1 - share)
  const off = (candidate: number) => Math.abs(candidate - found)
  const near = USUAL_RATES.filter((candidate) => off(candidate) < NEAR * candidate && candidate < rate)
  return [...near.sort((one, other) => off(one) - off(other)), ...(found > 0 ? [found] : [])]
}

/**
 * Returns all repeats of a clip that was taken evenly and saved at another rate: frame i shows picture
 * ⌊i·ratio + phase⌋, and repeats where that is the picture of the frame before. Null where no phase
 * explains every repeat that was found without calling a frame a repeat that has moved; where the motion
 * is too slow to tell, the pattern tells.
 */
function pattern(
  found: number[],
  ratio: number,
  differences: Difference[],
  threshold: number,
): number[] | null {
  for (let step = 0; step < PHASES; step++) {
    const phase = step / PHASES
    const shows = (frame: number) => Math.floor(frame * ratio + phase + 1e-9)
    const repeats = (frame: number) => shows(frame) === shows(frame - 1)
    if (!found.every(repeats)) continue
    const predicted = differences.map((_, frame) => frame).filter((frame) => frame > 0 && repeats(frame))
    if (predicted.every((frame) => differences[frame].change <= threshold)) return predicted
  }
  return null
}
