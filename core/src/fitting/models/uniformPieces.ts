import { sum, term } from './formula.ts'
import { AS_KNOWN, type LawParameter, type Model } from './model.ts'
import { mustBreak, pieceOn } from './pieces.ts'

/** Uniform motion, another one after each break. */
export const uniformPieces: Model = {
  id: 'pieces',
  name: 'Uniform between breaks',
  group: 'before-and-after',
  law: ({ order, letter, isAngle, breaks }) => {
    if (order === 2) return null
    const pieces = Array.from({ length: breaks.length + 1 }, (_, i) => String(i + 1))
    const isLine = order !== 1
    const slope = order === null ? 'k' : isAngle ? 'ω' : 'v'
    const what = order === null ? 'Slope' : isAngle ? 'Angular velocity' : 'Velocity'
    const rate = isLine ? { value: 1, along: -1 } : { value: 1 }
    const each = isLine ? 2 : 1
    const parameters = pieces.flatMap((piece): LawParameter[] => [
      ...(isLine
        ? [
            {
              symbol: letter,
              subscript: `0${piece}`,
              dimension: { value: 1 },
              name: `piece ${piece}, carried on to t = 0`,
            },
          ]
        : []),
      { symbol: slope, subscript: piece, name: `${what.toLowerCase()} in piece ${piece}`, dimension: rate },
    ])
    return {
      parameters,
      readings: pieces.map((piece, i) => ({
        key: `piece-${piece}`,
        symbol: slope,
        subscript: piece,
        dimension: rate,
        name: pieces.length === 2 ? `${what} ${i === 0 ? 'before' : 'after'}` : `${what} in piece ${piece}`,
        of: (shown: readonly number[]) => shown[each * i + each - 1],
      })),
      formula: (given, along) =>
        `\\begin{cases}${pieces
          .map((_, i) => (isLine ? sum(given[2 * i], term(given[2 * i + 1], along)) : given[i]))
          .join('\\\\')}\\end{cases}`,
      knowsBreaks: true,
      linear: parameters.map((_, k) => k),
      ...AS_KNOWN,
      on: pieceOn(breaks, each, 0),
      begin: () => {
        mustBreak(breaks)
        return { starts: [parameters.map(() => 0)] }
      },
    }
  },
}
