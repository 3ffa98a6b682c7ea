import type { Point } from '../geometry/index.ts'
import { floatList, kernels, placeOf, wholeList, withArena } from '../kernels/index.ts'
import { halvedPatch, type Patch } from './patch.ts'
import { type Scene, scoreBytes } from './scene.ts'

/** A place where a patch matches. */
export interface Candidate {
  /** Where the patch's corner lies, in pixels of the frame. */
  column: number
  row: number
  /** Share of what is there, beyond the background and its noise, that the patch explains: 1 all, 0 nothing. */
  score: number
}

/** A patch is not searched for where more than this share of it lies outside the picture. */
export const MOST_OUTSIDE = 0.4
/** Limits of a body's brightness relative to its template. */
export const GAIN = { least: 0.6, most: 1.6 }
/** Fewest pixels that a body has across in the coarsest picture. */
const COARSEST = 5
/** Peaks that are followed from a coarser to a finer picture. */
const PEAKS = 4
/** Places that are kept at full size. */
const FINEST = 4

/** Says to the kernels what is looked for in which scene. */
function prepare({ frame, background, known }: Scene, patch: Patch, noise: number): void {
  const { lookIn, lookFor } = kernels()
  lookIn(
    placeOf(frame.data),
    known ? placeOf(background.data) : 0,
    known ? placeOf(known.data) : 0,
    frame.width,
    frame.height,
    noise,
  )
  const { cover, body, seen, weights, packed, runs, width, height, sums } = patch
  lookFor(
    placeOf(cover),
    body ? placeOf(body) : 0,
    placeOf(seen),
    placeOf(weights),
    placeOf(packed),
    placeOf(runs),
    width,
    height,
    placeOf(sums),
    MOST_OUTSIDE,
    GAIN.least,
    GAIN.most,
  )
}

/**
 * Searches for a patch within a reach, coarse to fine: everywhere in a small picture, then around the best places in
 * larger ones.
 *
 * @param scenes at full size, half, a quarter …
 * @param centre where the patch's point is expected, in pixels of the first scene
 * @param reach how far around it is looked, in the same pixels
 * @returns places at full size, the best first, each the best of its surroundings
 */
export function searchPatch(
  scenes: Scene[],
  patch: Patch,
  centre: Point,
  reach: number,
  noise: number,
): Candidate[] {
  const patches = [patch]
  const across = Math.min(...patch.size)
  while (
    patches.length < scenes.length &&
    across / 2 ** patches.length >= COARSEST &&
    reach > 3 * 2 ** patches.length
  )
    patches.push(halvedPatch(patches[patches.length - 1]))
  const coarsest = patches.length - 1
  const by = 2 ** coarsest
  const middle = {
    column: Math.round((centre.x - patch.anchor.x) / by),
    row: Math.round((centre.y - patch.anchor.y) / by),
  }
  const far = Math.ceil(reach / by)
  const side = 2 * far + 1
  const { frame } = scenes[coarsest]
  prepare(scenes[coarsest], patches[coarsest], noise / by)
  let found = withArena(scoreBytes(reach / by), () => {
    const scores = floatList(side * side)
    kernels().scoresAround(middle.column - frame.x, middle.row - frame.y, far, placeOf(scores))
    return peaksOf(scores, side).map(
      ({ x, y, score }): Candidate => ({ column: middle.column + x - far, row: middle.row + y - far, score }),
    )
  })
  for (let level = coarsest - 1; level >= 0; level--) {
    prepare(scenes[level], patches[level], noise / 2 ** level)
    found = distinct(found.map(({ column, row }) => climb(scenes[level], 2 * column, 2 * row))).slice(
      0,
      level > 0 ? PEAKS : FINEST,
    )
  }
  return distinct(found)
}

/** Returns the local maximum of a patch's score near a place, by hill climbing. */
export function climbPatch(scene: Scene, patch: Patch, from: Point, noise: number): Candidate {
  prepare(scene, patch, noise)
  return climb(scene, Math.round(from.x - patch.anchor.x), Math.round(from.y - patch.anchor.y))
}

/** Steps that are climbed at most towards a better place. */
const STEPS = 3

/** Goes from a place to the best of its eight neighbours as long as one is better, with what was prepared. */
function climb({ frame }: Scene, column: number, row: number): Candidate {
  const found = wholeList(2)
  const score = kernels().climb(column - frame.x, row - frame.y, STEPS, placeOf(found))
  return { column: found[0] + frame.x, row: found[1] + frame.y, score }
}

/** Returns the largest values that are no smaller than their eight neighbours, best first. */
function peaksOf(scores: Float32Array, side: number): { x: number; y: number; score: number }[] {
  const peaks: { x: number; y: number; score: number }[] = []
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      const score = scores[y * side + x]
      if (score <= 0.05) continue
      let isPeak = true
      for (let dy = -1; dy <= 1 && isPeak; dy++)
        for (let dx = -1; dx <= 1; dx++) {
          const [u, v] = [x + dx, y + dy]
          if (u < 0 || v < 0 || u >= side || v >= side) continue
          if (scores[v * side + u] > score) {
            isPeak = false
            break
          }
        }
      if (isPeak) peaks.push({ x, y, score })
    }
  return peaks.sort((a, b) => b.score - a.score).slice(0, 2 * PEAKS)
}

/** Candidates best first, without those that have climbed to the same place. */
function distinct(found: Candidate[]): Candidate[] {
  const kept: Candidate[] = []
  for (const one of [...found].sort((a, b) => b.score - a.score))
    if (!kept.some(({ column, row }) => Math.abs(column - one.column) <= 2 && Math.abs(row - one.row) <= 2))
      kept.push(one)
  return kept
}
