/**
 * Compensated dot product: as accurate as if computed in twice the working precision (Ogita, Rump and Oishi, "Accurate sum
 * and dot product", SIAM J. Sci. Comput. 26, 2005, algorithm Dot2, with Dekker's splitting). Used for residuals, where
 * digits cancel.
 */

const SPLITTER = 2 ** 27 + 1

/** Returns the rounding error of `product` = a·b. */
function productError(a: number, b: number, product: number): number {
  const ca = SPLITTER * a
  const ah = ca - (ca - a)
  const al = a - ah
  const cb = SPLITTER * b
  const bh = cb - (cb - b)
  const bl = b - bh
  return al * bl - (product - ah * bh - al * bh - ah * bl)
}

/** Returns y − Σ aₖbₖ, rounded once at the end. */
export function residual(y: number, a: ArrayLike<number>, b: ArrayLike<number>): number {
  let sum = y
  let error = 0
  for (let k = 0; k < a.length; k++) {
    const product = -a[k] * b[k]
    const next = sum + product
    const part = next - sum
    error += sum - (next - part) + (product - part) + productError(-a[k], b[k], product)
    sum = next
  }
  return sum + error
}
