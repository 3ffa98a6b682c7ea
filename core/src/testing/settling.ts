import type { Evaluate } from '../regression/index.ts'

/** c + A·exp(−t/τ) at some times, by c, A and τ, with its slopes: a model for tests of fits. */
export function settlingAt(times: Float64Array): Evaluate {
  return ([c, size, slow], values, slopes) => {
    times.forEach((t, i) => {
      const left = Math.exp(-t / slow)
      values[i] = c + size * left
      if (!slopes) return
      slopes[0][i] = 1
      slopes[1][i] = left
      slopes[2][i] = (size * left * t) / slow ** 2
    })
  }
}
