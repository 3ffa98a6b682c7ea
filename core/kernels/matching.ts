import { at, put, sumOf } from './sampling'

/** Weight of a pixel beside the body where it is not known what is behind it. */
const BESIDE: f32 = 0.12
/** Share of a pixel from which on the body counts as being there. */
const THERE: f32 = 0.03
/** Share of a pixel from which on it belongs to the body's width and height. */
const ACROSS: f32 = 0.3

/**
 * Which pixels of a patch are compared, and how much each counts: those that the body covers and those beside them;
 * all others 0.
 *
 * @param weights as many as the patch has pixels
 * @param packed row after row of those that count, filled up to four each: their weights, then as far behind as there are
 * pixels and three more for each row, their weighed light
 * @param runs for each row the first of its pixels that counts, and how many from there on
 * @param sums seven numbers: of the weights, of the weighed light, of its square; left, right, top and bottom of the body
 * @param line room for a row and eight more
 */
export function weigh(
  cover: usize,
  seen: usize,
  width: i32,
  height: i32,
  weights: usize,
  packed: usize,
  runs: usize,
  sums: usize,
  line: usize,
): void {
  let total: f32 = 0
  let light: f32 = 0
  let square: f32 = 0
  let left = width
  let right = 0
  let top = height
  let bottom = 0
  let filled = 0
  const looks = packed + ((height * (width + 3)) << 2)
  memory.fill(line, 0, (width + 8) << 2)
  const own = line + 16
  for (let row = 0; row < height; row++) {
    const middle = cover + ((row * width) << 2)
    const above = row > 0 ? middle - (width << 2) : middle
    const below = row + 1 < height ? middle + (width << 2) : middle
    for (let column = 0; column < width; column++)
      put(own, column, Mathf.max(at(middle, column), Mathf.max(at(above, column), at(below, column))))
    let first = width
    let last = 0
    for (let column = 0; column < width; column++) {
      const share = at(middle, column)
      if (share > ACROSS) {
        left = min(left, column)
        right = max(right, column + 1)
        top = min(top, row)
        bottom = row + 1
      }
      const most = Mathf.max(at(own, column), Mathf.max(at(own, column - 1), at(own, column + 1)))
      let weight: f32 = 0
      if (most > THERE) {
        weight = Mathf.max(BESIDE, share * share)
        first = min(first, column)
        last = column + 1
        const value = at(seen, row * width + column)
        total += weight
        light += weight * value
        square += weight * value * value
      }
      put(weights, row * width + column, weight)
    }
    const run = max(0, last - first)
    store<i32>(runs + (row << 3), first)
    store<i32>(runs + (row << 3), run, 4)
    for (let k = 0; k < ((run + 3) & ~3); k++, filled++) {
      const pixel = row * width + first + k
      const weight: f32 = k < run ? at(weights, pixel) : 0
      put(packed, filled, weight)
      put(looks, filled, weight > 0 ? weight * at(seen, pixel) : 0)
    }
  }
  put(sums, 0, total)
  put(sums, 1, light)
  put(sums, 2, square)
  put(sums, 3, <f32>left)
  put(sums, 4, <f32>right)
  put(sums, 5, <f32>top)
  put(sums, 6, <f32>bottom)
}

/** The frame at hand, the background on the same pixels and where that is known (0: nowhere). */
let frame: usize = 0
let background: usize = 0
let known: usize = 0
let frameWidth: i32 = 0
let frameHeight: i32 = 0

/** The patch at hand: its light, what of it is the body's, and how its pixels are weighed. */
let cover: usize = 0
let body: usize = 0
let seen: usize = 0
let weights: usize = 0
let packed: usize = 0
let runs: usize = 0
let width: i32 = 0
let height: i32 = 0
let total: f32 = 0
let light: f32 = 0
let square: f32 = 0
/** Variance of the noise, and how much of the patch may lie outside the frame. */
let variance: f32 = 0
let outside: f32 = 0
/** How much brighter or darker the body may be. */
let leastGain: f32 = 0
let mostGain: f32 = 0

/** Says what the next places are looked for in. */
export function lookIn(
  frameAt: usize,
  backgroundAt: usize,
  knownAt: usize,
  columns: i32,
  rows: i32,
  noise: f32,
): void {
  frame = frameAt
  background = backgroundAt
  known = knownAt
  frameWidth = columns
  frameHeight = rows
  variance = noise * noise
}

/** Says which patch the next places are looked for with. */
export function lookFor(
  coverAt: usize,
  bodyAt: usize,
  seenAt: usize,
  weightsAt: usize,
  packedAt: usize,
  runsAt: usize,
  columns: i32,
  rows: i32,
  sums: usize,
  mostOutside: f32,
  least: f32,
  most: f32,
): void {
  cover = coverAt
  body = bodyAt
  seen = seenAt
  weights = weightsAt
  packed = packedAt
  runs = runsAt
  width = columns
  height = rows
  total = at(sums, 0)
  light = at(sums, 1)
  square = at(sums, 2)
  outside = mostOutside
  leastGain = least
  mostGain = most
}

/**
 * How well the patch fits with its corner at a place of the frame. Where the background is known, what is compared is
 * the frame less the background with the body less the background that it hides; where it is not, the frame with the
 * look, up to an offset. Both parts share one gain.
 */
function scoreAt(column: i32, row: i32): f32 {
  const isInside = column >= 0 && row >= 0 && column + width <= frameWidth && row + height <= frameHeight
  if (isInside && !known) return scoreInside(column, row)
  // Sums over what has a known background, and over the rest: data, model, both.
  let dd: f32 = 0
  let dm: f32 = 0
  let mm: f32 = 0
  let w: f32 = 0
  let i: f32 = 0
  let ii: f32 = 0
  let t: f32 = 0
  let tt: f32 = 0
  let it: f32 = 0
  let inside: f32 = 0
  for (let y = max(0, -row); y < min(height, frameHeight - row); y++) {
    const first = max(load<i32>(runs + (y << 3)), -column)
    const last = min(load<i32>(runs + (y << 3)) + load<i32>(runs + (y << 3), 4), frameWidth - column)
    const own = y * width
    const there = (row + y) * frameWidth + column
    for (let x = first; x < last; x++) {
      const share = at(weights, own + x)
      if (share === 0) continue
      inside += share
      const value = at(frame, there + x)
      if (known && at(known, there + x) > 0.5) {
        const behind = at(background, there + x)
        const difference = value - behind
        const expected = at(body, own + x) - at(cover, own + x) * behind
        dd += difference * difference
        dm += difference * expected
        mm += expected * expected
      } else {
        const look = at(seen, own + x)
        w += share
        i += share * value
        ii += share * value * value
        t += share * look
        tt += share * look * look
        it += share * value * look
      }
    }
  }
  if (inside < (1 - outside) * total) return 0
  if (w > 0) {
    dd += ii - (i * i) / w
    dm += it - (i * t) / w
    mm += tt - (t * t) / w
  }
  return scoreOf(dd, dm, mm)
}

/** The same for a patch that lies in the frame as a whole, where no background is known. */
function scoreInside(column: i32, row: i32): f32 {
  let i = f32x4.splat(0)
  let ii = f32x4.splat(0)
  let it = f32x4.splat(0)
  let own = packed
  let look = packed + ((height * (width + 3)) << 2)
  for (let y = 0; y < height; y++) {
    const first = load<i32>(runs + (y << 3))
    const end = first + load<i32>(runs + (y << 3), 4)
    const there = frame + (((row + y) * frameWidth + column) << 2)
    // What is read of the frame beyond the run has no weight.
    for (let x = first; x < end; x += 4, own += 16, look += 16) {
      const value = v128.load(there + (x << 2))
      const weighed = f32x4.mul(v128.load(own), value)
      i = f32x4.add(i, weighed)
      ii = f32x4.add(ii, f32x4.mul(weighed, value))
      it = f32x4.add(it, f32x4.mul(v128.load(look), value))
    }
  }
  const sum = sumOf(i)
  return scoreOf(
    sumOf(ii) - (sum * sum) / total,
    sumOf(it) - (sum * light) / total,
    square - (light * light) / total,
  )
}

/** Share of what is there that is explained, from the sums over what is there, both and what is expected. */
function scoreOf(there: f32, both: f32, expected: f32): f32 {
  if (!(expected > 0)) return 0
  const gain = Mathf.min(mostGain, Mathf.max(leastGain, both / expected))
  const rest = there - 2 * gain * both + gain * gain * expected
  // A scene without anything in it is all noise: what a patch explains of that says nothing. Nor is a faint
  // shade what a strong body is expected to be.
  return 1 - rest / Mathf.max(there + variance * total * 0.5, 0.5 * expected)
}

/** Scores in the round around a place, row by row of a square; beyond the round 0. */
export function scoresAround(column: i32, row: i32, far: i32, scores: usize): void {
  let to = 0
  for (let y = -far; y <= far; y++)
    for (let x = -far; x <= far; x++, to++) {
      const isNear = <f32>(x * x + y * y) <= (<f32>far + 0.5) * (<f32>far + 0.5)
      put(scores, to, isNear ? scoreAt(column + x, row + y) : 0)
    }
}

/** Scores that are known around where a climb began: a square of so many, the start in its middle. */
const SIDE = 16
/** No score is so low. */
const UNKNOWN: f32 = -Infinity
const climbed = memory.data(SIDE * SIDE * 4)

/**
 * Goes from a place to the best of its eight neighbours as long as one is better, and gives that one's score.
 *
 * @param steps at most
 * @param found two whole numbers: where it ended
 */
export function climb(column: i32, row: i32, steps: i32, found: usize): f32 {
  for (let k = 0; k < SIDE * SIDE; k++) put(climbed, k, UNKNOWN)
  let x = 0
  let y = 0
  let best = scoreAt(column, row)
  put(climbed, (SIDE / 2) * (SIDE + 1), best)
  for (let step = 0; step < steps; step++) {
    const fromX = x
    const fromY = y
    for (let v = fromY - 1; v <= fromY + 1; v++)
      for (let u = fromX - 1; u <= fromX + 1; u++) {
        const place = (v + SIDE / 2) * SIDE + u + SIDE / 2
        if (at(climbed, place) === UNKNOWN) put(climbed, place, scoreAt(column + u, row + v))
        if (at(climbed, place) > best) {
          best = at(climbed, place)
          x = u
          y = v
        }
      }
    if (x === fromX && y === fromY) break
  }
  store<i32>(found, column + x)
  store<i32>(found, row + y, 4)
  return best
}
