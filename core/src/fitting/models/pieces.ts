import { type Evaluate, FitError } from '../../regression/index.ts'

/** Returns which piece between breaks a place lies in: a place at a break is in the later one. */
function pieceOf(breaks: readonly number[], place: number): number {
  let piece = 0
  while (piece < breaks.length && place >= breaks[piece]) piece++
  return piece
}

/** @throws FitError where no break parts the stretch */
export function mustBreak(breaks: readonly number[]): void {
  if (breaks.length === 0) throw new FitError({ code: 'no-break' })
}

/**
 * Returns a polynomial for each piece between breaks, with the coefficients of the highest powers in common.
 *
 * @param own how many coefficients each piece has by itself
 * @param common how many it shares with all others; they come first
 */
export function pieceOn(breaks: readonly number[], own: number, common: number) {
  return (places: ArrayLike<number>): Evaluate =>
    (parameters, values, jacobian) => {
      for (const column of jacobian ?? []) column.fill(0)
      for (let i = 0; i < places.length; i++) {
        const first = common + own * pieceOf(breaks, places[i])
        let [value, power] = [0, 1]
        for (let k = 0; k < own + common; k++) {
          const at = k < own ? first + k : k - own
          value += parameters[at] * power
          if (jacobian) jacobian[at][i] = power
          power *= places[i]
        }
        values[i] = value
      }
    }
}
