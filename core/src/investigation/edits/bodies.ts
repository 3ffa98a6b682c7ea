import type { Point } from '../../geometry/index.ts'
import { BODY_COLOURS, BODY_SHAPES, type Body, inOrder, nextOrder } from '../document.ts'
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
      mass: null,
      hidden: false,
      locked: false,
      outline: null,
      marks: {},
    }
    draft.graphs[graphIds.position] = { order: nextOrder(draft.graphs), body: id, quantity: 'y', axes: null }
    draft.graphs[graphIds.velocity] = { order: nextOrder(draft.graphs), body: id, quantity: 'vy', axes: null }
  }
}

/** Changes what is told of a body. */
export function changeBody(
  id: string,
  change: Partial<Pick<Body, 'name' | 'colour' | 'shape' | 'mass' | 'hidden' | 'locked' | 'outline'>>,
): Recipe {
  return (draft) => {
    if (draft.bodies[id]) Object.assign(draft.bodies[id], change)
  }
}

/** Moves a body so many places up (negative) or down the list. */
export function moveBody(id: string, by: number): Recipe {
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
): Recipe {
  return (draft) => {
    const body = draft.bodies[id]
    if (!body) return
    addBody(copy, graphIds, `${body.name.slice(0, 110)} copy`)(draft)
    const { mass, outline, marks } = body
    Object.assign(draft.bodies[copy], {
      mass: mass && { ...mass },
      outline: outline && { radii: [...outline.radii] },
      marks: Object.fromEntries(Object.entries(marks).map(([frame, mark]) => [frame, { ...mark }])),
    })
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

/** Sets marks that following has found. Marks that a hand has set stay, unless they are to be replaced. */
export function setFollowed(
  body: string,
  found: Record<string, Point & { certainty: number }>,
  replacesHand = false,
): Recipe {
  return (draft) => {
    const marks = draft.bodies[body]?.marks
    if (!marks) return
    for (const [frame, { x, y, certainty }] of Object.entries(found))
      if (replacesHand || marks[frame]?.by !== 'hand') marks[frame] = { x, y, by: 'follow', certainty }
  }
}

/** Says that a mark is right, though it lies off the course of the others. */
export function confirmMark(body: string, frame: number): Recipe {
  return (draft) => {
    const mark = draft.bodies[body]?.marks[frame]
    if (mark) mark.right = true
  }
}

/** Removes the mark of a body in a frame. */
export function removeMark(body: string, frame: number): Recipe {
  return (draft) => {
    if (draft.bodies[body]) delete draft.bodies[body].marks[frame]
  }
}

/** Removes all marks of a body from one frame to another, both included. */
export function clearMarks(body: string, from = 0, to = Number.POSITIVE_INFINITY): Recipe {
  return (draft) => {
    const marks = draft.bodies[body]?.marks
    if (!marks) return
    for (const frame of Object.keys(marks))
      if (Number(frame) >= from && Number(frame) <= to) delete marks[frame]
  }
}
