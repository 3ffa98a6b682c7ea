import type { GraphFit } from '@apokinema/core/analysis'
import { type GraphDescription, lowered } from '@apokinema/core/graphs'
import { significant, withUnit } from '@apokinema/core/units'

/** Returns where values begin and end, and their extreme in between: "from 0.88 m up to 1.35 m and down to 0.33 m". */
function courseText(values: readonly number[], unit: string): string {
  const text = (value: number) => withUnit(significant(value, 3), unit)
  const [first, last] = [values[0], values[values.length - 1]]
  const [least, most] = [Math.min(...values), Math.max(...values)]
  const room = 0.1 * (most - least)
  if (most - least === 0) return `constant at ${text(first)}`
  const [upAbove, below] = [most - Math.max(first, last), Math.min(first, last) - least]
  if (upAbove > room && upAbove >= below)
    return `from ${text(first)} up to ${text(most)} and down to ${text(last)}`
  if (below > room) return `from ${text(first)} down to ${text(least)} and up to ${text(last)}`
  return `from ${text(first)} to ${text(last)}`
}

/** Returns the description of a graph for people who can't see it: title, points, course, and the models fitted. */
export function graphAlternative(
  { title, series, isTime, y }: GraphDescription,
  fits: readonly GraphFit[],
  nameOf: (body: string) => string,
): string {
  const parts = series.flatMap(({ body, quantity, points }) => {
    const values = points.map((point) => point.y)
    const whose = series.length > 1 ? `${nameOf(body)}, ${lowered(quantity.name)}: ` : ''
    const count = points.length === 1 ? '1 point' : `${points.length} points`
    return values.length === 0 ? [`${whose}no points`] : [`${whose}${count}, ${courseText(values, y.unit)}`]
  })
  const fitted = fits.flatMap(({ fit, settings }) =>
    fit ? [`${lowered(settings.name || fit.name)} fitted`] : [],
  )
  return `${title}${isTime ? ' against time' : ''}: ${[parts.join('; '), ...fitted].join('; ')}.`
}
