import { factor, get, set, solve } from './equations'
import { at, isUnknown } from './sampling'

/** Rounds of refinement, and the change of a place, in pixels, below which it ends. */
const ROUNDS = 12
const SETTLED: f64 = 0.01
/** Residuals beyond this share of a pixel are outliers: something hides the body there, or something else is there. */
const OUTLIER: f32 = 0.35
/** Deviation of the shape's growth from one frame to the next, and of the noise of a pixel's share. */
const GROWTH: f64 = 0.02
const NOISE: f64 = 0.1
/** Most turn in one round, in radians. */
const MOST_TURN: f64 = 0.5

/** Unknowns of a fit: both coordinates, the growth's logarithm, and the turn of an elongated shape. */
const UNKNOWNS = 4

const normal = memory.data(UNKNOWNS * UNKNOWNS * 8, 16)
const right = memory.data(UNKNOWNS * 8, 16)

/** Keeps four sums of single precision as a row of the normal equations. */
function keep(list: usize, sums: v128): void {
  v128.store(list, f64x2.promote_low_f32x4(sums))
  v128.store(list + 16, f64x2.promote_low_f32x4(v128.shuffle<f32>(sums, sums, 2, 3, 0, 1)))
}

/**
 * Refines where a shape covers a grid, by robust least squares on the covered shares for place, growth, and turn where it
 * is one of the unknowns (iteratively reweighted by Geman and McClure's function).
 *
 * @param coverage of the frame's part, NaN where it is not known
 * @param left @param top @param rightEnd @param bottom the part of it that is compared: first column and row, and the ones
 *   behind the last
 * @param shape of each of its pixels four numbers: what is covered, its slopes to the right and down, and 0 where neither it
 *   nor the next ones to the right and down have slopes
 * @param shapeX @param shapeY where the shape's first pixel lies from its point
 * @param unknowns 3, or 4 with the turn
 * @param wholeRounds rounds at the beginning in which outliers count, too
 * @param most way in one round, in pixels
 * @param mostGrowth most change of the growth's logarithm
 * @param pose x, y, growth's logarithm and turn to begin with, which become the result; the score is written behind them
 * @returns whether there is a result
 */
export function refineShape(
  coverage: usize,
  width: i32,
  left: i32,
  top: i32,
  rightEnd: i32,
  bottom: i32,
  shape: usize,
  shapeX: f32,
  shapeY: f32,
  columns: i32,
  rows: i32,
  unknowns: i32,
  wholeRounds: i32,
  most: f64,
  mostGrowth: f64,
  pose: usize,
): bool {
  const growthBefore = get(pose, 2)
  const line = (<usize>columns) << 4
  for (let round = 0; round < ROUNDS; round++) {
    const x = <f32>get(pose, 0)
    const y = <f32>get(pose, 1)
    const scale = Math.exp(get(pose, 2))
    const cos = <f32>(Math.cos(get(pose, 3)) / scale)
    const sin = <f32>(Math.sin(get(pose, 3)) / scale)
    let sums = f32x4.splat(0)
    let sums0 = f32x4.splat(0)
    let sums1 = f32x4.splat(0)
    let sums2 = f32x4.splat(0)
    let sums3 = f32x4.splat(0)
    for (let row = top; row < bottom; row++) {
      const dy = <f32>row + 0.5 - y
      for (let column = left; column < rightEnd; column++) {
        const value = at(coverage, row * width + column)
        if (isUnknown(value)) continue
        const dx = <f32>column + 0.5 - x
        const u = cos * dx + sin * dy
        const v = cos * dy - sin * dx
        const across = u - 0.5 - shapeX
        const down = v - 0.5 - shapeY
        const i = <i32>Mathf.floor(across)
        const j = <i32>Mathf.floor(down)
        if (i < 0 || j < 0 || i + 1 >= columns || j + 1 >= rows) continue
        const corner = shape + ((<usize>(j * columns + i)) << 4)
        if (load<f32>(corner, 12) === 0) continue
        const drawn = between(corner, line, across - <f32>i, down - <f32>j)
        const gx = f32x4.extract_lane(drawn, 1)
        const gy = f32x4.extract_lane(drawn, 2)
        const off = value - f32x4.extract_lane(drawn, 0)
        const share = off / OUTLIER
        const outlying: f32 = 1 + share * share
        let weight: f32 = 1
        if (round >= wholeRounds) weight /= outlying * outlying
        const slopes = f32x4(sin * gy - cos * gx, -sin * gx - cos * gy, -(u * gx + v * gy), v * gx - u * gy)
        const weighed = f32x4.mul(f32x4.splat(weight), slopes)
        sums = f32x4.add(sums, f32x4.mul(weighed, f32x4.splat(off)))
        sums0 = f32x4.add(sums0, f32x4.mul(slopes, v128.shuffle<f32>(weighed, weighed, 0, 0, 0, 0)))
        sums1 = f32x4.add(sums1, f32x4.mul(slopes, v128.shuffle<f32>(weighed, weighed, 1, 1, 1, 1)))
        sums2 = f32x4.add(sums2, f32x4.mul(slopes, v128.shuffle<f32>(weighed, weighed, 2, 2, 2, 2)))
        sums3 = f32x4.add(sums3, f32x4.mul(slopes, v128.shuffle<f32>(weighed, weighed, 3, 3, 3, 3)))
      }
    }
    keep(right, sums)
    keep(normal, sums0)
    keep(normal + 32, sums1)
    keep(normal + 64, sums2)
    keep(normal + 96, sums3)
    // The growth is held near that of the frame before: by so much as the noise of a pixel's share is.
    const hold = (NOISE / GROWTH) * (NOISE / GROWTH)
    const growth = get(pose, 2) - growthBefore
    set(normal, 2 * UNKNOWNS + 2, get(normal, 2 * UNKNOWNS + 2) + hold)
    set(right, 2, get(right, 2) - hold * growth)
    if (!factor(normal, unknowns, UNKNOWNS)) return false
    solve(normal, right, unknowns, UNKNOWNS)
    const size = Math.hypot(get(right, 0), get(right, 1))
    const part = size > most ? most / size : 1
    set(pose, 0, get(pose, 0) + part * get(right, 0))
    set(pose, 1, get(pose, 1) + part * get(right, 1))
    // What hides a part of a body must not make it smaller.
    set(pose, 2, growthBefore + limited(growth + part * get(right, 2), mostGrowth))
    if (unknowns === UNKNOWNS) set(pose, 3, get(pose, 3) + limited(part * get(right, 3), MOST_TURN))
    if (size < SETTLED && round >= wholeRounds) break
  }
  set(
    pose,
    4,
    scoreAt(coverage, width, left, top, rightEnd, bottom, shape, shapeX, shapeY, columns, rows, pose),
  )
  return true
}

function limited(value: f64, most: f64): f64 {
  return Math.min(most, Math.max(-most, value))
}

/** A shape's numbers between its pixels, by the nearest four. */
function between(corner: usize, line: usize, s: f32, t: f32): v128 {
  const across = f32x4.splat(s)
  const a = v128.load(corner)
  const b = v128.load(corner + 16)
  const upper = f32x4.add(a, f32x4.mul(across, f32x4.sub(b, a)))
  const c = v128.load(corner + line)
  const lower = f32x4.add(c, f32x4.mul(across, f32x4.sub(v128.load(corner + line + 16), c)))
  return f32x4.add(upper, f32x4.mul(f32x4.splat(t), f32x4.sub(lower, upper)))
}

/** 1: exactly the shape is covered at a pose; 0: the differences are as large as if nothing were. */
function scoreAt(
  coverage: usize,
  width: i32,
  left: i32,
  top: i32,
  rightEnd: i32,
  bottom: i32,
  shape: usize,
  shapeX: f32,
  shapeY: f32,
  columns: i32,
  rows: i32,
  pose: usize,
): f64 {
  const x = <f32>get(pose, 0)
  const y = <f32>get(pose, 1)
  const scale = Math.exp(get(pose, 2))
  const cos = <f32>(Math.cos(get(pose, 3)) / scale)
  const sin = <f32>(Math.sin(get(pose, 3)) / scale)
  let residual: f64 = 0
  let all: f64 = 0
  for (let row = top; row < bottom; row++) {
    const dy = <f32>row + 0.5 - y
    for (let column = left; column < rightEnd; column++) {
      const value = at(coverage, row * width + column)
      if (isUnknown(value)) continue
      const dx = <f32>column + 0.5 - x
      const across = cos * dx + sin * dy - 0.5 - shapeX
      const down = cos * dy - sin * dx - 0.5 - shapeY
      const i = <i32>Mathf.floor(across)
      const j = <i32>Mathf.floor(down)
      let share: f32 = 0
      if (i >= 0 && j >= 0 && i + 1 < columns && j + 1 < rows) {
        const corner = shape + ((<usize>(j * columns + i)) << 4)
        share = f32x4.extract_lane(between(corner, (<usize>columns) << 4, across - <f32>i, down - <f32>j), 0)
      }
      const off = value - share
      residual += off * off
      all += share * share
    }
  }
  return all > 0 ? 1 - residual / all : 0
}
