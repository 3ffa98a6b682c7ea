import { at, put } from './sampling'

/** Behind every grid lie four numbers that can be read along with its last ones: no more than any other. */
function end(at: usize): void {
  v128.store(at, f32x4.splat(0))
}

/** Bytes as numbers to reckon with. */
export function toFloats(bytes: usize, floats: usize, count: i32): void {
  const whole = count & ~7
  for (let k = 0; k < whole; k += 8) {
    const wide = v128.load8x8_u(bytes + k)
    v128.store(floats + (k << 2), f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(wide)))
    v128.store(floats + (k << 2) + 16, f32x4.convert_i32x4_u(i32x4.extend_high_i16x8_u(wide)))
  }
  for (let k = whole; k < count; k++) put(floats, k, <f32>load<u8>(bytes + k))
  end(floats + (count << 2))
}

/** A grid at half the size: each pixel is the mean of four. */
export function halve(from: usize, width: i32, height: i32, to: usize): void {
  const half = width >> 1
  const whole = half & ~3
  for (let row = 0; row < height >> 1; row++) {
    const upper = from + ((2 * row * width) << 2)
    const lower = upper + (width << 2)
    const line = to + ((row * half) << 2)
    for (let column = 0; column < whole; column += 4) {
      const left = f32x4.add(v128.load(upper + (column << 3)), v128.load(lower + (column << 3)))
      const right = f32x4.add(v128.load(upper + (column << 3) + 16), v128.load(lower + (column << 3) + 16))
      const even = v128.shuffle<f32>(left, right, 0, 2, 4, 6)
      const odd = v128.shuffle<f32>(left, right, 1, 3, 5, 7)
      v128.store(line + (column << 2), f32x4.mul(f32x4.add(even, odd), f32x4.splat(0.25)))
    }
    for (let column = whole; column < half; column++) {
      const k = 2 * column
      put(line, column, (at(upper, k) + at(upper, k + 1) + at(lower, k) + at(lower, k + 1)) / 4)
    }
  }
  end(to + ((half * (height >> 1)) << 2))
}

/**
 * Bytes at a whole part of the size: each is the mean of a square of them, rounded.
 *
 * @param stride bytes from one row to the next; `step` from one pixel to the next
 * @param factor pixels along a side of the square, at most 256
 * @param width @param height of the smaller grid
 * @param sums room for `width * factor * step` numbers of two bytes, and 16 bytes
 */
export function shrink(
  from: usize,
  stride: i32,
  step: i32,
  factor: i32,
  width: i32,
  height: i32,
  sums: usize,
  to: usize,
): void {
  const across = factor * step
  const count = width * across
  const area = factor * factor
  for (let row = 0; row < height; row++) {
    for (let k = 0; k < count; k += 8) v128.store(sums + (k << 1), i16x8.splat(0))
    for (let dy = 0; dy < factor; dy++) {
      const line = from + (row * factor + dy) * stride
      for (let k = 0; k < count; k += 8) {
        const place = sums + (k << 1)
        v128.store(place, i16x8.add(v128.load(place), v128.load8x8_u(line + k)))
      }
    }
    let at = sums
    for (let column = 0; column < width; column++) {
      let sum = 0
      for (let k = 0; k < across; k += step) sum += <i32>load<u16>(at + (k << 1))
      at += across << 1
      store<u8>(to + row * width + column, <u8>((2 * sum + area) / (2 * area)))
    }
  }
}
