import type { Point } from '../geometry/index.ts'
import type { Scene } from './background.ts'
import { type Grid, valueAt } from './grid.ts'
import { halvedPatch, type Patch, type Pose } from './look.ts'

/** A place where a patch fits. */
export interface Candidate {
  /** Where the patch's corner lies, in pixels of the frame. */
  column: number
  row: number
  /** Share of what is there, beyond the background and its noise, that the patch explains: 1 all, 0 nothing. */
  score: number
}

/** Weight of a pixel beside the body where it is not known what is behind it. */
const BESIDE = 0.12
/** A patch that lies outside the picture by more than this share is not looked for there. */
const MOST_OUTSIDE = 0.4
/** How much brighter or darker a body can get against its look. */
const GAIN = { least: 0.6, most: 1.6 }
/** Fewest pixels that a body has across in the coarsest picture. */
const COARSEST = 5
/** Peaks that are followed from a coarser to a finer picture. */
const PEAKS = 4

/** Pixels of a patch that are compared, in a list: quicker to go through than its whole square. */
interface Compared {
  column: Int32Array
  row: Int32Array
  cover: Float32Array
  body: Float32Array
  seen: Float32Array
  /** Weight where the background is not known; 1 where it is. */
  weight: Float32Array
  width: number
  height: number
  /** Sums of the weights, of the weighed light, and of its square. */
  total: number
  light: number
  square: number
}

/** Every other pixel does where there are more than this. */
const ENOUGH_PIXELS = 360

/** Kept by the patch: it is compared many times. */
const listed = new WeakMap<Patch, Compared>()

function comparedOf(patch: Patch): Compared {
  const known = listed.get(patch)
  if (known) return known
  const { width, height, cover, body, seen } = patch
  const near = spreadOut(patch)
  const count = near.reduce((sum, one) => sum + one, 0)
  const list: Compared = {
    column: new Int32Array(count),
    row: new Int32Array(count),
    cover: new Float32Array(count),
    body: new Float32Array(count),
    seen: new Float32Array(count),
    weight: new Float32Array(count),
    width,
    height,
    total: 0,
    light: 0,
    square: 0,
  }
  let k = 0
  for (let at = 0; at < near.length; at++) {
    if (near[at] === 0) continue
    list.column[k] = at % width
    list.row[k] = (at / width) | 0
    list.cover[k] = cover[at]
    list.body[k] = body[at]
    list.seen[k] = seen[at]
    list.weight[k] = Math.max(BESIDE, cover[at] * cover[at])
    list.total += list.weight[k]
    list.light += list.weight[k] * list.seen[k]
    list.square += list.weight[k] * list.seen[k] ** 2
    k++
  }
  listed.set(patch, list)
  return list
}

/** A list without every other pixel, like the fields of a chessboard, where it has more than enough. */
function thinned(list: Compared): Compared {
  if (list.cover.length < ENOUGH_PIXELS) return list
  const kept: number[] = []
  for (let k = 0; k < list.cover.length; k++) if ((list.column[k] + list.row[k]) % 2 === 0) kept.push(k)
  const whole = (from: Int32Array) => Int32Array.from(kept, (k) => from[k])
  const part = (from: Float32Array) => Float32Array.from(kept, (k) => from[k])
  const weight = part(list.weight)
  return {
    ...list,
    column: whole(list.column),
    row: whole(list.row),
    cover: part(list.cover),
    body: part(list.body),
    seen: part(list.seen),
    weight,
    total: weight.reduce((sum, one) => sum + one, 0),
  }
}

/** Pixels that the body covers, and those beside them: 1, all others 0. */
function spreadOut({ width, height, cover }: Patch): Uint8Array {
  const across = new Uint8Array(width * height)
  const near = new Uint8Array(width * height)
  for (let row = 0; row < height; row++)
    for (let column = 0; column < width; column++)
      if (cover[row * width + column] > 0.03)
        across.fill(1, row * width + Math.max(0, column - 1), row * width + Math.min(width, column + 2))
  for (let row = 0; row < height; row++)
    for (let away = -1; away <= 1; away++) {
      if (row + away < 0 || row + away >= height) continue
      for (let column = 0; column < width; column++)
        near[row * width + column] |= across[(row + away) * width + column]
    }
  return near
}

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

/** Width and height of what a body covers in its patch. */
export function bodySize({ width, height, cover }: Patch): [number, number] {
  let [left, right, top, bottom] = [width, 0, height, 0]
  for (let row = 0; row < height; row++)
    for (let column = 0; column < width; column++)
      if (cover[row * width + column] > 0.3) {
        left = Math.min(left, column)
        right = Math.max(right, column + 1)
        top = Math.min(top, row)
        bottom = Math.max(bottom, row + 1)
      }
  return [Math.max(1, right - left), Math.max(1, bottom - top)]
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

/** What a body's place was found to be, to a fraction of a pixel. */
export interface Refined {
  pose: Pose
  score: number
  /** Score of the part of the body that fits, and how large a part that is: what hides the rest does not count. */
  visible: { score: number; share: number }
}

/** How far size and turn may go in one frame, as standard deviations (of the logarithm of size; radians). */
export interface Freedom {
  scale: number
  turn: number
}

const ROUNDS = 7
/** Rounds in which weights and slopes are worked out anew. */
const FRESH = 2
/** Going further than this from where the search ended is no refinement, in pixels. */
const FARTHEST = 2.5
/** Residuals of more than so many robust deviations are of something else (Tukey's biweight). */
const ELSE = 4.7
/** How far light may change between looks: its share, and a shade that is even or grows across the body, in steps of brightness. */
const LIGHT = { gain: 0.15, even: 8, across: 4 }

/** Unknowns of the refinement, in this order. */
const X = 0
const Y = 1
const SCALE = 2
const TURN = 3
const GAIN_OF = 4
const EVEN = 5
const ACROSS = 6
const DOWN = 7
const UNKNOWNS = 8

/**
 * Refines where a patch lies by least squares on the brightness itself (Gauss and Newton; Lucas and Kanade
 * 1981, with the patch's own gradient as in Baker and Matthews, Int. J. Computer Vision 56 (2004) 221),
 * together with its size and turn as far as the freedom allows, and with a light that changes: a gain and a
 * shade that grows across the body (Hager and Belhumeur, IEEE Trans. PAMI 20 (1998) 1025). Pixels that don't
 * fit at all are left out (Huber, Robust Statistics, 1981).
 *
 * @param start pose that the patch was rendered for, moved to where it was found
 * @returns null where it runs away
 */
export function refinePose(
  scene: Scene,
  patch: Patch,
  start: Pose,
  freedom: Freedom,
  noise: number,
): Refined | null {
  const list = thinned(comparedOf(patch))
  const count = list.cover.length
  const gradients = gradientsOf(patch, list)
  const radius = Math.max(...bodySize(patch)) / 2
  const at = new Float64Array(UNKNOWNS)
  at[GAIN_OF] = 1
  const priors = [0, 0, freedom.scale, freedom.turn, LIGHT.gain, LIGHT.even, LIGHT.across, LIGHT.across]
  const slopes = new Float64Array(UNKNOWNS * count)
  const residual = new Float64Array(count)
  const weights = new Float64Array(count)
  const data = new Float64Array(count)
  const isKnownAt = new Uint8Array(count)
  const robust = new Float64Array(count).fill(1)
  let result: Refined | null = null
  let spread = 0
  let solve: ((right: Float64Array) => Float64Array) | null = null

  for (let round = 0; round < ROUNDS; round++) {
    const cos = (1 + at[SCALE]) * Math.cos(at[TURN])
    const sin = (1 + at[SCALE]) * Math.sin(at[TURN])
    const isFresh = round < FRESH
    let sum = 0
    let all = 0
    for (let k = 0; k < count; k++) {
      const u = list.column[k] + 0.5 - patch.anchor.x
      const v = list.row[k] + 0.5 - patch.anchor.y
      const x = start.x + at[X] + cos * u - sin * v
      const y = start.y + at[Y] + sin * u + cos * v
      const value = valueAt(scene.frame, x, y)
      weights[k] = 0
      if (Number.isNaN(value)) continue
      const sure = isKnown(scene.known, x, y)
      // Under the body itself the background need not be known to a fraction of a pixel.
      const isInside = list.cover[k] > 0.995
      const behind = !sure
        ? 0
        : isInside
          ? roughBackground(scene.background, x, y)
          : valueAt(scene.background, x, y)
      if (Number.isNaN(behind)) continue
      const share = sure ? list.cover[k] : 1
      const expected = sure ? list.body[k] - list.cover[k] * behind : list.seen[k]
      weights[k] = list.weight[k]
      data[k] = value - behind
      const shade = at[EVEN] + (at[ACROSS] * u + at[DOWN] * v) / radius
      residual[k] = data[k] - at[GAIN_OF] * expected - share * shade
      if (!sure) {
        sum += weights[k] * data[k]
        all += weights[k]
      }
      // The patch's own slopes hardly change from round to round.
      if (!isFresh) continue
      isKnownAt[k] = sure ? 1 : 0
      const gx = sure ? gradients.body.x[k] - behind * gradients.cover.x[k] : gradients.seen.x[k]
      const gy = sure ? gradients.body.y[k] - behind * gradients.cover.y[k] : gradients.seen.y[k]
      const from = k * UNKNOWNS
      slopes[from + X] = gx
      slopes[from + Y] = gy
      slopes[from + SCALE] = gx * u + gy * v
      slopes[from + TURN] = -gx * v + gy * u
      slopes[from + GAIN_OF] = -expected
      slopes[from + EVEN] = -share
      slopes[from + ACROSS] = (-share * u) / radius
      slopes[from + DOWN] = (-share * v) / radius
    }
    const mean = all > 0 ? sum / all : 0
    if (isFresh) spread = weigh(residual, weights, robust, noise)
    let [there, rest, seen, good, goodRest, goodThere] = [0, 0, 0, 0, 0, 0]
    for (let k = 0; k < count; k++) {
      if (weights[k] === 0) continue
      const square = weights[k] * (isKnownAt[k] ? data[k] : data[k] - mean) ** 2
      const left = weights[k] * residual[k] * residual[k]
      there += square
      rest += left
      seen += list.weight[k]
      good += robust[k] * list.weight[k]
      goodRest += robust[k] * left
      goodThere += robust[k] * square
    }
    if (seen < (1 - MOST_OUTSIDE) * list.total) return null
    const floor = 0.5 * noise * noise
    result = {
      pose: {
        x: start.x + at[X],
        y: start.y + at[Y],
        scale: start.scale * (1 + at[SCALE]),
        turn: start.turn + at[TURN],
      },
      score: 1 - rest / (there + floor * list.total),
      visible: { score: 1 - goodRest / (goodThere + floor * good), share: good / list.total },
    }
    if (round === ROUNDS - 1) break
    const pulls = priors.map((prior) => (prior > 0 ? (spread / prior) ** 2 : 0))
    if (isFresh) solve = solverOf(slopes, weights, robust, pulls)
    if (!solve) break
    const step = solve(pullOf(slopes, residual, weights, robust, at, pulls))
    for (let a = 0; a < UNKNOWNS; a++) at[a] += step[a]
    at[GAIN_OF] = Math.min(GAIN.most, Math.max(GAIN.least, at[GAIN_OF]))
    if (Math.hypot(at[X], at[Y]) > FARTHEST) return null
    if (Math.hypot(step[X], step[Y]) < 0.008 && round > 0) break
  }
  return result
}

function isKnown(known: Grid | null, x: number, y: number): boolean {
  if (known === null) return false
  const { width, height, data } = known
  const column = Math.floor(x)
  const row = Math.floor(y)
  return column >= 0 && row >= 0 && column < width && row < height && data[row * width + column] > 0.5
}

function roughBackground({ width, data }: Grid, x: number, y: number): number {
  return data[Math.floor(y) * width + Math.floor(x)]
}

/** The patch's gradients at the compared pixels: of the body's light, of its cover and of all that was seen. */
function gradientsOf({ width, height, body, cover, seen }: Patch, list: Compared) {
  return {
    body: gradientOf(body, width, height, list),
    cover: gradientOf(cover, width, height, list),
    seen: gradientOf(seen, width, height, list),
  }
}

function gradientOf(data: Float32Array, width: number, height: number, { column, row }: Compared) {
  const x = new Float32Array(column.length)
  const y = new Float32Array(column.length)
  for (let k = 0; k < column.length; k++) {
    const line = row[k] * width
    x[k] = (data[line + Math.min(width - 1, column[k] + 1)] - data[line + Math.max(0, column[k] - 1)]) / 2
    const below = Math.min(height - 1, row[k] + 1) * width
    const above = Math.max(0, row[k] - 1) * width
    y[k] = (data[below + column[k]] - data[above + column[k]]) / 2
  }
  return { x, y }
}

/** Weighs pixels by how well they fit; gives the residuals' robust deviation. */
function weigh(residual: Float64Array, weights: Float64Array, robust: Float64Array, noise: number): number {
  const spread = Math.max(1.2 * noise, 2, 1.4826 * medianSize(residual, weights))
  const limit = ELSE * spread
  for (let k = 0; k < residual.length; k++) {
    const r = residual[k] / limit
    robust[k] = Math.abs(r) < 1 ? (1 - r * r) ** 2 : 0
  }
  return spread
}

/** Median of the residuals' sizes, to a quarter step of brightness: counting is quicker than sorting. */
function medianSize(residual: Float64Array, weights: Float64Array): number {
  const counts = new Uint32Array(1024)
  let all = 0
  for (let k = 0; k < residual.length; k++) {
    if (weights[k] <= 0.1) continue
    counts[Math.min(1023, (4 * Math.abs(residual[k])) | 0)]++
    all++
  }
  let seen = 0
  for (let at = 0; at < counts.length; at++) {
    seen += counts[at]
    if (2 * seen >= all) return (at + 0.5) / 4
  }
  return 0
}

/** What pulls each unknown: the residuals along its slopes, and its prior. */
function pullOf(
  slopes: Float64Array,
  residual: Float64Array,
  weights: Float64Array,
  robust: Float64Array,
  at: Float64Array,
  pulls: number[],
): Float64Array {
  const right = new Float64Array(UNKNOWNS)
  for (let k = 0; k < residual.length; k++) {
    const weighed = weights[k] * robust[k] * residual[k]
    if (weighed === 0) continue
    const from = k * UNKNOWNS
    for (let a = 0; a < UNKNOWNS; a++) right[a] -= weighed * slopes[from + a]
  }
  for (let a = 0; a < UNKNOWNS; a++) right[a] -= pulls[a] * (at[a] - (a === GAIN_OF ? 1 : 0))
  return right
}

/** Solves the normal equations of weighed slopes (Cholesky); null where they don't tell the unknowns apart. */
function solverOf(
  slopes: Float64Array,
  weights: Float64Array,
  robust: Float64Array,
  pulls: number[],
): ((right: Float64Array) => Float64Array) | null {
  const n = UNKNOWNS
  const normal = new Float64Array(n * n)
  for (let k = 0; k < weights.length; k++) {
    const weight = weights[k] * robust[k]
    if (weight === 0) continue
    const from = k * n
    for (let a = 0; a < n; a++) {
      const slope = weight * slopes[from + a]
      for (let b = 0; b <= a; b++) normal[n * a + b] += slope * slopes[from + b]
    }
  }
  const factor = new Float64Array(n * n)
  for (let i = 0; i < n; i++)
    for (let k = 0; k <= i; k++) {
      let sum = normal[n * i + k] + (i === k ? pulls[i] : 0)
      for (let m = 0; m < k; m++) sum -= factor[n * i + m] * factor[n * k + m]
      if (i !== k) factor[n * i + k] = sum / factor[(n + 1) * k]
      else if (sum > 1e-9 * (normal[(n + 1) * i] + 1e-9)) factor[(n + 1) * i] = Math.sqrt(sum)
      else return null
    }
  return (right) => {
    const solution = Float64Array.from(right)
    for (let i = 0; i < n; i++) {
      for (let m = 0; m < i; m++) solution[i] -= factor[n * i + m] * solution[m]
      solution[i] /= factor[(n + 1) * i]
    }
    for (let i = n - 1; i >= 0; i--) {
      for (let m = i + 1; m < n; m++) solution[i] -= factor[n * m + i] * solution[m]
      solution[i] /= factor[(n + 1) * i]
    }
    return solution
  }
}
