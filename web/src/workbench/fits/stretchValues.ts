import { analyse } from '@apokinema/core/analysis'
import { steadyModel } from '@apokinema/core/fitting'
import { slopeUnit } from '@apokinema/core/graphs'
import { type Investigation, type ModelId, TIME } from '@apokinema/core/investigation'

/** A value of a stretch itself, without a fit so far: its mean, or its slope. */
export interface StretchValue {
  stretch: string
  number: number
  word: 'mean' | 'slope'
  unit: string
  /** The model, and its reading, that gives the value with all of its error. */
  model: ModelId
  reading: string
}

/** Returns the means and slopes of all stretches along time that no fit gives yet. */
export function stretchValues(investigation: Investigation): StretchValue[] {
  const { graphs, fits, stretches } = investigation
  const isTold = (stretch: string, model: ModelId) =>
    Object.values(fits).some((fit) => fit.stretch === stretch && fit.model === model)
  const numbered = Object.entries(stretches).sort(([, a], [, b]) => a.number - b.number)
  return numbered.flatMap(([stretch, { number, graph: of }]) => {
    const graph = graphs[of]
    if (!graph || graph.xQuantity !== TIME) return []
    const table = analyse(investigation).shownTable(graph.body, graph)
    const column = table.column(graph.quantity)
    return (['mean', 'slope'] as const).flatMap((word): StretchValue[] => {
      const told = steadyModel(column.info, word)
      if (!told || isTold(stretch, told.model)) return []
      const unit = word === 'mean' ? column.unit : slopeUnit(column, table.length)
      return [{ stretch, number, word, unit, ...told }]
    })
  })
}
