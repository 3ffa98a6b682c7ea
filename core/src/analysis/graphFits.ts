import {
  type ColumnFit,
  type Fitted,
  fitColumns,
  fitPath,
  type NamedReading,
  namedReadings,
  type Refit,
} from '../fitting/index.ts'
import {
  type Fit,
  type Graph,
  type Investigation,
  inOrder,
  type Stretch,
  TIME,
} from '../investigation/index.ts'
import { ExpressionError, type MotionTable } from '../motion/index.ts'
import { FitError } from '../regression/index.ts'

/** A fit of the document with its result, or with the reason why there is none. */
export interface GraphFit {
  id: string
  settings: Fit
  /** The stretch that it lies on, and the columns that are fitted, the stretch's own first. */
  range: Stretch
  columns: Fitted[]
  /** Null where there is none; `all` has those of every column. */
  fit: ColumnFit | null
  all: ColumnFit[]
  error: FitError | ExpressionError | null
  /** Quantity that it is drawn against, where that is not the time. */
  xQuantity: string | null
  /** The same fit of other points. */
  refit: Refit
}

/** Returns a reading of a fit by its id; an empty id is the first reading. Null if it is gone. */
export function readingOf(fit: GraphFit, id: string): NamedReading | null {
  const readings = namedReadings(fit.all)
  return (id === '' ? readings[0] : readings.find((one) => one.id === id)) ?? null
}

/** A fit as it was computed, with the settings and the stretch that it was computed for, as text. */
interface KeptFit {
  key: string
  shown: GraphFit
}

/** Of each fit the last ones are kept: the document's, and what a drag makes of it. A fit of many points is large. */
const MOST_KEPT = 3

/** The fits of a document; each is computed once for the tables that it is made from. */
export class GraphFits {
  private readonly known = new WeakMap<MotionTable, Map<string, KeptFit[]>>()

  /**
   * Returns the fits on a graph, in order.
   *
   * @param tableOf gives the motion table of a body, as a graph's own is measured and derived
   */
  on(
    document: Investigation,
    graphId: string,
    tableOf: (graph: Graph, body: string) => MotionTable,
  ): GraphFit[] {
    const own = inOrder(document.fits).filter(
      ([, { stretch }]) => document.stretches[stretch]?.graph === graphId,
    )
    const graph = document.graphs[graphId]
    if (own.length === 0 || !graph) return []
    const table = tableOf(graph, graph.body)
    const known = this.known.get(table) ?? new Map<string, KeptFit[]>()
    this.known.set(table, known)
    return own.map(([id, settings]) => {
      const range = document.stretches[settings.stretch]
      const { name, expected, order, ...deciding } = settings
      const xQuantity = graph.xQuantity === TIME ? null : graph.xQuantity
      const columns: Fitted[] = [
        { table, quantity: graph.quantity, model: settings.model },
        ...inOrder(settings.together).flatMap(([, { body, quantity, model }]) =>
          document.bodies[body] ? [{ table: tableOf(graph, body), quantity, model }] : [],
        ),
      ]
      const key = JSON.stringify([graph.quantity, xQuantity, range, deciding])
      const kept = known.get(id) ?? []
      const ready = kept.find((one) => one.key === key)
      if (ready?.shown.columns.every((column, i) => column.table === columns[i].table)) {
        // The same object for as long as nothing of it changes: who shows it is rendered again for another one.
        if (ready.shown.settings !== settings) ready.shown = { ...ready.shown, settings }
        return ready.shown
      }
      const refit: Refit = (points) =>
        xQuantity
          ? [fitPath(table, graph.quantity, xQuantity, points, settings)]
          : fitColumns(columns, points, settings)
      const shown = { id, settings, range, columns, xQuantity, refit, ...compute(refit, range) }
      known.set(id, [{ key, shown }, ...kept.filter((one) => one.key !== key)].slice(0, MOST_KEPT))
      return shown
    })
  }
}

function compute(refit: Refit, range: Stretch): Pick<GraphFit, 'fit' | 'all' | 'error'> {
  try {
    const all = refit(range)
    return { fit: all[0], all, error: null }
  } catch (error) {
    if (error instanceof FitError || error instanceof ExpressionError) return { fit: null, all: [], error }
    throw error
  }
}
