import type { Point } from '../geometry/index.ts'
import {
  type CaptureRate,
  clampSpan,
  fileTiming,
  frameCount,
  type Readout,
  type Repeats,
  type Span,
  type Timing,
} from '../time/index.ts'
import {
  BODY_COLOURS,
  BODY_SHAPES,
  type Expected,
  type FitForm,
  type Footage,
  type ModelId,
  nextOrder,
  type QuantityId,
  type Reference,
} from './document.ts'
import { pictureSize, type Turn, turnedDirection, turnedPoint, turnedTilt } from './orientation.ts'
import type { Recipe } from './patch.ts'

/** Puts footage in: the span becomes the whole clip, its times the file's own, the origin the middle of the picture. */
export function setFootage(footage: Footage): Recipe {
  return (draft) => {
    draft.footage = footage
    draft.timing = fileTiming()
    draft.orientation = { mirrored: false, quarterTurns: 0 }
    draft.span = { first: 0, last: frameCount(footage.ticks) - 1, every: 1 }
    if (!draft.axes.placed) draft.axes.origin = { x: footage.width / 2, y: footage.height / 2 }
  }
}

/** Changes the title. */
export function setTitle(title: string): Recipe {
  return (draft) => {
    draft.title = title
  }
}

/** Changes the span; it is forced into the clip. */
export function setSpan(change: Partial<Span>): Recipe {
  return (draft) => {
    if (!draft.footage) return
    const frames = frameCount(draft.footage.ticks)
    const wanted = { ...draft.span, ...change }
    // The end that was moved gives way, not the one that was left alone.
    if (change.first !== undefined) wanted.first = Math.min(wanted.first, wanted.last)
    draft.span = clampSpan(wanted, frames)
  }
}

/** Changes how the clip's times are told: an even clock, its error, time zero. */
export function setTiming(change: Partial<Pick<Timing, 'constantRate' | 'rateError' | 'zero'>>): Recipe {
  return (draft) => {
    Object.assign(draft.timing, change)
  }
}

/** States a capture rate for a range of frames, or changes the one that has this id. */
export function setCaptureRate(id: string, stated: Omit<CaptureRate, 'order'>): Recipe {
  return (draft) => {
    const { capture } = draft.timing
    capture[id] = { ...stated, order: capture[id]?.order ?? nextOrder(capture) }
  }
}

/** Takes a capture rate away. */
export function removeCaptureRate(id: string): Recipe {
  return (draft) => {
    delete draft.timing.capture[id]
  }
}

/** States the read-out time of the sensor; null switches the correction off. */
export function setReadout(readout: Readout | null): Recipe {
  return (draft) => {
    draft.timing.readout = readout
  }
}

/** Accepts what was found of repeated frames; null forgets it. */
export function setRepeats(repeats: Repeats | null): Recipe {
  return (draft) => {
    draft.timing.repeats = repeats
  }
}

/** Turns the picture by a quarter or mirrors it; marks, calibration and read-out turn along with it. */
export function turnPicture(turn: Turn): Recipe {
  return (draft) => {
    if (!draft.footage) return
    const size = pictureSize(draft)
    const moved = (point: Point) => turnedPoint(turn, point, size)
    for (const body of Object.values(draft.bodies))
      for (const mark of Object.values(body.marks)) Object.assign(mark, moved(mark))
    for (const reference of Object.values(draft.references))
      reference.ends = [moved(reference.ends[0]), moved(reference.ends[1])]
    draft.axes.origin = moved(draft.axes.origin)
    draft.axes.tilt = turnedTilt(turn, draft.axes.tilt)
    const { readout } = draft.timing
    if (readout) readout.towards = turnedDirection(turn, readout.towards)
    const { mirrored, quarterTurns } = draft.orientation
    // Mirroring comes first in what is stored, so turns that were made before it run the other way round.
    draft.orientation =
      turn === 'mirror'
        ? { mirrored: !mirrored, quarterTurns: quarters(-quarterTurns) }
        : { mirrored, quarterTurns: quarters(quarterTurns + (turn === 'right' ? 1 : -1)) }
  }
}

function quarters(turns: number): 0 | 1 | 2 | 3 {
  return (((turns % 4) + 4) % 4) as 0 | 1 | 2 | 3
}

/** Adds a reference length with its two ends; its length is still to be told. */
export function addReference(id: string, ends: [Point, Point]): Recipe {
  return (draft) => {
    draft.references[id] = {
      order: nextOrder(draft.references),
      name: 'reference length',
      ends,
      length: null,
      lengthError: 0,
      placingError: 0.5,
    }
  }
}

/** Changes what is told of a reference length; an unknown one is left alone. */
export function changeReference(id: string, change: Partial<Omit<Reference, 'order'>>): Recipe {
  return (draft) => {
    if (draft.references[id]) Object.assign(draft.references[id], change)
  }
}

/** Removes a reference length; without one everything is in pixels again. */
export function removeReference(id: string): Recipe {
  return (draft) => {
    delete draft.references[id]
  }
}

/** Moves or turns the axes; from then on they count as placed. */
export function setAxes(change: { origin?: Point; tilt?: number }): Recipe {
  return (draft) => {
    draft.axes = { ...draft.axes, ...change, placed: true }
  }
}

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
    draft.graphs[graphIds.position] = { order: nextOrder(draft.graphs), body: id, quantity: 'y' }
    draft.graphs[graphIds.velocity] = { order: nextOrder(draft.graphs), body: id, quantity: 'vy' }
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

/** Adds a graph of a quantity behind the others. */
export function addGraph(id: string, body: string, quantity: QuantityId): Recipe {
  return (draft) => {
    draft.graphs[id] = { order: nextOrder(draft.graphs), body, quantity }
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

/** Removes a stretch with its fits. */
export function removeStretch(id: string): Recipe {
  return (draft) => {
    delete draft.stretches[id]
    for (const [fitId, fit] of Object.entries(draft.fits)) if (fit.stretch === id) delete draft.fits[fitId]
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
