/** Values of a grid between its pixels, four neighbours of a row at a time. */

/**
 * Weights of four pixels in a row for a place between the middle two, `s` of the way (Keys, IEEE Trans. ASSP 29
 * (1981) 1153: exact for parabolas).
 */
export function cubicWeights(s: f32): v128 {
  const at = f32x4.splat(s)
  let weights = f32x4.mul(at, f32x4(-0.5, 1.5, -1.5, 0.5))
  weights = f32x4.mul(f32x4.add(weights, f32x4(1, -2.5, 2, -0.5)), at)
  weights = f32x4.mul(f32x4.add(weights, f32x4(-0.5, 0, 0.5, 0)), at)
  return f32x4.add(weights, f32x4(0, 1, 0, 0))
}

/** Sum of four numbers. */
export function sumOf(four: v128): f32 {
  const two = f32x4.add(four, v128.shuffle<f32>(four, four, 2, 3, 0, 1))
  return f32x4.extract_lane(two, 0) + f32x4.extract_lane(two, 1)
}

/**
 * Value between pixels by the sixteen around it.
 *
 * @param corner where the first of the sixteen lies in memory
 * @param width pixels in a row
 */
export function cubicAt(corner: usize, width: i32, across: v128, down: v128): f32 {
  const row = width << 2
  let sum = f32x4.mul(v128.load(corner), v128.shuffle<f32>(down, down, 0, 0, 0, 0))
  sum = f32x4.add(sum, f32x4.mul(v128.load(corner + row), v128.shuffle<f32>(down, down, 1, 1, 1, 1)))
  sum = f32x4.add(sum, f32x4.mul(v128.load(corner + 2 * row), v128.shuffle<f32>(down, down, 2, 2, 2, 2)))
  sum = f32x4.add(sum, f32x4.mul(v128.load(corner + 3 * row), v128.shuffle<f32>(down, down, 3, 3, 3, 3)))
  return sumOf(f32x4.mul(sum, across))
}

/** The number at a place of a list. */
export function at(list: usize, index: i32): f32 {
  return load<f32>(list + ((<usize>index) << 2))
}

/** Puts a number to a place of a list. */
export function put(list: usize, index: i32, value: f32): void {
  store<f32>(list + ((<usize>index) << 2), value)
}

/** Whether a number is none. */
export function isUnknown(value: f32): bool {
  return !(value <= Infinity)
}
