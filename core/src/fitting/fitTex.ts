import { measurement } from '../units/index.ts'
import type { ColumnFit } from './fitResult.ts'
import { numberTex, symbolTex } from './models/index.ts'

/** Returns a fit in TeX: each law with its symbols, then its parameters with their errors and units. */
export function fitTex(fits: readonly ColumnFit[]): string {
  return fits
    .map(({ quantity, formula, parameters }) => {
      const rows = parameters.map(({ symbol, subscript, value, error, unit }) => {
        const text = measurement(value, error, '').replaceAll('±', '\\pm')
        const inBrackets = unit !== '' && text.includes('\\pm') && !text.startsWith('(') ? `(${text})` : text
        return `${symbolTex(symbol, subscript)} &= ${numberTex(inBrackets)}${unit === '' ? '' : `\\,\\mathrm{${unitTex(unit)}}`}`
      })
      const law = formula === '' ? [] : [`${symbolTex(quantity.symbol, quantity.subscript)} &= ${formula}`]
      return `\\begin{align*}\n${[...law, ...rows].join(' \\\\\n')}\n\\end{align*}`
    })
    .join('\n')
}

const POWERS = '⁰¹²³⁴⁵⁶⁷⁸⁹'

/** Returns a unit in TeX: powers raised, dots and degrees by their names. */
function unitTex(unit: string): string {
  return unit
    .replace(
      /[⁻⁰¹²³⁴⁵⁶⁷⁸⁹]+/g,
      (power) => `^{${[...power].map((one) => (one === '⁻' ? '-' : String(POWERS.indexOf(one)))).join('')}}`,
    )
    .replaceAll('·', '\\cdot ')
    .replaceAll('°', '^{\\circ}')
}
