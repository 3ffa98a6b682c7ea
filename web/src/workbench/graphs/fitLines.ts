import { quantityInfo } from '@apokinema/core/graphs'
import type { Investigation } from '@apokinema/core/investigation'
import { measurement } from '@apokinema/core/units'
import { fittedOn } from '../fits/fits.ts'
import { shownTableOf } from '../tables.ts'

/** What was fitted, a line each. */
export function fitLines(investigation: Investigation): string[] {
  return Object.entries(investigation.graphs).flatMap(([id, graph]) =>
    fittedOn(investigation, id, (one, body) => shownTableOf(investigation, body, one)).flatMap(
      ({ fit, settings }) => {
        if (!fit) return []
        const { from, to, number } = investigation.stretches[settings.stretch]
        const { name, value, error, unit } = fit.reading
        const what = quantityInfo(investigation, graph.quantity)?.name ?? ''
        return [
          `${number}: ${what} of ${investigation.bodies[graph.body].name}, frames ${from} to ${to}, ${settings.name || fit.name}: ${name} ${measurement(value, error, unit)}`,
        ]
      },
    ),
  )
}
