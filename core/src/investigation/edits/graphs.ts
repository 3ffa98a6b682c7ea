import { type Fit, type FittedTogether, type ModelId, newFit } from '../document/fits.ts'
import { GRAPH_HEIGHTS, type Graph, newGraph, type Overlay, type Scaling } from '../document/graphs.ts'
import { inOrder, nextOrder } from '../document/order.ts'
import { type Derivation, TIME } from '../document/quantities.ts'
import type { Mutator } from '../patch.ts'

/** Adds a graph of a quantity against time, or another one, behind the others. */
export function addGraph(id: string, body: string, quantity: string, xQuantity = TIME): Mutator {
  return (draft) => {
    draft.graphs[id] = newGraph(nextOrder(draft.graphs), body, quantity, xQuantity)
  }
}

/**
 * Lets the two graphs that a body begins with show position and velocity along x instead of y. Does nothing once
 * somebody has changed them, or laid a stretch on them.
 */
export function turnFirstGraphs(body: string): Mutator {
  return (draft) => {
    const graphs = inOrder(draft.graphs).filter(([, graph]) => graph.body === body)
    const isTouched = graphs.some(
      ([id, { xQuantity, also, axes, markStyle, title }]) =>
        xQuantity !== TIME ||
        axes !== null ||
        markStyle !== 'points' ||
        title !== '' ||
        Object.keys(also).length > 0 ||
        Object.values(draft.stretches).some((stretch) => stretch.graph === id),
    )
    const quantities = graphs.map(([, { quantity }]) => quantity)
    if (isTouched || quantities.join() !== 'y,vy') return
    draft.graphs[graphs[0][0]].quantity = 'x'
    draft.graphs[graphs[1][0]].quantity = 'vx'
  }
}

/** Changes how a graph is drawn, and what it shows. */
export function changeGraph(
  id: string,
  change: Partial<Omit<Graph, 'order' | 'also' | 'notes' | 'overlays'>>,
): Mutator {
  return (draft) => {
    if (draft.graphs[id]) Object.assign(draft.graphs[id], change)
  }
}

/** Changes how one direction of a graph is scaled. */
export function scaleGraph(id: string, direction: 'scaleX' | 'scaleY', change: Partial<Scaling>): Mutator {
  return (draft) => {
    if (draft.graphs[id]) Object.assign(draft.graphs[id][direction], change)
  }
}

/** Shows a graph once more, right behind itself, without its stretches. */
export function copyGraph(id: string, from: string): Mutator {
  return (draft) => {
    const graph = draft.graphs[from]
    if (!graph) return
    const graphs = inOrder(draft.graphs).map(([other]) => other)
    const after = graphs[graphs.indexOf(from) + 1] ?? null
    draft.graphs[id] = { ...structuredCopy(graph), order: nextOrder(draft.graphs) }
    moveGraph(id, after)(draft)
  }
}

/** Returns a copy of what a draft holds, by way of its text. */
const structuredCopy = (graph: Graph) => JSON.parse(JSON.stringify(graph)) as Graph

/** Changes which shares of the room graphs take. */
export function resizeGraphs(heights: Record<string, number>): Mutator {
  return (draft) => {
    for (const [id, height] of Object.entries(heights))
      if (draft.graphs[id])
        draft.graphs[id].height = Math.min(GRAPH_HEIGHTS.most, Math.max(GRAPH_HEIGHTS.least, height))
  }
}

/** Lays a graph in front of another one, or behind all (null). */
export function moveGraph(id: string, before: string | null): Mutator {
  return (draft) => {
    const others = inOrder(draft.graphs)
      .map(([other]) => other)
      .filter((other) => other !== id)
    const at = before === null ? others.length : others.indexOf(before)
    if (!draft.graphs[id] || at < 0) return
    others.splice(at, 0, id)
    others.forEach((other, order) => {
      draft.graphs[other].order = order
    })
  }
}

/** Draws another quantity, or another body's, on a graph. */
export function drawAlso(id: string, graph: string, body: string, quantity: string): Mutator {
  return (draft) => {
    const { also } = draft.graphs[graph] ?? {}
    if (also) also[id] = { order: nextOrder(also), body, other: null, quantity }
  }
}

export function drawNoLonger(id: string, graph: string): Mutator {
  return (draft) => {
    delete draft.graphs[graph]?.also[id]
  }
}

/** Lays data from elsewhere over a graph. */
export function addOverlay(id: string, graph: string, overlay: Omit<Overlay, 'order'>): Mutator {
  return (draft) => {
    const { overlays } = draft.graphs[graph] ?? {}
    if (overlays) overlays[id] = { order: nextOrder(overlays), ...overlay }
  }
}

/** Moves data from elsewhere in time. */
export function moveOverlay(id: string, graph: string, offset: number): Mutator {
  return (draft) => {
    const overlay = draft.graphs[graph]?.overlays[id]
    if (overlay) overlay.offset = offset
  }
}

export function removeOverlay(id: string, graph: string): Mutator {
  return (draft) => {
    delete draft.graphs[graph]?.overlays[id]
  }
}

/** Pins words to a graph's point in a frame; no words take them away. */
export function noteOnGraph(id: string, graph: string, frame: number, text: string): Mutator {
  return (draft) => {
    const { notes } = draft.graphs[graph] ?? {}
    if (!notes) return
    if (text === '') delete notes[id]
    else notes[id] = { frame, text }
  }
}

/** Derives velocities and accelerations in another way. */
export function setDerivation(change: Partial<Derivation>): Mutator {
  return (draft) => {
    Object.assign(draft.derivation, change)
  }
}

/** Removes a graph with its stretches and fits. */
export function removeGraph(id: string): Mutator {
  return (draft) => {
    delete draft.graphs[id]
    for (const [stretchId, stretch] of Object.entries(draft.stretches))
      if (stretch.graph === id) removeStretch(stretchId)(draft)
  }
}

/** Lays a stretch over the points of a graph from one frame to another. */
export function addStretch(id: string, graph: string, from: number, to: number): Mutator {
  return (draft) => {
    const number = Object.values(draft.stretches).reduce(
      (next, stretch) => Math.max(next, stretch.number + 1),
      1,
    )
    draft.stretches[id] = { number, graph, from: Math.min(from, to), to: Math.max(from, to), without: {} }
  }
}

export function changeStretch(id: string, from: number, to: number): Mutator {
  return (draft) => {
    const stretch = draft.stretches[id]
    if (!stretch) return
    stretch.from = Math.min(from, to)
    stretch.to = Math.max(from, to)
  }
}

/** Leaves the points of some frames out of a stretch, or takes them back. */
export function leaveOut(id: string, frames: readonly number[], out: boolean): Mutator {
  return (draft) => {
    const stretch = draft.stretches[id]
    if (!stretch) return
    for (const frame of frames)
      if (out) stretch.without[frame] = true
      else delete stretch.without[frame]
  }
}

/** Removes a stretch with its fits, and the scale that rests on it. */
export function removeStretch(id: string): Mutator {
  return (draft) => {
    delete draft.stretches[id]
    for (const [fitId, fit] of Object.entries(draft.fits)) if (fit.stretch === id) delete draft.fits[fitId]
    for (const [knownId, known] of Object.entries(draft.knownMotions))
      if (known.stretch === id) delete draft.knownMotions[knownId]
  }
}

/** Fits a model to a stretch. */
export function addFit(
  id: string,
  stretch: string,
  model: ModelId,
  settings: Partial<Omit<Fit, 'order' | 'stretch' | 'model' | 'together'>> = {},
): Mutator {
  return (draft) => {
    draft.fits[id] = { ...newFit(nextOrder(draft.fits), stretch, model), ...settings }
  }
}

/** Changes what a fit is of, or what it is compared with. */
export function changeFit(id: string, change: Partial<Omit<Fit, 'order' | 'stretch' | 'together'>>): Mutator {
  return (draft) => {
    if (draft.fits[id]) Object.assign(draft.fits[id], change)
  }
}

/** Fits another column together with a fit's own. */
export function fitTogether(id: string, fit: string, other: Omit<FittedTogether, 'order'>): Mutator {
  return (draft) => {
    const { together } = draft.fits[fit] ?? {}
    if (together) together[id] = { order: nextOrder(together), ...other }
  }
}

/** Fits a column that was fitted together with others no more. */
export function fitApart(id: string, fit: string): Mutator {
  return (draft) => {
    delete draft.fits[fit]?.together[id]
  }
}

/** Removes a fit; its stretch stays. */
export function removeFit(id: string): Mutator {
  return (draft) => {
    delete draft.fits[id]
  }
}
