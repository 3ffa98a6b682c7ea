import { at, cubicAt, cubicWeights, put } from './sampling'

/** Value between pixels by the nearest four; 0 outside. */
function roughAt(data: usize, width: i32, height: i32, u: f64, v: f64): f32 {
  const left = <i32>Math.floor(u)
  const top = <i32>Math.floor(v)
  if (left < 0 || top < 0 || left + 1 >= width || top + 1 >= height) return 0
  const across = <f32>(u - left)
  const first = top * width + left
  const upper = at(data, first) + across * (at(data, first + 1) - at(data, first))
  const second = first + width
  const lower = at(data, second) + across * (at(data, second + 1) - at(data, second))
  return upper + <f32>(v - top) * (lower - upper)
}

/**
 * Draws a look turned and scaled. Far from the body, where `near` is 0, it is not looked at closely.
 *
 * @param body 0 where it is not wanted
 * @param u @param v where the middle of the drawing's first pixel lies in the look, from the middle of the look's first
 * @param cos @param sin step in the look from one pixel of a drawn row to the next
 */
export function render(
  near: usize,
  cover: usize,
  body: usize,
  seen: usize,
  width: i32,
  height: i32,
  coverTo: usize,
  bodyTo: usize,
  seenTo: usize,
  columns: i32,
  rows: i32,
  u: f64,
  v: f64,
  cos: f64,
  sin: f64,
): void {
  let to = 0
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++, to++) {
      const x = u + cos * column + sin * row
      const y = v - sin * column + cos * row
      const left = <i32>Math.floor(x)
      const top = <i32>Math.floor(y)
      const first = top * width + left
      const isInside = left >= 1 && top >= 1 && left + 2 < width && top + 2 < height
      if (
        !isInside ||
        (load<u8>(near + first) === 0 &&
          load<u8>(near + first + 1) === 0 &&
          load<u8>(near + first + width) === 0)
      ) {
        put(coverTo, to, 0)
        if (body) put(bodyTo, to, 0)
        put(seenTo, to, roughAt(seen, width, height, x, y))
        continue
      }
      const across = cubicWeights(<f32>(x - left))
      const down = cubicWeights(<f32>(y - top))
      const corner = (first - width - 1) << 2
      put(coverTo, to, Mathf.min(1, Mathf.max(0, cubicAt(cover + corner, width, across, down))))
      if (body) put(bodyTo, to, cubicAt(body + corner, width, across, down))
      put(seenTo, to, cubicAt(seen + corner, width, across, down))
    }
}

/** Adds to a list another one times a weight. */
function addTimes(to: usize, from: usize, count: i32, weight: f32): void {
  const whole = count & ~3
  const each = f32x4.splat(weight)
  for (let k = 0; k < whole; k += 4) {
    const place = to + (k << 2)
    v128.store(place, f32x4.add(v128.load(place), f32x4.mul(each, v128.load(from + (k << 2)))))
  }
  for (let k = whole; k < count; k++) put(to, k, at(to, k) + weight * at(from, k))
}

/**
 * Draws a grid along a line: each tap is how far right and down to look, in whole pixels, and a weight. Beyond the
 * border the grid goes on as it is there.
 *
 * @param taps three numbers each, of 4 bytes: two whole ones and the weight
 */
export function smear(from: usize, to: usize, width: i32, height: i32, taps: usize, count: i32): void {
  memory.fill(to, 0, (width * height) << 2)
  for (let tap = 0; tap < count; tap++) {
    const place = taps + 12 * tap
    const dx = load<i32>(place)
    const dy = load<i32>(place, 4)
    const weight = load<f32>(place, 8)
    const first = min(width, max(0, -dx))
    const last = max(first, min(width, width - dx))
    for (let row = 0; row < height; row++) {
      const source = from + ((min(height - 1, max(0, row + dy)) * width) << 2)
      const line = to + ((row * width) << 2)
      for (let column = 0; column < first; column++)
        put(line, column, at(line, column) + weight * at(source, 0))
      addTimes(line + (first << 2), source + ((first + dx) << 2), last - first, weight)
      for (let column = last; column < width; column++)
        put(line, column, at(line, column) + weight * at(source, width - 1))
    }
  }
}
