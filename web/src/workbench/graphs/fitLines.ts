import { analyse } from '@apokinema/core/analysis'
import type { Investigation } from '@apokinema/core/investigation'
import { measurement } from '@apokinema/core/units'

/** Returns a line of text for each fit. */
export function fitLines(investigation: Investigation): string[] {
  return Object.entries(investigation.graphs).flatMap(([id, graph]) =>
    analyse(investigation)
      .fits(id)
      .flatMap(({ fit, settings }) => {
        if (!fit) return []
        const { from, to, number } = investigation.stretches[settings.stretch]
        const { name, value, error, unit } = fit.reading
        const what = analyse(investigation).quantity(graph.quantity)?.name ?? ''
        return [
          `${number}: ${what} of ${investigation.bodies[graph.body].name}, frames ${from} to ${to}, ${settings.name || fit.name}: ${name} ${measurement(value, error, unit)}`,
        ]
      }),
  )
}
