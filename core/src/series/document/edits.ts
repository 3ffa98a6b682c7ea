import { type Calculation, type ModelId, type Mutator, newFit, nextOrder } from '../../investigation/index.ts'
import type {
  AxesRule,
  Measuring,
  Series,
  SeriesColumn,
  SeriesFit,
  SeriesGraph,
  SeriesMotion,
  TrialView,
  Typed,
} from './series.ts'

type SeriesMutator = Mutator<Series>

export function setTitle(title: string): SeriesMutator {
  return (draft) => {
    draft.title = title
  }
}

/** Adds an investigation as the last trial. */
export function addTrial(
  id: string,
  view: TrialView | null = null,
  measuring: Measuring | null = null,
): SeriesMutator {
  return (draft) => {
    draft.trials[id] ??= { order: nextOrder(draft.trials), typed: {}, leftOut: null, view, measuring }
  }
}

/** Takes an investigation out of the series; it stays as it is. */
export function removeTrial(id: string): SeriesMutator {
  return (draft) => {
    delete draft.trials[id]
    if (draft.pattern === id) draft.pattern = null
  }
}

/** Keeps how a trial was set up like another one, and whether it waits for being measured. */
export function setUp(id: string, view: TrialView | null, measuring: Measuring | null): SeriesMutator {
  return (draft) => {
    Object.assign(draft.trials[id], { view, measuring })
  }
}

export function setMeasuring(id: string, measuring: Measuring | null): SeriesMutator {
  return (draft) => {
    draft.trials[id].measuring = measuring
  }
}

/** @param reason why the trial is left out; null: it counts again */
export function leaveOut(id: string, reason: string | null): SeriesMutator {
  return (draft) => {
    draft.trials[id].leftOut = reason
  }
}

export function setPattern(id: string): SeriesMutator {
  return (draft) => {
    draft.pattern = id
  }
}

export function setAxesRule(rule: AxesRule): SeriesMutator {
  return (draft) => {
    draft.axesRule = rule
  }
}

/** Adds a column, or changes one. */
export function setColumn(id: string, column: Omit<SeriesColumn, 'order'>): SeriesMutator {
  return (draft) => {
    const order = draft.columns[id]?.order ?? nextOrder(draft.columns)
    draft.columns[id] = { order, ...column }
  }
}

/** Moves a column to another place among all columns. */
export function moveColumn(id: string, order: number): SeriesMutator {
  return (draft) => {
    draft.columns[id].order = order
  }
}

/** Removes a column with what was typed in it, and the graphs and fits that show it. */
export function removeColumn(id: string): SeriesMutator {
  return (draft) => {
    delete draft.columns[id]
    for (const trial of Object.values(draft.trials)) delete trial.typed[id]
    for (const [key, { x, y }] of Object.entries(draft.graphs))
      if (x === id || y === id) removeGraph(key)(draft)
    if (draft.sorted?.column === id) draft.sorted = null
    if (draft.grouped === id) draft.grouped = null
  }
}

/** @param typed null: the cell is emptied */
export function setTyped(trial: string, column: string, typed: Typed | null): SeriesMutator {
  return (draft) => {
    if (typed) draft.trials[trial].typed[column] = typed
    else delete draft.trials[trial].typed[column]
  }
}

export function sortBy(sorted: Series['sorted']): SeriesMutator {
  return (draft) => {
    draft.sorted = sorted
  }
}

export function groupBy(column: string | null): SeriesMutator {
  return (draft) => {
    draft.grouped = column
  }
}

/** Adds a graph, or changes one. */
export function setGraph(id: string, graph: Omit<SeriesGraph, 'order'>): SeriesMutator {
  return (draft) => {
    const order = draft.graphs[id]?.order ?? nextOrder(draft.graphs)
    draft.graphs[id] = { order, ...graph }
  }
}

/** Adds an overlay of motions, or changes one. */
export function setMotion(id: string, motion: Omit<SeriesMotion, 'order'>): SeriesMutator {
  return (draft) => {
    const order = draft.motions[id]?.order ?? nextOrder(draft.motions)
    draft.motions[id] = { order, ...motion }
  }
}

export function removeMotion(id: string): SeriesMutator {
  return (draft) => {
    delete draft.motions[id]
  }
}

/** Removes a graph with its fits. */
export function removeGraph(id: string): SeriesMutator {
  return (draft) => {
    delete draft.graphs[id]
    for (const [key, { graph }] of Object.entries(draft.fits)) if (graph === id) delete draft.fits[key]
  }
}

export function addFit(id: string, graph: string, model: ModelId): SeriesMutator {
  return (draft) => {
    const { stretch, together, shared, ...law } = newFit(nextOrder(draft.fits), '', model)
    draft.fits[id] = { ...law, graph }
  }
}

export function setFit(id: string, changes: Partial<Omit<SeriesFit, 'order' | 'graph'>>): SeriesMutator {
  return (draft) => {
    Object.assign(draft.fits[id], changes)
  }
}

export function removeFit(id: string): SeriesMutator {
  return (draft) => {
    delete draft.fits[id]
  }
}

/** Adds a calculation, or changes one. */
export function setCalculation(id: string, calculation: Omit<Calculation, 'order'>): SeriesMutator {
  return (draft) => {
    const order = draft.calculations[id]?.order ?? nextOrder(draft.calculations)
    draft.calculations[id] = { order, ...calculation }
  }
}

export function removeCalculation(id: string): SeriesMutator {
  return (draft) => {
    delete draft.calculations[id]
  }
}
