import { factor, get, set, solve } from './equations'
import { at, cubicAt, cubicWeights, put, sumOf } from './sampling'

const ROUNDS = 7
/** Rounds in which weights and slopes are worked out anew. */
const FRESH = 2
/** A smaller step than this, in pixels, is the last: the next would be a fraction of it. */
const SETTLED = 0.015
/** Going further than this from where the search ended is no refinement, in pixels. */
const FARTHEST = 2.5
/** Residuals of more than so many robust deviations are of something else (Tukey's biweight). */
const ELSE: f32 = 4.7
/** How far light may change between looks: its share, and a shade that is even or grows across the body, in steps of brightness. */
const LIGHT_GAIN: f64 = 0.15
const LIGHT_SHADE: f64 = 8
/** Every other pixel does where there are more than this. */
const ENOUGH_PIXELS = 360
/** Covered by more than this share a pixel is all the body's. */
const INSIDE: f32 = 0.995

/** Unknowns of the refinement, in this order: place, size, turn, gain, and a shade that is even or grows right and down. */
const X = 0
const Y = 1
const SCALE = 2
const TURN = 3
const GAIN = 4
const EVEN = 5
const ACROSS = 6
const DOWN = 7
const UNKNOWNS = 8

const state = memory.data(UNKNOWNS * 8, 16)
const step = memory.data(UNKNOWNS * 8, 16)
const pulls = memory.data(UNKNOWNS * 8, 16)
const normal = memory.data(UNKNOWNS * UNKNOWNS * 8, 16)
const BINS = 1024
const counts = memory.data(BINS * 4, 16)

/** Sum of the products of two lists whose length is a multiple of four. */
function dot(a: usize, b: usize, count: i32): f64 {
  let sum = f32x4.splat(0)
  for (let k = 0; k < count; k += 4)
    sum = f32x4.add(sum, f32x4.mul(v128.load(a + (k << 2)), v128.load(b + (k << 2))))
  return sumOf(sum)
}

/** The products of two lists, number by number. */
function multiply(a: usize, b: usize, to: usize, count: i32): void {
  for (let k = 0; k < count; k += 4)
    v128.store(to + (k << 2), f32x4.mul(v128.load(a + (k << 2)), v128.load(b + (k << 2))))
}

/** Slope of a grid to the right and down at one of its pixels. */
function acrossAt(grid: usize, width: i32, column: i32, line: i32): f32 {
  return (at(grid, line + min(width - 1, column + 1)) - at(grid, line + max(0, column - 1))) / 2
}
function downAt(grid: usize, width: i32, height: i32, column: i32, row: i32): f32 {
  return (
    (at(grid, min(height - 1, row + 1) * width + column) - at(grid, max(0, row - 1) * width + column)) / 2
  )
}

/**
 * Refines where a patch lies by least squares on the brightness itself (Gauss and Newton; Lucas and Kanade
 * 1981, with the patch's own gradient as in Baker and Matthews, Int. J. Computer Vision 56 (2004) 221),
 * together with its size and turn as far as the freedom allows, and with a light that changes: a gain and a
 * shade that grows across the body (Hager and Belhumeur, IEEE Trans. PAMI 20 (1998) 1025). Pixels that don't
 * fit at all are left out (Huber, Robust Statistics, 1981).
 *
 * @param background on the same pixels as the frame, as `known` is; known is 0 where it is known nowhere
 * @param weights of the patch's pixels; 0 for those that are not compared
 * @param radius half of the body's width or height, whichever is more
 * @param anchorX @param anchorY where the patch's point lies in it
 * @param startX @param startY where that was found, in pixels of the frame's part
 * @param freeScale @param freeTurn how far size and turn may go, as standard deviations
 * @param room for 19 lists of as many numbers as the patch has pixels, rounded up to four
 * @param out eight numbers: how far the point is from the start, right and down; growth; turn; score; score and share of the
 *   part that fits; how much of the turn the pixels tell, 0 … 1
 * @returns whether there is a result: it may run away
 */
export function refine(
  frame: usize,
  background: usize,
  known: usize,
  frameWidth: i32,
  frameHeight: i32,
  cover: usize,
  body: usize,
  seen: usize,
  weights: usize,
  width: i32,
  height: i32,
  radius: f32,
  mostOutside: f64,
  anchorX: f64,
  anchorY: f64,
  startX: f64,
  startY: f64,
  freeScale: f64,
  freeTurn: f64,
  leastGain: f64,
  mostGain: f64,
  noise: f64,
  room: usize,
  out: usize,
): bool {
  const stride = ((width * height + 3) & ~3) << 2
  const columns = room
  const rows = columns + stride
  const us = rows + stride
  const vs = us + stride
  const weight = vs + stride
  const data = weight + stride
  const residual = data + stride
  const robust = residual + stride
  const sure = robust + stride
  const both = sure + stride
  const weighed = both + stride
  const slopes = weighed + stride

  // Every other pixel, like the fields of a chessboard, where there are many.
  let all = 0
  for (let k = 0; k < width * height; k++) if (at(weights, k) > 0) all++
  const isFew = all < ENOUGH_PIXELS
  let count = 0
  let reckoned: f64 = 0
  for (let row = 0; row < height; row++)
    for (let column = 0; column < width; column++) {
      const share = at(weights, row * width + column)
      if (share === 0 || !(isFew || ((column + row) & 1) === 0)) continue
      store<i32>(columns + ((<usize>count) << 2), column)
      store<i32>(rows + ((<usize>count) << 2), row)
      put(us, count, <f32>(column + 0.5 - anchorX))
      put(vs, count, <f32>(row + 0.5 - anchorY))
      reckoned += share
      count++
    }
  const padded = (count + 3) & ~3
  // Pixels that lie outside the frame, and those that fill up to four, have no part in any sum.
  for (let list = weight; list < slopes + UNKNOWNS * stride; list += stride) memory.fill(list, 0, padded << 2)
  for (let k = 0; k < count; k++) put(robust, k, 1)
  for (let a = 0; a < UNKNOWNS; a++) set(state, a, a === GAIN ? 1 : 0)
  let spread: f64 = 0
  let isSolvable = false
  let hasResult = false

  for (let round = 0; round < ROUNDS; round++) {
    const isFresh = round < FRESH
    const cos = <f32>((1 + get(state, SCALE)) * Math.cos(get(state, TURN)))
    const sin = <f32>((1 + get(state, SCALE)) * Math.sin(get(state, TURN)))
    const x0 = startX + get(state, X) - 0.5
    const y0 = startY + get(state, Y) - 0.5
    const gain = <f32>get(state, GAIN)
    const even = <f32>get(state, EVEN)
    const growsAcross = <f32>get(state, ACROSS) / radius
    const growsDown = <f32>get(state, DOWN) / radius
    let sum: f32 = 0
    let shares: f32 = 0
    for (let k = 0; k < count; k++) {
      const u = at(us, k)
      const v = at(vs, k)
      const x = x0 + <f64>(cos * u - sin * v)
      const y = y0 + <f64>(sin * u + cos * v)
      const left = <i32>Math.floor(x)
      const top = <i32>Math.floor(y)
      put(weight, k, 0)
      put(residual, k, 0)
      if (left < 1 || top < 1 || left + 2 >= frameWidth || top + 2 >= frameHeight) continue
      const across = cubicWeights(<f32>(x - left))
      const down = cubicWeights(<f32>(y - top))
      const corner = <usize>(((top - 1) * frameWidth + left - 1) << 2)
      const value = cubicAt(frame + corner, frameWidth, across, down)
      const column = load<i32>(columns + ((<usize>k) << 2))
      const row = load<i32>(rows + ((<usize>k) << 2))
      const line = row * width
      const pixel = line + column
      const own = at(cover, pixel)
      const nearest = <i32>Math.floor(y + 0.5) * frameWidth + <i32>Math.floor(x + 0.5)
      const isSure = known !== 0 && at(known, nearest) > 0.5
      // Under the body itself the background need not be known to a fraction of a pixel.
      const behind: f32 = !isSure
        ? 0
        : own > INSIDE
          ? at(background, nearest)
          : cubicAt(background + corner, frameWidth, across, down)
      const share: f32 = isSure ? own : 1
      const expected: f32 = isSure ? at(body, pixel) - own * behind : at(seen, pixel)
      const counts = at(weights, pixel)
      const difference = value - behind
      put(weight, k, counts)
      put(data, k, difference)
      put(residual, k, difference - gain * expected - share * (even + growsAcross * u + growsDown * v))
      if (!isSure) {
        sum += counts * difference
        shares += counts
      }
      // The patch's own slopes hardly change from round to round.
      if (!isFresh) continue
      put(sure, k, isSure ? 1 : 0)
      let gx: f32
      let gy: f32
      if (isSure) {
        gx = acrossAt(body, width, column, line) - behind * acrossAt(cover, width, column, line)
        gy = downAt(body, width, height, column, row) - behind * downAt(cover, width, height, column, row)
      } else {
        gx = acrossAt(seen, width, column, line)
        gy = downAt(seen, width, height, column, row)
      }
      put(slopes + X * stride, k, gx)
      put(slopes + Y * stride, k, gy)
      put(slopes + SCALE * stride, k, gx * u + gy * v)
      put(slopes + TURN * stride, k, gy * u - gx * v)
      put(slopes + GAIN * stride, k, -expected)
      put(slopes + EVEN * stride, k, -share)
      put(slopes + ACROSS * stride, k, (-share * u) / radius)
      put(slopes + DOWN * stride, k, (-share * v) / radius)
    }
    if (isFresh) spread = weighRobustly(residual, weight, robust, padded, noise)
    const mean: f32 = shares > 0 ? sum / shares : 0
    let theres = f32x4.splat(0)
    let rests = f32x4.splat(0)
    let visibles = f32x4.splat(0)
    let goods = f32x4.splat(0)
    let goodRests = f32x4.splat(0)
    let goodTheres = f32x4.splat(0)
    for (let k = 0; k < padded; k += 4) {
      const place = (<usize>k) << 2
      const w = v128.load(weight + place)
      // Where the background is not known what is there is told from its mean.
      const unsure = f32x4.sub(f32x4.splat(1), v128.load(sure + place))
      const value = f32x4.sub(v128.load(data + place), f32x4.mul(unsure, f32x4.splat(mean)))
      const left = v128.load(residual + place)
      const square = f32x4.mul(w, f32x4.mul(value, value))
      const rest = f32x4.mul(w, f32x4.mul(left, left))
      const fits = v128.load(robust + place)
      theres = f32x4.add(theres, square)
      rests = f32x4.add(rests, rest)
      visibles = f32x4.add(visibles, w)
      goods = f32x4.add(goods, f32x4.mul(fits, w))
      goodRests = f32x4.add(goodRests, f32x4.mul(fits, rest))
      goodTheres = f32x4.add(goodTheres, f32x4.mul(fits, square))
    }
    const good = <f64>sumOf(goods)
    if (sumOf(visibles) < (1 - mostOutside) * reckoned) return false
    const floor = 0.5 * noise * noise
    set(out, 0, get(state, X))
    set(out, 1, get(state, Y))
    set(out, 2, get(state, SCALE))
    set(out, 3, get(state, TURN))
    set(out, 4, 1 - sumOf(rests) / (sumOf(theres) + floor * reckoned))
    set(out, 5, 1 - sumOf(goodRests) / (sumOf(goodTheres) + floor * good))
    set(out, 6, good / reckoned)
    hasResult = true
    if (round === ROUNDS - 1) break
    multiply(weight, robust, both, padded)
    if (isFresh) {
      set(pulls, SCALE, pullOf(spread, freeScale))
      set(pulls, TURN, pullOf(spread, freeTurn))
      set(pulls, GAIN, pullOf(spread, LIGHT_GAIN))
      for (let a = EVEN; a <= DOWN; a++) set(pulls, a, pullOf(spread, LIGHT_SHADE))
      isSolvable = factorOf(slopes, stride, both, weighed, padded)
    }
    if (!isSolvable) break
    multiply(both, residual, weighed, padded)
    for (let a = 0; a < UNKNOWNS; a++)
      set(
        step,
        a,
        -dot(weighed, slopes + a * stride, padded) - get(pulls, a) * (get(state, a) - (a === GAIN ? 1 : 0)),
      )
    solve(normal, step, UNKNOWNS, UNKNOWNS)
    for (let a = 0; a < UNKNOWNS; a++) set(state, a, get(state, a) + get(step, a))
    set(state, GAIN, Math.min(mostGain, Math.max(leastGain, get(state, GAIN))))
    if (Math.hypot(get(state, X), get(state, Y)) > FARTHEST) return false
    if (Math.hypot(get(step, X), get(step, Y)) < SETTLED && round > 0) break
  }
  set(out, 7, isSolvable ? toldOf(TURN) : 0)
  return hasResult
}

/** What holds an unknown back, that may go so far by itself. */
function pullOf(spread: f64, prior: f64): f64 {
  const share = spread / prior
  return share * share
}

/** Weighs pixels by how well they fit; gives the residuals' robust deviation. */
function weighRobustly(residual: usize, weight: usize, robust: usize, count: i32, noise: f64): f64 {
  const spread = Math.max(Math.max(1.2 * noise, 2), 1.4826 * medianSize(residual, weight, count))
  const each = f32x4.splat(1 / (ELSE * <f32>spread))
  const one = f32x4.splat(1)
  for (let k = 0; k < count; k += 4) {
    const place = (<usize>k) << 2
    const share = f32x4.mul(v128.load(residual + place), each)
    const left = f32x4.max(f32x4.sub(one, f32x4.mul(share, share)), f32x4.splat(0))
    v128.store(robust + place, f32x4.mul(left, left))
  }
  return spread
}

/** Median of the residuals' sizes, to a quarter step of brightness: counting is quicker than sorting. */
function medianSize(residual: usize, weight: usize, count: i32): f64 {
  memory.fill(counts, 0, BINS * 4)
  let all = 0
  for (let k = 0; k < count; k++) {
    if (at(weight, k) <= 0.1) continue
    const bin = counts + ((<usize>min(BINS - 1, <i32>(<f32>4 * Mathf.abs(at(residual, k))))) << 2)
    store<i32>(bin, load<i32>(bin) + 1)
    all++
  }
  let passed = 0
  for (let bin = 0; bin < BINS; bin++) {
    passed += load<i32>(counts + ((<usize>bin) << 2))
    if (2 * passed >= all) return all > 0 ? (bin + 0.5) / 4 : 0.125
  }
  return 0
}

/** Factors the normal equations of weighed slopes; false where they don't tell the unknowns apart. */
function factorOf(slopes: usize, stride: i32, weights: usize, weighed: usize, count: i32): bool {
  for (let i = 0; i < UNKNOWNS; i++) {
    multiply(weights, slopes + i * stride, weighed, count)
    for (let k = 0; k <= i; k++) {
      const own = dot(weighed, slopes + k * stride, count)
      set(normal, UNKNOWNS * i + k, own + (i === k ? get(pulls, i) : 0))
    }
  }
  return factor(normal, UNKNOWNS, UNKNOWNS)
}

/** How much of what is known of an unknown after the fit the pixels tell, 0 … 1: the rest is what was expected of it. */
function toldOf(unknown: i32): f64 {
  for (let a = 0; a < UNKNOWNS; a++) set(step, a, a === unknown ? 1 : 0)
  solve(normal, step, UNKNOWNS, UNKNOWNS)
  // The variance after the fit over that before it is what is not told.
  return 1 - get(pulls, unknown) * get(step, unknown)
}
