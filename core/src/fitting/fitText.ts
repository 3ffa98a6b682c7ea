import { fixed, measurement, significant, withUnit } from '../units/index.ts'
import type { ColumnFit } from './fitResult.ts'
import { numberTex, symbolTex } from './models/index.ts'
import { throwReadings } from './throwReadings.ts'

/** Returns a fit as lines of text: what was fitted to what, every parameter and reading with its error, and how well it fits. */
export function fitText(fits: readonly ColumnFit[], title: string): string {
  const lines = [title]
  for (const fit of fits) {
    const { quantity, name, points, freedom, placeUnit } = fit
    const [from, to] = [fit.from, fit.to].map((place) => withUnit(significant(place, 4), placeUnit))
    lines.push(
      `${quantity.symbol}${quantity.subscript}: ${name}, ${points} points from ${from} to ${to}`,
      ...fit.parameters.map(
        ({ symbol, subscript, value, error, unit: of, isFixed }) =>
          `  ${symbol}${subscript} = ${isFixed ? `${withUnit(significant(value, 6), of)} (fixed)` : measurement(value, error, of)}`,
      ),
      ...fit.readings.map((one) => `  ${one.name}: ${measurement(one.value, one.error, one.unit)}`),
      `  RMSE ${closeness(fit)}, ${freedom} degrees of freedom`,
    )
  }
  return [
    ...lines,
    ...throwReadings(fits).map((one) => `  ${one.name}: ${measurement(one.value, one.error, one.unit)}`),
    '',
  ].join('\n')
}

/** Returns how near the points are to the curve: their root mean square, and the share that it explains where that means something. */
export function closeness({ rmse, residualUnit, rSquared, isThroughZero }: ColumnFit): string {
  const share = Number.isNaN(rSquared)
    ? ''
    : `, R² ${fixed(rSquared, 5)}${isThroughZero ? ' about zero' : ''}`
  return `${withUnit(significant(rmse, 2), residualUnit)}${share}`
}

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
