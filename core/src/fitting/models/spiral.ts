/** Points after which turning on begins anew, so that what is rounded does not add up. */
const ANEW = 16
/** Places count as even when none is farther from its own than this share of the whole. */
const EVEN = 1e-13

/** Writes e^(−γt)·sin ωt and e^(−γt)·cos ωt at some places into two lists. */
export type Spiral = (omega: number, gamma: number, sin: Float64Array, cos: Float64Array) => void

/**
 * Sines and cosines that lessen, at places that stay the same. Where these are even, as a film's frames mostly are, a
 * point is the one before turned on by a step: a sixth of the time that sines take, and right to the last two digits.
 */
export function spiralOn(places: ArrayLike<number>): Spiral {
  const n = places.length
  const even = evenStep(places)
  const each = even === null ? 1 : ANEW
  const step = even ?? 0
  return (omega, gamma, sin, cos) => {
    // What a step changes, not what it makes of them: as exact as that change is small.
    const change = Math.expm1(-gamma * step)
    const half = Math.sin((omega * step) / 2)
    const turnSin = (1 + change) * Math.sin(omega * step)
    const turnCos = change - 2 * (1 + change) * half * half
    for (let from = 0; from < n; from += each) {
      const left = gamma === 0 ? 1 : Math.exp(-gamma * places[from])
      let s = left * Math.sin(omega * places[from])
      let c = left * Math.cos(omega * places[from])
      sin[from] = s
      cos[from] = c
      const to = Math.min(n, from + each)
      for (let i = from + 1; i < to; i++) {
        const more = s * turnCos + c * turnSin
        c += c * turnCos - s * turnSin
        s += more
        sin[i] = s
        cos[i] = c
      }
    }
  }
}

/** Returns how far growing places are from each other, where all are as far; null where they are not. */
function evenStep(places: ArrayLike<number>): number | null {
  const last = places.length - 1
  if (last < 2) return null
  const span = places[last] - places[0]
  const step = span / last
  for (let i = 1; i < last; i++)
    if (!(Math.abs(places[i] - places[0] - i * step) <= EVEN * Math.abs(span))) return null
  return step
}
