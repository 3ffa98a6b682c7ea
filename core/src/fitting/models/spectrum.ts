/** Cells of the even grid for each point, at least: the finer, the less high frequencies are weakened. */
const CELLS_PER_POINT = 1.5
/** How much longer than the record the grid is: so many frequencies are looked at for each whole period more in it. */
const OVERSAMPLED = 4

/** A frequency at which values swing strongly, in cycles over the whole of their times. */
export interface Peak {
  cycles: number
  power: number
}

/**
 * Returns the frequencies at which values at any times swing most strongly, strongest first: the values are shared out between the
 * neighbouring cells of an even grid, whose spectrum is that of the values themselves up to a slow weakening (after Press
 * and Rybicki, Astrophysical Journal 338 (1989) 277). It is for finding where to look, not for measuring.
 *
 * @param times growing
 * @param highest cycles over the whole of the times beyond which nothing is looked for
 * @param count of peaks at most
 */
export function strongestSwings(
  times: ArrayLike<number>,
  values: ArrayLike<number>,
  highest: number,
  count: number,
): Peak[] {
  const n = times.length
  const [first, last] = [times[0], times[n - 1]]
  const cells = 2 ** Math.ceil(Math.log2(CELLS_PER_POINT * Math.max(n, 2 * highest)))
  const size = OVERSAMPLED * cells
  // Real values by turns as real and imaginary parts of half as many: half the work (Press et al., Numerical Recipes, 12.3).
  const half = size / 2
  const even = new Float64Array(half)
  const odd = new Float64Array(half)
  const add = (cell: number, value: number) => {
    if (cell % 2 === 0) even[cell >> 1] += value
    else odd[cell >> 1] += value
  }
  let mean = 0
  for (let i = 0; i < n; i++) mean += values[i] / n
  for (let i = 0; i < n; i++) {
    const place = ((times[i] - first) / (last - first)) * (cells - 1)
    const cell = Math.min(cells - 2, Math.floor(place))
    const share = place - cell
    add(cell, (1 - share) * (values[i] - mean))
    add(cell + 1, share * (values[i] - mean))
  }
  transform(even, odd)
  // Cycles over the grid, and over the times.
  const cyclesOf = (k: number) => (k / size) * (cells - 1)
  const { cos, sin } = turnsOf(size)
  const power = (k: number) => {
    const mirror = (half - k) % half
    const [a, b] = [(even[k] + even[mirror]) / 2, (odd[k] - odd[mirror]) / 2]
    const [c, d] = [(odd[k] + odd[mirror]) / 2, (even[mirror] - even[k]) / 2]
    const real = a + cos[k] * c - sin[k] * d
    const imaginary = b + cos[k] * d + sin[k] * c
    return real * real + imaginary * imaginary
  }
  const peaks: Peak[] = []
  let [left, here, right] = [power(0), power(1), power(2)]
  for (let k = 1; k + 1 < half && cyclesOf(k) <= highest; k++) {
    if (k > 1) [left, here, right] = [here, right, power(k + 1)]
    if (here < left || here < right) continue
    // Through the three by a parabola.
    const bend = left - 2 * here + right
    const off = bend < 0 ? (0.5 * (left - right)) / bend : 0
    peaks.push({ cycles: cyclesOf(k + off), power: here })
  }
  return peaks.sort((a, b) => b.power - a.power).slice(0, count)
}

/** Kept by the size. */
const turns = new Map<number, { cos: Float64Array; sin: Float64Array }>()

function turnsOf(n: number): { cos: Float64Array; sin: Float64Array } {
  const known = turns.get(n)
  if (known) return known
  const made = { cos: new Float64Array(n / 2), sin: new Float64Array(n / 2) }
  for (let k = 0; k < n / 2; k++) {
    made.cos[k] = Math.cos((2 * Math.PI * k) / n)
    made.sin[k] = -Math.sin((2 * Math.PI * k) / n)
  }
  turns.set(n, made)
  return made
}

/** Fourier transform in place, of a power of two of values, at least four (Cooley and Tukey, Math. Comput. 19 (1965) 297). */
function transform(real: Float64Array, imaginary: Float64Array): void {
  const n = real.length
  for (let i = 1, j = 0; i < n; i++) {
    let bit = n >> 1
    for (; j & bit; bit >>= 1) j ^= bit
    j ^= bit
    if (i < j) {
      ;[real[i], real[j]] = [real[j], real[i]]
      ;[imaginary[i], imaginary[j]] = [imaginary[j], imaginary[i]]
    }
  }
  // The first two rounds turn by nothing and by quarters: no products.
  for (let a = 0; a + 3 < n; a += 4) {
    const evenReal = real[a] + real[a + 1]
    const evenImaginary = imaginary[a] + imaginary[a + 1]
    const evenLessReal = real[a] - real[a + 1]
    const evenLessImaginary = imaginary[a] - imaginary[a + 1]
    const oddReal = real[a + 2] + real[a + 3]
    const oddImaginary = imaginary[a + 2] + imaginary[a + 3]
    const oddLessReal = real[a + 2] - real[a + 3]
    const oddLessImaginary = imaginary[a + 2] - imaginary[a + 3]
    real[a] = evenReal + oddReal
    imaginary[a] = evenImaginary + oddImaginary
    real[a + 1] = evenLessReal + oddLessImaginary
    imaginary[a + 1] = evenLessImaginary - oddLessReal
    real[a + 2] = evenReal - oddReal
    imaginary[a + 2] = evenImaginary - oddImaginary
    real[a + 3] = evenLessReal - oddLessImaginary
    imaginary[a + 3] = evenLessImaginary + oddLessReal
  }
  // The table for twice as many is wanted afterwards, too.
  const { cos, sin } = turnsOf(2 * n)
  for (let half = 4; half < n; half *= 2) {
    const stride = n / half
    for (let start = 0; start < n; start += 2 * half) {
      const end = start + half
      for (let a = start, b = end, turn = 0; a < end; a++, b++, turn += stride) {
        const c = cos[turn]
        const s = sin[turn]
        const turnedReal = c * real[b] - s * imaginary[b]
        const turnedImaginary = c * imaginary[b] + s * real[b]
        real[b] = real[a] - turnedReal
        imaginary[b] = imaginary[a] - turnedImaginary
        real[a] += turnedReal
        imaginary[a] += turnedImaginary
      }
    }
  }
}
