import type { Investigation } from './document/investigation.ts'
import { QUANTITY_IDS, TIME } from './document/quantities.ts'
import { removeGraph, removeStretch } from './edits/graphs.ts'

type Links = Pick<Investigation, 'bodies' | 'graphs' | 'axes' | 'quantities' | 'stretches'>

const isQuantity = ({ quantities }: Links, id: string) =>
  id === TIME || (QUANTITY_IDS as readonly string[]).includes(id) || Object.hasOwn(quantities, id)

const isSeries = (
  document: Links,
  { body, other, quantity }: { body: string; other: string | null; quantity: string },
) =>
  Object.hasOwn(document.bodies, body) &&
  (other === null || Object.hasOwn(document.bodies, other)) &&
  isQuantity(document, quantity)

/**
 * Returns where a document points at something that it does not have, such as a graph of a body that is not there; null where
 * it does not. A reading that is compared with another one may remain when that one is removed: its comparison reports it.
 */
export function danglingReference(document: Investigation): string | null {
  const { graphs, stretches, fits, knownMotions, axes, mainAxes, bodies } = document
  if (!Object.hasOwn(axes, mainAxes)) return 'mainAxes'
  for (const [id, graph] of Object.entries(graphs)) {
    if (!isSeries(document, graph) || !isQuantity(document, graph.xQuantity)) return `graphs.${id}`
    if (graph.axes !== null && !Object.hasOwn(axes, graph.axes)) return `graphs.${id}.axes`
    for (const [key, one] of Object.entries(graph.also))
      if (!isSeries(document, one)) return `graphs.${id}.also.${key}`
  }
  for (const [id, { graph }] of Object.entries(stretches))
    if (!Object.hasOwn(graphs, graph)) return `stretches.${id}.graph`
  for (const [id, { stretch }] of Object.entries(knownMotions))
    if (!Object.hasOwn(stretches, stretch)) return `knownMotions.${id}.stretch`
  for (const [id, { stretch, together }] of Object.entries(fits)) {
    if (!Object.hasOwn(stretches, stretch)) return `fits.${id}.stretch`
    for (const [key, { body, quantity }] of Object.entries(together))
      if (!Object.hasOwn(bodies, body) || !isQuantity(document, quantity)) return `fits.${id}.together.${key}`
  }
  return null
}

/**
 * Takes out of a draft what points at something that is not there: after something was removed, and out of documents
 * from before this was looked at, in which two people have changed things at once.
 */
export function removeDangling(draft: Investigation): void {
  const { graphs, stretches, fits, knownMotions, axes } = draft
  if (!Object.hasOwn(axes, draft.mainAxes)) draft.mainAxes = Object.keys(axes)[0] ?? draft.mainAxes
  for (const [id, graph] of Object.entries(graphs)) {
    if (graph.axes !== null && !Object.hasOwn(axes, graph.axes)) graph.axes = null
    for (const series of [graph, ...Object.values(graph.also)])
      if (series.other !== null && !Object.hasOwn(draft.bodies, series.other)) series.other = null
    for (const [key, one] of Object.entries(graph.also)) if (!isSeries(draft, one)) delete graph.also[key]
    if (!isSeries(draft, graph) || !isQuantity(draft, graph.xQuantity)) removeGraph(id)(draft)
  }
  for (const [id, { graph }] of Object.entries(stretches))
    if (!Object.hasOwn(graphs, graph)) removeStretch(id)(draft)
  for (const [id, { stretch }] of Object.entries(knownMotions))
    if (!Object.hasOwn(stretches, stretch)) delete knownMotions[id]
  for (const [id, { stretch, together }] of Object.entries(fits)) {
    if (!Object.hasOwn(stretches, stretch)) delete fits[id]
    for (const [key, { body, quantity }] of Object.entries(together))
      if (!Object.hasOwn(draft.bodies, body) || !isQuantity(draft, quantity)) delete together[key]
  }
}
