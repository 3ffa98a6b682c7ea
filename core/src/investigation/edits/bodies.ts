import { original } from 'immer'
import { type Body, freeColour } from '../document/bodies.ts'
import { newGraph } from '../document/graphs.ts'
import { inOrder, nextOrder } from '../document/order.ts'
import type { Mutator } from '../patch.ts'
import { removeDangling } from '../references.ts'
import { cutText } from '../text.ts'

/**
 * Adds a body with the next free colour and shape, named "body n" until it has a name, and with it
 * the two graphs that show it first: position and velocity along y.
 */
export function addBody(
  id: string,
  graphIds: { position: string; velocity: string },
  name?: string,
): Mutator {
  return (draft) => {
    draft.bodies[id] = {
      order: nextOrder(draft.bodies),
      name: name ?? `body ${Object.keys(draft.bodies).length + 1}`,
      ...freeColour(draft.bodies),
      mass: null,
      hidden: false,
      locked: false,
      outline: null,
      markError: null,
      marks: {},
      second: {},
      breaks: {},
    }
    draft.graphs[graphIds.position] = newGraph(nextOrder(draft.graphs), id, 'y')
    draft.graphs[graphIds.velocity] = newGraph(nextOrder(draft.graphs), id, 'vy')
  }
}

/** Changes what is told of a body. */
export function changeBody(
  id: string,
  change: Partial<
    Pick<Body, 'name' | 'colour' | 'shape' | 'mass' | 'hidden' | 'locked' | 'outline' | 'markError'>
  >,
): Mutator {
  return (draft) => {
    if (draft.bodies[id]) Object.assign(draft.bodies[id], change)
  }
}

/** Moves a body so many places up (negative) or down the list. */
export function moveBody(id: string, by: number): Mutator {
  return (draft) => {
    const ids = inOrder(draft.bodies).map(([key]) => key)
    const from = ids.indexOf(id)
    if (from < 0) return
    ids.splice(from, 1)
    ids.splice(Math.min(ids.length, Math.max(0, from + by)), 0, id)
    for (const [order, key] of ids.entries()) draft.bodies[key].order = order
  }
}

/** Adds a body like another, with its marks: to be marked anew where it went another way. */
export function duplicateBody(
  id: string,
  copy: string,
  graphIds: { position: string; velocity: string },
): Mutator {
  return (draft) => {
    const body = draft.bodies[id]
    if (!body) return
    addBody(copy, graphIds, `${cutText(body.name, 110)} copy`)(draft)
    // As they stand, not as drafts: what two bodies share is copied by whichever is changed first.
    const { mass, outline, markError, marks, second, breaks } = original(body) ?? body
    Object.assign(draft.bodies[copy], { mass, outline, markError, marks, second, breaks })
  }
}

/** Removes a body with its graphs and all that stands on them. */
export function removeBody(id: string): Mutator {
  return (draft) => {
    delete draft.bodies[id]
    removeDangling(draft)
  }
}
