import { type ColumnFit, type Fitted, fitColumns, fitPath, type Refit } from '@apokinema/core/fitting'
import {
  type Fit,
  type Graph,
  type Investigation,
  inOrder,
  type Stretch,
  TIME,
} from '@apokinema/core/investigation'
import { ExpressionError, type MotionTable } from '@apokinema/core/motion'
import { FitError } from '@apokinema/core/regression'

/** A fit of the document with its result, or with the reason why there is none. */
export interface ShownFit {
  id: string
  settings: Fit
  /** The stretch that it lies on, and the columns that are fitted, the stretch's own first. */
  range: Stretch
  columns: Fitted[]
  /** Null where there is none; `all` has those of every column. */
  fit: ColumnFit | null
  all: ColumnFit[]
  trouble: string | null
  /** What it is drawn against, where that is not the time. */
  across: string | null
  /** The same fit of other points. */
  refit: Refit
}

/** Gives the motion table of a body, as a graph's own is measured and derived. */
export type TableOfBody = (graph: Graph, body: string) => MotionTable

/** How a fit came out, with what it was made of, as text. */
type Remembered = { key: string; shown: ShownFit }[]

const remembered = new WeakMap<MotionTable, Map<string, Remembered>>()
/** Of each fit the last ones are kept: the document's, and what a drag makes of it. A fit of many points is large. */
const MOST_KEPT = 3

/** The fits on a graph, computed from its table. A fit is computed once for the tables that it is made from. */
export function fittedOn(investigation: Investigation, graphId: string, tableOf: TableOfBody): ShownFit[] {
  const graph = investigation.graphs[graphId]
  const table = tableOf(graph, graph.body)
  if (!remembered.has(table)) remembered.set(table, new Map())
  const known = remembered.get(table)!
  return inOrder(investigation.fits)
    .filter(([, { stretch }]) => investigation.stretches[stretch]?.graph === graphId)
    .map(([id, settings]) => {
      const range = investigation.stretches[settings.stretch]
      const { name, expected, order, ...deciding } = settings
      const across = graph.across === TIME ? null : graph.across
      const columns: Fitted[] = [
        { table, quantity: graph.quantity, model: settings.model },
        ...inOrder(settings.together).flatMap(([, { body, quantity, model }]) =>
          investigation.bodies[body] ? [{ table: tableOf(graph, body), quantity, model }] : [],
        ),
      ]
      const key = JSON.stringify([graph.quantity, across, range, deciding])
      const kept = known.get(id) ?? []
      const ready = kept.find((one) => one.key === key)
      if (ready?.shown.columns.every((column, i) => column.table === columns[i].table)) {
        // The same object for as long as nothing of it changes: who shows it is rendered again for another one.
        if (ready.shown.settings !== settings) ready.shown = { ...ready.shown, settings }
        return ready.shown
      }
      const refit: Refit = (points) =>
        across
          ? [fitPath(table, graph.quantity, across, points, settings)]
          : fitColumns(columns, points, settings)
      const shown = { id, settings, range, columns, across, refit, ...compute(refit, range) }
      known.set(id, [{ key, shown }, ...kept.filter((one) => one.key !== key)].slice(0, MOST_KEPT))
      return shown
    })
}

function compute(refit: Refit, range: Stretch): Pick<ShownFit, 'fit' | 'all' | 'trouble'> {
  try {
    const all = refit(range)
    return { fit: all[0], all, trouble: null }
  } catch (error) {
    if (error instanceof FitError || error instanceof ExpressionError)
      return { fit: null, all: [], trouble: error.message }
    throw error
  }
}
