import { type ColumnFit, fitColumn } from '@apokinema/core/fitting'
import { type Fit, type Investigation, inOrder } from '@apokinema/core/investigation'
import type { MotionTable } from '@apokinema/core/motion'
import { FitError } from '@apokinema/core/regression'

/** A fit of the document with its result, or with the reason why there is none. */
export interface ShownFit {
  id: string
  settings: Fit
  fit: ColumnFit | null
  trouble: string | null
}

const remembered = new WeakMap<MotionTable, Map<string, ShownFit>>()

/** The fits on a graph, computed from its table. A table's fits are computed once. */
export function fittedOn(investigation: Investigation, graphId: string, table: MotionTable): ShownFit[] {
  const graph = investigation.graphs[graphId]
  if (!remembered.has(table)) remembered.set(table, new Map())
  const known = remembered.get(table)!
  return inOrder(investigation.fits)
    .filter(([, { stretch }]) => investigation.stretches[stretch]?.graph === graphId)
    .map(([id, settings]) => {
      const range = investigation.stretches[settings.stretch]
      const key = JSON.stringify([id, graph.quantity, range, settings])
      const ready = known.get(key)
      if (ready) return ready
      const shown = compute(id, settings, () =>
        fitColumn(table, graph.quantity, range, settings.model, settings.form),
      )
      known.set(key, shown)
      return shown
    })
}

function compute(id: string, settings: Fit, fit: () => ColumnFit): ShownFit {
  try {
    return { id, settings, fit: fit(), trouble: null }
  } catch (error) {
    if (error instanceof FitError) return { id, settings, fit: null, trouble: error.message }
    throw error
  }
}
