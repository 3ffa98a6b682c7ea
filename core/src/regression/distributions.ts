/** Natural logarithm of the gamma function for x > 0 (Lanczos' approximation with g = 7, n = 9; about 15 digits). */
function logGamma(x: number): number {
  const coefficients = [
    0.99999999999980993, 676.5203681218851, -1259.1392167224028, 771.32342877765313, -176.61502916214059,
    12.507343278686905, -0.13857109526572012, 9.9843695780195716e-6, 1.5056327351493116e-7,
  ]
  const z = x - 1
  let sum = coefficients[0]
  for (let k = 1; k < 9; k++) sum += coefficients[k] / (z + k)
  const t = z + 7.5
  return 0.5 * Math.log(2 * Math.PI) + (z + 0.5) * Math.log(t) - t + Math.log(sum)
}

/** Regularised incomplete beta function by its continued fraction, Lentz's way (DLMF 8.17.22). */
function incompleteBeta(a: number, b: number, x: number): number {
  if (x <= 0) return 0
  if (x >= 1) return 1
  if (x > (a + 1) / (a + b + 2)) return 1 - incompleteBeta(b, a, 1 - x)
  const front =
    Math.exp(logGamma(a + b) - logGamma(a) - logGamma(b) + a * Math.log(x) + b * Math.log1p(-x)) / a
  const tiny = 1e-300
  let c = 1
  let d = 1 / (1 - ((a + b) * x) / (a + 1) || tiny)
  let fraction = d
  for (let m = 1; m <= 500; m++) {
    const even = (m * (b - m) * x) / ((a + 2 * m - 1) * (a + 2 * m))
    d = 1 / (1 + even * d || tiny)
    c = 1 + even / c || tiny
    fraction *= d * c
    const odd = (-(a + m) * (a + b + m) * x) / ((a + 2 * m) * (a + 2 * m + 1))
    d = 1 / (1 + odd * d || tiny)
    c = 1 + odd / c || tiny
    const step = d * c
    fraction *= step
    if (Math.abs(step - 1) < 1e-15) break
  }
  return front * fraction
}

/**
 * Probability that |t| is larger than a value, at `freedom` degrees of freedom (any number above 0, also a fraction;
 * infinity gives the normal distribution).
 */
export function studentBeyond(t: number, freedom: number): number {
  // Beyond a hundred million degrees of freedom t and the normal agree to eight digits.
  const nu = Math.min(freedom, 1e8)
  return incompleteBeta(nu / 2, 0.5, nu / (nu + t * t))
}

/**
 * Two-sided quantile of Student's t: |t| stays below it with probability `confidence` at `freedom`
 * degrees of freedom (any number above 0, also a fraction; infinity gives the normal quantile).
 */
export function studentQuantile(confidence: number, freedom: number): number {
  let low = 0
  let high = 1
  while (studentBeyond(high, freedom) > 1 - confidence && high < 1e12) high *= 2
  for (let i = 0; i < 200 && high - low > 1e-14 * high; i++) {
    const middle = (low + high) / 2
    if (studentBeyond(middle, freedom) > 1 - confidence) low = middle
    else high = middle
  }
  return (low + high) / 2
}

/**
 * Probability that a χ² variable with `freedom` degrees of freedom is larger than a value: the regularised incomplete gamma function
 * Q(ν/2, χ²/2), by its series below ν/2 + 1 (DLMF 8.11.4) and by its continued fraction above (DLMF 8.9.2, Lentz's way).
 */
export function chiSquareBeyond(value: number, freedom: number): number {
  const [a, x] = [freedom / 2, value / 2]
  if (!(x > 0)) return 1
  const front = Math.exp(a * Math.log(x) - x - logGamma(a))
  if (x < a + 1) {
    let [term, sum] = [1 / a, 1 / a]
    for (let n = 1; n < 10_000 && term > 1e-16 * sum; n++) {
      term *= x / (a + n)
      sum += term
    }
    return 1 - front * sum
  }
  let b = x + 1 - a
  let c = 1e300
  let d = 1 / b
  let fraction = d
  for (let n = 1; n < 10_000; n++) {
    const numerator = -n * (n - a)
    b += 2
    d = 1 / (numerator * d + b)
    c = b + numerator / c
    const step = c * d
    fraction *= step
    if (Math.abs(step - 1) < 1e-15) break
  }
  return front * fraction
}
