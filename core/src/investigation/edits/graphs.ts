import {
  type Derivation,
  type Expected,
  type FitForm,
  type ModelId,
  newGraph,
  nextOrder,
  type QuantityId,
} from '../document.ts'
import type { Recipe } from '../patch.ts'

/** Adds a graph of a quantity behind the others. */
export function addGraph(id: string, body: string, quantity: QuantityId): Recipe {
  return (draft) => {
    draft.graphs[id] = newGraph(nextOrder(draft.graphs), body, quantity)
  }
}

/** Measures a graph in other axes; null: in the main ones. */
export function setGraphAxes(id: string, axes: string | null): Recipe {
  return (draft) => {
    if (draft.graphs[id]) draft.graphs[id].axes = axes
  }
}

/** Derives velocities and accelerations in another way. */
export function setDerivation(change: Partial<Derivation>): Recipe {
  return (draft) => {
    Object.assign(draft.derivation, change)
  }
}

/** Derives the quantity of a graph in a way of its own; null: as the investigation's are. */
export function setGraphDerivation(id: string, derivation: Derivation | null): Recipe {
  return (draft) => {
    if (draft.graphs[id]) draft.graphs[id].derivation = derivation
  }
}

/** Shows or hides a graph's error bars. */
export function setErrorBars(id: string, shown: boolean): Recipe {
  return (draft) => {
    if (draft.graphs[id]) draft.graphs[id].errorBars = shown
  }
}

/** Removes a graph with its stretches and fits. */
export function removeGraph(id: string): Recipe {
  return (draft) => {
    delete draft.graphs[id]
    for (const [stretchId, stretch] of Object.entries(draft.stretches))
      if (stretch.graph === id) removeStretch(stretchId)(draft)
  }
}

/** Lays a stretch over the points of a graph from one frame to another. */
export function addStretch(id: string, graph: string, from: number, to: number): Recipe {
  return (draft) => {
    const number = Object.values(draft.stretches).reduce(
      (next, stretch) => Math.max(next, stretch.number + 1),
      1,
    )
    draft.stretches[id] = { number, graph, from: Math.min(from, to), to: Math.max(from, to) }
  }
}

export function changeStretch(id: string, from: number, to: number): Recipe {
  return (draft) => {
    const stretch = draft.stretches[id]
    if (!stretch) return
    stretch.from = Math.min(from, to)
    stretch.to = Math.max(from, to)
  }
}

/** Removes a stretch with its fits, and the scale that rests on it. */
export function removeStretch(id: string): Recipe {
  return (draft) => {
    delete draft.stretches[id]
    for (const [fitId, fit] of Object.entries(draft.fits)) if (fit.stretch === id) delete draft.fits[fitId]
    for (const [knownId, known] of Object.entries(draft.knownMotions))
      if (known.stretch === id) delete draft.knownMotions[knownId]
  }
}

/** Fits a model to a stretch. */
export function addFit(id: string, stretch: string, model: ModelId): Recipe {
  return (draft) => {
    draft.fits[id] = { order: nextOrder(draft.fits), stretch, model, form: 'physics', expected: null }
  }
}

/** Changes a fit's model, form or expected value. */
export function changeFit(
  id: string,
  change: { model?: ModelId; form?: FitForm; expected?: Expected | null },
): Recipe {
  return (draft) => {
    if (draft.fits[id]) Object.assign(draft.fits[id], change)
  }
}

/** Removes a fit; its stretch stays. */
export function removeFit(id: string): Recipe {
  return (draft) => {
    delete draft.fits[id]
  }
}
