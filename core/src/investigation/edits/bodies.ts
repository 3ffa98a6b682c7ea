import { original } from 'immer'
import { type PlacedByHand, type Point, placeOf } from '../../geometry/index.ts'
import { BODY_COLOURS, BODY_SHAPES, type Body, type BreakWord } from '../document/bodies.ts'
import { newGraph } from '../document/graphs.ts'
import { inOrder, nextOrder } from '../document/order.ts'
import type { Recipe } from '../patch.ts'
import { removeDangling } from '../references.ts'
import { restOver } from '../rests.ts'
import { cutText } from '../text.ts'

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
    addBody(copy, graphIds, `${cutText(body.name, 110)} copy`)(draft)
    // As they stand, not as drafts: what two bodies share is copied by whichever is changed first.
    const { mass, outline, markError, marks, second, breaks } = original(body) ?? body
    Object.assign(draft.bodies[copy], { mass, outline, markError, marks, second, breaks })
  }
}

/** Removes a body with its graphs and all that stands on them. */
export function removeBody(id: string): Recipe {
  return (draft) => {
    delete draft.bodies[id]
    removeDangling(draft)
  }
}

/** Ends a rest that reaches over a frame before it. */
function endRestBefore(marks: Body['marks'], frame: number): void {
  const resting = restOver(marks, frame)
  if (resting === null || resting === frame) return
  if (frame - 1 > resting) marks[resting].until = frame - 1
  else delete marks[resting].until
}

/** Sets the mark of a body in a frame; with `streak`, from its middle to one of its ends, where it is smeared. */
export function setMark(body: string, frame: number, at: PlacedByHand, streak?: Point): Recipe {
  return (draft) => {
    const marks = draft.bodies[body]?.marks
    if (!marks) return
    endRestBefore(marks, frame)
    marks[frame] = { ...placeOf(at), by: 'hand', ...(streak && { streak: { x: streak.x, y: streak.y } }) }
  }
}

/** Moves a mark to where a hand puts it; a streak and a rest go along. */
export function moveMark(body: string, frame: number, to: PlacedByHand): Recipe {
  return (draft) => {
    const mark = draft.bodies[body]?.marks[frame]
    if (!mark) return
    const { streak, until } = mark
    draft.bodies[body].marks[frame] = {
      ...placeOf(to),
      by: 'hand',
      ...(streak && { streak }),
      ...(until !== undefined && { until }),
    }
  }
}

/** Says that a body rests at a place from one frame to another: one mark in the first, in the place of all that stood there. */
export function setRest(body: string, from: number, to: number, at: Point): Recipe {
  return (draft) => {
    const marks = draft.bodies[body]?.marks
    if (!marks) return
    endRestBefore(marks, from)
    for (const frame of Object.keys(marks).map(Number)) if (frame >= from && frame <= to) delete marks[frame]
    marks[from] = { x: at.x, y: at.y, by: 'hand', ...(to > from && { until: to }) }
  }
}

/** Sets where the second point of a body is in a frame, or takes it away with null. */
export function setSecond(body: string, frame: number, at: Point | null): Recipe {
  return (draft) => {
    const second = draft.bodies[body]?.second
    if (!second) return
    if (at) second[frame] = { x: at.x, y: at.y }
    else delete second[frame]
  }
}

/** Says that the motion breaks before the mark of a frame, or that it doesn't; with null nothing is said any more. */
export function setBreak(body: string, frame: number, word: BreakWord | null): Recipe {
  return (draft) => {
    const breaks = draft.bodies[body]?.breaks
    if (!breaks) return
    if (word) breaks[frame] = word
    else delete breaks[frame]
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
    for (const [key, { x, y, certainty }] of Object.entries(found)) {
      const frame = Number(key)
      const standing = restOver(marks, frame) ?? frame
      if (!replacesHand && marks[standing]?.by === 'hand') continue
      endRestBefore(marks, frame)
      marks[frame] = { x, y, by: 'follow', certainty }
    }
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

/** Removes all marks of a body from one frame to another, both included, and what else is said of these frames. */
export function clearMarks(body: string, from = 0, to = Number.POSITIVE_INFINITY): Recipe {
  return (draft) => {
    if (!draft.bodies[body]) return
    const { marks, second, breaks } = draft.bodies[body]
    endRestBefore(marks, from)
    for (const things of [marks, second, breaks])
      for (const frame of Object.keys(things))
        if (Number(frame) >= from && Number(frame) <= to) delete things[frame]
  }
}
