import { type ColumnFit, throwReadings } from '@apokinema/core/fitting'
import { fixed, measurement, significant, withUnit } from '@apokinema/core/units'

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
