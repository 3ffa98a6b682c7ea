import type { Point } from '../geometry/index.ts'
import type { Scene } from './background.ts'
import { bodySize, type Compared, comparedOf, GAIN, MOST_OUTSIDE } from './compared.ts'
import { halvedPatch, type Patch } from './look.ts'

/** A place where a patch fits. */
export interface Candidate {
  /** Where the patch's corner lies, in pixels of the frame. */
  column: number
  row: number
  /** Share of what is there, beyond the background and its noise, that the patch explains: 1 all, 0 nothing. */
  score: number
}

/** Fewest pixels that a body has across in the coarsest picture. */
const COARSEST = 5
/** Peaks that are followed from a coarser to a finer picture. */
const PEAKS = 4

/** Where the compared pixels of a patch lie in the rows of a scene's grids, from the patch's corner on. */
interface Laid {
  inFrame: Int32Array
  behind: Int32Array
}

function laidOut({ column, row }: Compared, { frame, background }: Scene): Laid {
  return {
    inFrame: column.map((at, k) => row[k] * frame.width + at),
    behind: column.map((at, k) => row[k] * background.width + at),
  }
}

/**
 * How well a patch fits with its corner at a place. Where the background is known, what is compared is the
 * frame less the background with the body less the background that it hides; where it is not, the frame with
 * the look, up to an offset. Both parts share one gain.
 */
function scoreAt(
  scene: Scene,
  patch: Compared,
  laid: Laid,
  column: number,
  row: number,
  noise: number,
): number {
  const { frame, background, known } = scene
  const { cover, body, seen, weight } = patch
  const count = cover.length
  const isInside =
    column >= frame.x &&
    row >= frame.y &&
    column + patch.width <= frame.x + frame.width &&
    row + patch.height <= frame.y + frame.height
  const frameAt = (row - frame.y) * frame.width + column - frame.x
  const pixels = frame.data
  const { inFrame } = laid
  // Sums over what has a known background, and over the rest: data, model, both.
  let dd = 0
  let dm = 0
  let mm = 0
  let w = 0
  let i = 0
  let ii = 0
  let t = 0
  let tt = 0
  let it = 0
  if (isInside && known === null) {
    for (let k = 0; k < count; k++) {
      const value = pixels[frameAt + inFrame[k]]
      const weighed = weight[k] * value
      i += weighed
      ii += weighed * value
      it += weighed * seen[k]
    }
    w = patch.total
    t = patch.light
    tt = patch.square
  } else {
    const behindAt = row * background.width + column
    let inside = 0
    for (let k = 0; k < count; k++) {
      if (!isInside) {
        const x = column + patch.column[k] - frame.x
        const y = row + patch.row[k] - frame.y
        if (x < 0 || y < 0 || x >= frame.width || y >= frame.height) continue
      }
      const value = pixels[frameAt + inFrame[k]]
      const at = behindAt + laid.behind[k]
      const share = weight[k]
      inside += share
      if (known !== null && known.data[at] > 0.5) {
        const behind = background.data[at]
        const difference = value - behind
        const expected = body[k] - cover[k] * behind
        dd += difference * difference
        dm += difference * expected
        mm += expected * expected
      } else {
        const look = seen[k]
        w += share
        i += share * value
        ii += share * value * value
        t += share * look
        tt += share * look * look
        it += share * value * look
      }
    }
    if (inside < (1 - MOST_OUTSIDE) * patch.total) return 0
  }
  const there = dd + (w > 0 ? ii - (i * i) / w : 0)
  const both = dm + (w > 0 ? it - (i * t) / w : 0)
  const expected = mm + (w > 0 ? tt - (t * t) / w : 0)
  if (!(expected > 0)) return 0
  const gain = Math.min(GAIN.most, Math.max(GAIN.least, both / expected))
  const rest = there - 2 * gain * both + gain * gain * expected
  // A scene without anything in it is all noise: what a patch explains of that says nothing. Nor is a faint
  // shade what a strong body is expected to be.
  return 1 - rest / Math.max(there + noise * noise * patch.total * 0.5, 0.5 * expected)
}

/**
 * Looks for a patch in a reach, coarse to fine: everywhere in a small picture, then around the best places in
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
  const across = Math.min(...bodySize(patch))
  while (
    patches.length < scenes.length &&
    across / 2 ** patches.length >= COARSEST &&
    reach > 3 * 2 ** patches.length
  )
    patches.push(halvedPatch(patches[patches.length - 1]))
  const coarsest = patches.length - 1
  const compared = comparedOf(patches[coarsest])
  const laid = laidOut(compared, scenes[coarsest])
  const by = 2 ** coarsest
  const middle = {
    column: Math.round((centre.x - patch.anchor.x) / by),
    row: Math.round((centre.y - patch.anchor.y) / by),
  }
  const far = Math.ceil(reach / by)
  const side = 2 * far + 1
  const scores = new Float32Array(side * side)
  for (let y = -far; y <= far; y++)
    for (let x = -far; x <= far; x++) {
      if (x * x + y * y > (far + 0.5) ** 2) continue
      scores[(y + far) * side + x + far] = scoreAt(
        scenes[coarsest],
        compared,
        laid,
        middle.column + x,
        middle.row + y,
        noise / by,
      )
    }
  let found = peaksOf(scores, side).map(
    ({ x, y, score }): Candidate => ({ column: middle.column + x - far, row: middle.row + y - far, score }),
  )
  for (let level = coarsest - 1; level >= 0; level--) {
    const finer = comparedOf(patches[level])
    const place = laidOut(finer, scenes[level])
    found = distinct(
      found.map(({ column, row }) =>
        climb(2 * column, 2 * row, (x, y) => scoreAt(scenes[level], finer, place, x, y, noise / 2 ** level)),
      ),
    ).slice(0, level > 0 ? PEAKS : 2)
  }
  return distinct(found)
}

/** Where a patch fits best near a place, by climbing from there. */
export function climbPatch(scene: Scene, patch: Patch, from: Point, noise: number): Candidate {
  const compared = comparedOf(patch)
  const laid = laidOut(compared, scene)
  const [column, row] = [Math.round(from.x - patch.anchor.x), Math.round(from.y - patch.anchor.y)]
  return climb(column, row, (x, y) => scoreAt(scene, compared, laid, x, y, noise))
}

/** Steps that are climbed at most towards a better place. */
const STEPS = 3

/** Goes from a place to the best of its eight neighbours as long as one is better. */
function climb(column: number, row: number, score: (column: number, row: number) => number): Candidate {
  const known = new Map<number, number>()
  const at = (x: number, y: number) => {
    const key = (y - row + 8) * 16 + x - column + 8
    const value = known.get(key) ?? score(x, y)
    known.set(key, value)
    return value
  }
  let best = { column, row, score: at(column, row) }
  for (let step = 0; step < STEPS; step++) {
    const from = best
    for (let y = -1; y <= 1; y++)
      for (let x = -1; x <= 1; x++) {
        const value = at(from.column + x, from.row + y)
        if (value > best.score) best = { column: from.column + x, row: from.row + y, score: value }
      }
    if (best === from) break
  }
  return best
}

/** The largest values that are no smaller than their eight neighbours, best first. */
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
