import type { Scene } from './background.ts'
import { bodySize, type Compared, comparedOf, enoughOf, GAIN, MOST_OUTSIDE } from './compared.ts'
import { type Grid, valueAt } from './grid.ts'
import type { Patch, Pose } from './look.ts'

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
/** A smaller step than this, in pixels, is the last: the next would be a fraction of it. */
const SETTLED = 0.015
/** Going further than this from where the search ended is no refinement, in pixels. */
const FARTHEST = 2.5
/** Residuals of more than so many robust deviations are of something else (Tukey's biweight). */
const ELSE = 4.7
/** How far light may change between looks: its share, and a shade that is even or grows across the body, in steps of brightness. */
const LIGHT = { gain: 0.15, even: 8, across: 8 }

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
  const list = comparedOf(patch)
  const chosen = enoughOf(list)
  const count = chosen.length
  const gradients = gradientsOf(patch, list, chosen)
  const radius = Math.max(...bodySize(patch)) / 2
  const at = new Float64Array(UNKNOWNS)
  at[GAIN_OF] = 1
  const priors = [0, 0, freedom.scale, freedom.turn, LIGHT.gain, LIGHT.even, LIGHT.across, LIGHT.across]
  /** How each pixel goes with each unknown, unknown by unknown. */
  const slopes = Array.from({ length: UNKNOWNS }, () => new Float64Array(count))
  const residual = new Float64Array(count)
  const weights = new Float64Array(count)
  const data = new Float64Array(count)
  const isKnownAt = new Uint8Array(count)
  const robust = new Float64Array(count).fill(1)
  let result: Refined | null = null
  let spread = 0
  let total = 0
  for (let k = 0; k < count; k++) total += list.weight[chosen[k]]
  let solve: ((right: Float64Array) => Float64Array) | null = null

  for (let round = 0; round < ROUNDS; round++) {
    const cos = (1 + at[SCALE]) * Math.cos(at[TURN])
    const sin = (1 + at[SCALE]) * Math.sin(at[TURN])
    const isFresh = round < FRESH
    let sum = 0
    let all = 0
    for (let k = 0; k < count; k++) {
      const pixel = chosen[k]
      const cover = list.cover[pixel]
      const u = list.column[pixel] + 0.5 - patch.anchor.x
      const v = list.row[pixel] + 0.5 - patch.anchor.y
      const x = start.x + at[X] + cos * u - sin * v
      const y = start.y + at[Y] + sin * u + cos * v
      const value = valueAt(scene.frame, x, y)
      weights[k] = 0
      if (Number.isNaN(value)) continue
      const sure = isKnown(scene.known, x, y)
      // Under the body itself the background need not be known to a fraction of a pixel.
      const isInside = cover > 0.995
      const behind = !sure
        ? 0
        : isInside
          ? roughBackground(scene.background, x, y)
          : valueAt(scene.background, x, y)
      if (Number.isNaN(behind)) continue
      const share = sure ? cover : 1
      const expected = sure ? list.body[pixel] - cover * behind : list.seen[pixel]
      weights[k] = list.weight[pixel]
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
      slopes[X][k] = gx
      slopes[Y][k] = gy
      slopes[SCALE][k] = gx * u + gy * v
      slopes[TURN][k] = -gx * v + gy * u
      slopes[GAIN_OF][k] = -expected
      slopes[EVEN][k] = -share
      slopes[ACROSS][k] = (-share * u) / radius
      slopes[DOWN][k] = (-share * v) / radius
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
      seen += weights[k]
      good += robust[k] * weights[k]
      goodRest += robust[k] * left
      goodThere += robust[k] * square
    }
    if (seen < (1 - MOST_OUTSIDE) * total) return null
    const floor = 0.5 * noise * noise
    result = {
      pose: {
        x: start.x + at[X],
        y: start.y + at[Y],
        scale: start.scale * (1 + at[SCALE]),
        turn: start.turn + at[TURN],
      },
      score: 1 - rest / (there + floor * total),
      visible: { score: 1 - goodRest / (goodThere + floor * good), share: good / total },
    }
    if (round === ROUNDS - 1) break
    const pulls = priors.map((prior) => (prior > 0 ? (spread / prior) ** 2 : 0))
    if (isFresh) solve = solverOf(slopes, weights, robust, pulls)
    if (!solve) break
    const step = solve(pullOf(slopes, residual, weights, robust, at, pulls))
    for (let a = 0; a < UNKNOWNS; a++) at[a] += step[a]
    at[GAIN_OF] = Math.min(GAIN.most, Math.max(GAIN.least, at[GAIN_OF]))
    if (Math.hypot(at[X], at[Y]) > FARTHEST) return null
    if (Math.hypot(step[X], step[Y]) < SETTLED && round > 0) break
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
function gradientsOf({ width, height, body, cover, seen }: Patch, list: Compared, chosen: Int32Array) {
  return {
    body: gradientOf(body, width, height, list, chosen),
    cover: gradientOf(cover, width, height, list, chosen),
    seen: gradientOf(seen, width, height, list, chosen),
  }
}

function gradientOf(
  data: Float32Array,
  width: number,
  height: number,
  { column, row }: Compared,
  chosen: Int32Array,
) {
  const x = new Float32Array(chosen.length)
  const y = new Float32Array(chosen.length)
  for (let k = 0; k < chosen.length; k++) {
    const [across, down] = [column[chosen[k]], row[chosen[k]]]
    const line = down * width
    x[k] = (data[line + Math.min(width - 1, across + 1)] - data[line + Math.max(0, across - 1)]) / 2
    const below = Math.min(height - 1, down + 1) * width
    const above = Math.max(0, down - 1) * width
    y[k] = (data[below + across] - data[above + across]) / 2
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
  slopes: Float64Array[],
  residual: Float64Array,
  weights: Float64Array,
  robust: Float64Array,
  at: Float64Array,
  pulls: number[],
): Float64Array {
  const right = new Float64Array(UNKNOWNS)
  const weighed = new Float64Array(residual.length)
  for (let k = 0; k < weighed.length; k++) weighed[k] = weights[k] * robust[k] * residual[k]
  for (let a = 0; a < UNKNOWNS; a++)
    right[a] = -dot(weighed, slopes[a]) - pulls[a] * (at[a] - (a === GAIN_OF ? 1 : 0))
  return right
}

/** Four sums side by side: none has to wait for the one before. */
function dot(a: Float64Array, b: Float64Array): number {
  let [first, second, third, fourth] = [0, 0, 0, 0]
  const whole = a.length & ~3
  for (let k = 0; k < whole; k += 4) {
    first += a[k] * b[k]
    second += a[k + 1] * b[k + 1]
    third += a[k + 2] * b[k + 2]
    fourth += a[k + 3] * b[k + 3]
  }
  for (let k = whole; k < a.length; k++) first += a[k] * b[k]
  return first + second + (third + fourth)
}

/** Solves the normal equations of weighed slopes (Cholesky); null where they don't tell the unknowns apart. */
function solverOf(
  slopes: Float64Array[],
  weights: Float64Array,
  robust: Float64Array,
  pulls: number[],
): ((right: Float64Array) => Float64Array) | null {
  const n = UNKNOWNS
  const normal = new Float64Array(n * n)
  const weighed = new Float64Array(weights.length)
  for (let a = 0; a < n; a++) {
    for (let k = 0; k < weighed.length; k++) weighed[k] = weights[k] * robust[k] * slopes[a][k]
    for (let b = 0; b <= a; b++) normal[n * a + b] = dot(weighed, slopes[b])
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
