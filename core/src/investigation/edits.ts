import { type CameraMotion, inCornerOrder, type Point } from '../geometry/index.ts'
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
import type { LengthName } from '../units/index.ts'
import {
  type AxesSet,
  axesOf,
  BODY_COLOURS,
  BODY_SHAPES,
  type CalibrationPart,
  type Camera,
  type Expected,
  type FitForm,
  type Footage,
  type Investigation,
  type KnownMotion,
  type Landmark,
  type Lock,
  type ModelId,
  newAxes,
  nextOrder,
  type PlacedPoint,
  type Plane,
  type Probe,
  type ProbeKind,
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
    for (const axes of Object.values(draft.axes))
      if (!axes.placed) axes.origin = { x: footage.width / 2, y: footage.height / 2, frame: 0 }
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
    for (const point of everyPoint(draft)) Object.assign(point, moved(point))
    for (const axes of Object.values(draft.axes)) axes.tilt = turnedTilt(turn, axes.tilt)
    const down = turnedTilt(turn, draft.gravity ?? STRAIGHT_DOWN)
    draft.gravity = Math.abs(down - STRAIGHT_DOWN) < 1e-12 ? null : down
    // A plane that is mirrored counts from its other side.
    if (draft.plane && turn === 'mirror') {
      const [a, b, c, d] = draft.plane.corners
      draft.plane.corners = [b, a, d, c]
    }
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

const STRAIGHT_DOWN = -Math.PI / 2

/** Every point of the picture that a document holds. */
function* everyPoint(draft: Investigation): Generator<Point> {
  for (const body of Object.values(draft.bodies)) yield* Object.values(body.marks)
  for (const reference of Object.values(draft.references)) yield* reference.ends
  for (const axes of Object.values(draft.axes)) yield axes.origin
  for (const probe of Object.values(draft.probes)) yield* probe.points
  for (const landmark of Object.values(draft.camera.landmarks)) yield* Object.values(landmark.marks)
  if (draft.plane) yield* draft.plane.corners
  for (const edge of Object.values(draft.lens?.edges ?? {})) yield* edge.points
}

function quarters(turns: number): 0 | 1 | 2 | 3 {
  return (((turns % 4) + 4) % 4) as 0 | 1 | 2 | 3
}

/** Chooses the unit in which lengths are shown. */
export function setLengthUnit(unit: LengthName): Recipe {
  return (draft) => {
    draft.lengthUnit = unit
  }
}

/** Adds a reference length with its two ends; its length is still to be told. */
export function addReference(id: string, ends: [PlacedPoint, PlacedPoint]): Recipe {
  return (draft) => {
    const count = Object.keys(draft.references).length
    draft.references[id] = {
      order: nextOrder(draft.references),
      name: count === 0 ? 'reference length' : `reference length ${count + 1}`,
      note: '',
      ends,
      length: null,
      lengthError: 0,
      placingError: 0.5,
      depth: null,
      use: 'scale',
    }
  }
}

/** Changes what is told of a reference length; an unknown one is left alone. */
export function changeReference(id: string, change: Partial<Omit<Reference, 'order'>>): Recipe {
  return (draft) => {
    if (draft.references[id]) Object.assign(draft.references[id], change)
  }
}

/** Removes a reference length; without any everything is in pixels again. */
export function removeReference(id: string): Recipe {
  return (draft) => {
    delete draft.references[id]
  }
}

/** States how fast something is known to go over a stretch, or how strongly it is known to be accelerated: that then gives the scale. */
export function setKnownMotion(id: string, known: Omit<KnownMotion, 'order'>): Recipe {
  return (draft) => {
    const { knownMotions } = draft
    knownMotions[id] = { ...known, order: knownMotions[id]?.order ?? nextOrder(knownMotions) }
  }
}

/** Forgets that a motion is known. */
export function removeKnownMotion(id: string): Recipe {
  return (draft) => {
    delete draft.knownMotions[id]
  }
}

/** Moves or turns axes, the main ones unless told otherwise; from then on they count as placed. */
export function setAxes(change: Partial<Omit<AxesSet, 'order' | 'name' | 'placed'>>, id?: string): Recipe {
  return (draft) => {
    const axes = axesOf(draft, id)
    Object.assign(axes, change, { placed: true })
  }
}

/** Adds axes where the main ones lie, and makes them the main ones. */
export function addAxes(id: string, name: string): Recipe {
  return (draft) => {
    const { origin, tilt } = axesOf(draft)
    draft.axes[id] = { ...newAxes(name, nextOrder(draft.axes), { ...origin }), tilt }
    draft.mainAxes = id
  }
}

/** Gives axes their name. */
export function renameAxes(id: string, name: string): Recipe {
  return (draft) => {
    if (draft.axes[id]) draft.axes[id].name = name
  }
}

/** Makes axes the ones that are meant where none are named. */
export function chooseAxes(id: string): Recipe {
  return (draft) => {
    if (draft.axes[id]) draft.mainAxes = id
  }
}

/** Removes axes, but never the last; graphs that used them go by the main ones. */
export function removeAxes(id: string): Recipe {
  return (draft) => {
    const others = Object.keys(draft.axes).filter((other) => other !== id)
    if (others.length === 0) return
    delete draft.axes[id]
    if (draft.mainAxes === id) draft.mainAxes = others[0]
    for (const graph of Object.values(draft.graphs)) if (graph.axes === id) graph.axes = null
  }
}

/** States in which direction of the picture things fall; null: straight down. */
export function setGravity(direction: number | null): Recipe {
  return (draft) => {
    draft.gravity = direction
  }
}

/** Locks a part of the calibration in somebody's name, or unlocks it. */
export function setLock(part: CalibrationPart, lock: Lock | null): Recipe {
  return (draft) => {
    draft.locks[part] = lock
  }
}

/** Shows or hides a part of the calibration on the picture. */
export function setHidden(part: CalibrationPart, hidden: boolean): Recipe {
  return (draft) => {
    draft.hidden[part] = hidden
  }
}

const PROBE_NAMES: Record<ProbeKind, string> = { distance: 'distance', angle: 'angle', slope: 'slope' }

/** Adds a probe with its points. */
export function addProbe(id: string, kind: ProbeKind, points: PlacedPoint[]): Recipe {
  return (draft) => {
    const alike = Object.values(draft.probes).filter((probe) => probe.kind === kind).length
    draft.probes[id] = {
      order: nextOrder(draft.probes),
      name: `${PROBE_NAMES[kind]} ${alike + 1}`,
      kind,
      points,
      oneFrame: false,
    }
  }
}

/** Changes a probe's name or points, or where it shows. */
export function changeProbe(
  id: string,
  change: Partial<Pick<Probe, 'name' | 'points' | 'oneFrame'>>,
): Recipe {
  return (draft) => {
    if (draft.probes[id]) Object.assign(draft.probes[id], change)
  }
}

/** Removes a probe. */
export function removeProbe(id: string): Recipe {
  return (draft) => {
    delete draft.probes[id]
  }
}

/** Answers what the camera did. Landmarks stay, whatever the answer. */
export function setCameraMotion(motion: 'still' | CameraMotion): Recipe {
  return (draft) => {
    draft.camera.motion = motion satisfies Camera['motion']
  }
}

/** Adds a landmark with its first mark. */
export function addLandmark(id: string, frame: number, at: Point): Recipe {
  return (draft) => {
    const { landmarks } = draft.camera
    landmarks[id] = {
      order: nextOrder(landmarks),
      name: `landmark ${Object.keys(landmarks).length + 1}`,
      marks: { [frame]: { x: at.x, y: at.y } },
      gone: null,
    }
  }
}

/** Marks a landmark in a frame. One that was gone by then is there again. */
export function markLandmark(id: string, frame: number, at: Point): Recipe {
  return (draft) => {
    const landmark = draft.camera.landmarks[id]
    if (!landmark) return
    landmark.marks[frame] = { x: at.x, y: at.y }
    if (landmark.gone !== null && landmark.gone <= frame) landmark.gone = null
  }
}

/** Takes a landmark's mark in a frame away. */
export function unmarkLandmark(id: string, frame: number): Recipe {
  return (draft) => {
    delete draft.camera.landmarks[id]?.marks[frame]
  }
}

/** Changes a landmark's name, or the frame from which on it can't be seen. */
export function changeLandmark(id: string, change: Partial<Pick<Landmark, 'name' | 'gone'>>): Recipe {
  return (draft) => {
    if (draft.camera.landmarks[id]) Object.assign(draft.camera.landmarks[id], change)
  }
}

/** Removes a landmark. */
export function removeLandmark(id: string): Recipe {
  return (draft) => {
    delete draft.camera.landmarks[id]
  }
}

/** Lays the plane of motion through four corners, given in any order; its size is still to be told. */
export function setPlaneCorners(corners: Plane['corners']): Recipe {
  return (draft) => {
    const ordered = inCornerOrder(corners) as Plane['corners']
    draft.plane = draft.plane
      ? { ...draft.plane, corners: ordered }
      : { corners: ordered, width: null, height: null, sizeError: 0, placingError: 0.5 }
  }
}

/** Changes what is told of the plane, or moves a corner. */
export function changePlane(change: Partial<Plane>): Recipe {
  return (draft) => {
    if (draft.plane) Object.assign(draft.plane, change)
  }
}

/** Forgets the plane: the motion is taken to be parallel to the sensor. */
export function removePlane(): Recipe {
  return (draft) => {
    draft.plane = null
  }
}

/** Adds an edge that is straight in reality, by points along it. */
export function addEdge(id: string, points: Point[]): Recipe {
  return (draft) => {
    draft.lens ??= { k1: null, edges: {} }
    draft.lens.edges[id] = { order: nextOrder(draft.lens.edges), points }
  }
}

/** States the lens's coefficient; null: what the edges tell. */
export function setLensCoefficient(k1: number | null): Recipe {
  return (draft) => {
    draft.lens = { edges: draft.lens?.edges ?? {}, k1 }
  }
}

/** Takes the lens for good again. */
export function removeLens(): Recipe {
  return (draft) => {
    draft.lens = null
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

/** Adds a graph of a quantity behind the others. */
export function addGraph(id: string, body: string, quantity: QuantityId): Recipe {
  return (draft) => {
    draft.graphs[id] = { order: nextOrder(draft.graphs), body, quantity, axes: null }
  }
}

/** Measures a graph in other axes; null: in the main ones. */
export function setGraphAxes(id: string, axes: string | null): Recipe {
  return (draft) => {
    if (draft.graphs[id]) draft.graphs[id].axes = axes
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
