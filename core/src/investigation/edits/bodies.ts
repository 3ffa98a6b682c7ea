import type { Point } from '../../geometry/index.ts'
import { BODY_COLOURS, BODY_SHAPES, nextOrder } from '../document.ts'
import type { Recipe } from '../patch.ts'
import { removeGraph } from './graphs.ts'

/**
 * Adds a body with the next free colour and shape, named "body n" until it has a name, and with it
 * the two graphs that show it first: position and velocity along y.
 */
export function addBody(id: string, graphIds: { position: string; velocity: string }, name?: string): Recipe {
  return (draft) => {
    const taken = Object.values(draft.bodies)
    const free = BODY_COLOURS.findIndex((colour) => !taken.some((body) => body.colour === colour))
    const index = free < 0 ? taken.length % BODY_COLOURS.length : free
    draft.bodies[id] = {
      order: nextOrder(draft.bodies),
      name: name ?? `body ${taken.length + 1}`,
      colour: BODY_COLOURS[index],
      shape: BODY_SHAPES[index],
      marks: {},
    }
    draft.graphs[graphIds.position] = { order: nextOrder(draft.graphs), body: id, quantity: 'y', axes: null }
    draft.graphs[graphIds.velocity] = { order: nextOrder(draft.graphs), body: id, quantity: 'vy', axes: null }
  }
}

/** Gives a body its name. */
export function renameBody(id: string, name: string): Recipe {
  return (draft) => {
    if (draft.bodies[id]) draft.bodies[id].name = name
  }
}

/** Removes a body with its graphs and all that stands on them. */
export function removeBody(id: string): Recipe {
  return (draft) => {
    delete draft.bodies[id]
    for (const [graphId, graph] of Object.entries(draft.graphs))
      if (graph.body === id) removeGraph(graphId)(draft)
  }
}

/** Sets or moves the mark of a body in a frame. */
export function setMark(body: string, frame: number, at: Point): Recipe {
  return (draft) => {
    if (draft.bodies[body]) draft.bodies[body].marks[frame] = { x: at.x, y: at.y, by: 'hand' }
  }
}

/** Removes the mark of a body in a frame. */
export function removeMark(body: string, frame: number): Recipe {
  return (draft) => {
    if (draft.bodies[body]) delete draft.bodies[body].marks[frame]
  }
}
