/** Normal equations in lists of double precision, solved by Cholesky's factorisation. */

/** The number at a place of a list of double precision. */
export function get(list: usize, k: i32): f64 {
  return load<f64>(list + ((<usize>k) << 3))
}

/** Puts a number to a place of a list of double precision. */
export function set(list: usize, k: i32, value: f64): void {
  store<f64>(list + ((<usize>k) << 3), value)
}

/**
 * Factors a symmetric positive definite matrix in place; false where it is singular.
 *
 * @param matrix its lower triangle, in rows of `stride` numbers
 */
export function factor(matrix: usize, count: i32, stride: i32): bool {
  for (let i = 0; i < count; i++)
    for (let k = 0; k <= i; k++) {
      const own = get(matrix, stride * i + k)
      let sum = own
      for (let m = 0; m < k; m++) sum -= get(matrix, stride * i + m) * get(matrix, stride * k + m)
      if (i !== k) set(matrix, stride * i + k, sum / get(matrix, (stride + 1) * k))
      else if (sum > 1e-9 * (own + 1e-9)) set(matrix, (stride + 1) * i, Math.sqrt(sum))
      else return false
    }
  return true
}

/** Replaces the right side of the equations by their solution; `matrix` is factored. */
export function solve(matrix: usize, right: usize, count: i32, stride: i32): void {
  for (let i = 0; i < count; i++) {
    let sum = get(right, i)
    for (let m = 0; m < i; m++) sum -= get(matrix, stride * i + m) * get(right, m)
    set(right, i, sum / get(matrix, (stride + 1) * i))
  }
  for (let i = count - 1; i >= 0; i--) {
    let sum = get(right, i)
    for (let m = i + 1; m < count; m++) sum -= get(matrix, stride * m + i) * get(right, m)
    set(right, i, sum / get(matrix, (stride + 1) * i))
  }
}
