/** Grey-scale morphology with square neighbourhoods (Serra, Image Analysis and Mathematical Morphology, 1982). */
import { at, isUnknown, put } from './sampling'

const LOWEST: f32 = -Infinity

/** Replaces each of `count` numbers by the larger of it and the one `apart` places behind it. */
function largerOfTwo(data: usize, count: i32, apart: i32): void {
  const whole = count & ~3
  const ahead = data + ((<usize>apart) << 2)
  for (let k = 0; k < whole; k += 4) {
    const offset = (<usize>k) << 2
    v128.store(data + offset, f32x4.pmax(v128.load(data + offset), v128.load(ahead + offset)))
  }
  for (let k = whole; k < count; k++) put(data, k, max(at(data, k), at(ahead, k)))
}

/**
 * The largest value within `half` of each along a line, for many lines at once: the largest of two, of four, … values, and
 * of two such that overlap, which takes a number of rounds that grows with the logarithm of `half`.
 *
 * @param padded the lines' values, which are overwritten: `half` times -Infinity lie before and behind
 * @param count of values with their padding, less one step's; `step` places apart from one value of a line to its next
 */
function largestWithin(padded: usize, count: i32, step: i32, half: i32, to: usize): void {
  const window = 2 * half + 1
  let span = 1
  for (; 2 * span <= window; span *= 2) largerOfTwo(padded, count - (2 * span - 1) * step, span * step)
  const results = count - 2 * half * step
  const last = padded + ((<usize>((window - span) * step)) << 2)
  const whole = results & ~3
  for (let k = 0; k < whole; k += 4) {
    const offset = (<usize>k) << 2
    v128.store(to + offset, f32x4.pmax(v128.load(padded + offset), v128.load(last + offset)))
  }
  for (let k = whole; k < results; k++) put(to, k, max(at(padded, k), at(last, k)))
}

/**
 * The largest value within `half` pixels of each, or the smallest where `sign` is -1; 0 if none is known. Values that are
 * NaN do not count.
 *
 * @param from may be the same as `to`
 * @param room for `width` × (`height` + 2 `half`) + 2 `half` numbers, and four more
 */
export function extreme(
  from: usize,
  width: i32,
  height: i32,
  half: i32,
  sign: f32,
  to: usize,
  room: usize,
): void {
  const signs = f32x4.splat(sign)
  const lowest = f32x4.splat(LOWEST)
  const count = width * height
  const whole = count & ~3
  // Rows first: each is laid between its padding, then written to its place between rows of padding.
  const line = room
  const rows = room + ((<usize>(width + 2 * half)) << 2)
  fill(rows, half * width)
  const inner = rows + ((<usize>(half * width)) << 2)
  for (let row = 0; row < height; row++) {
    fill(line, width + 2 * half)
    const source = from + ((<usize>(row * width)) << 2)
    const middle = line + ((<usize>half) << 2)
    const some = width & ~3
    for (let k = 0; k < some; k += 4) {
      const offset = (<usize>k) << 2
      const value = v128.load(source + offset)
      v128.store(middle + offset, v128.bitselect(f32x4.mul(signs, value), lowest, f32x4.eq(value, value)))
    }
    for (let k = some; k < width; k++) {
      const value = at(source, k)
      put(middle, k, isUnknown(value) ? LOWEST : sign * value)
    }
    largestWithin(line, width + 2 * half, 1, half, inner + ((<usize>(row * width)) << 2))
  }
  fill(inner + ((<usize>count) << 2), half * width)
  largestWithin(rows, (height + 2 * half) * width, width, half, to)
  for (let k = 0; k < whole; k += 4) {
    const offset = (<usize>k) << 2
    const value = v128.load(to + offset)
    v128.store(to + offset, v128.andnot(f32x4.mul(signs, value), f32x4.eq(value, lowest)))
  }
  for (let k = whole; k < count; k++) {
    const value = at(to, k)
    put(to, k, value === LOWEST ? 0 : sign * value)
  }
}

function fill(list: usize, count: i32): void {
  for (let k = 0; k < count; k++) put(list, k, LOWEST)
}

/**
 * Closes holes and bays of a grid up to a width; what is NaN stays so.
 *
 * @param room as for `extreme`
 */
export function close(from: usize, width: i32, height: i32, half: i32, to: usize, room: usize): void {
  extreme(from, width, height, half, 1, to, room)
  extreme(to, width, height, half, -1, to, room)
  for (let k = 0; k < width * height; k++) {
    const value = at(from, k)
    if (isUnknown(value)) put(to, k, value)
  }
}
