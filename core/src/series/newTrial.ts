import { applied, type Point, placingErrorOf } from '../geometry/index.ts'
import {
  FIRST_AXES,
  type Footage,
  type Investigation,
  type Mutator,
  newInvestigation,
  type PlacedPoint,
} from '../investigation/index.ts'
import { type ViewMotion, viewError, viewStep } from '../registration/index.ts'
import { frameCount } from '../time/index.ts'

/** How a clip shows the view of the pattern's clip, as far as a set-up depends on it; a `Registration` is one. */
export type PatternView = { kind: 'same' } | { kind: 'moved'; motion: ViewMotion } | { kind: 'other' }

/**
 * Returns the investigation of a new trial: set-up, bodies, graphs, fits, calculations and report as in the pattern, without anything that
 * belongs to the pattern's clip: marks, breaks, landmarks' places, repeats of frames, notes on graphs, pinned blocks and refusals. Stretches
 * reach over the whole clip until the motion tells where they lie.
 *
 * @param view how the pattern's clip shows the same view: points of the calibration are taken along with a camera that moved, and have the
 *   motion's error as well; if it is another view, the scale, the axes and what else was placed in the picture are left out
 */
export function newTrial(
  pattern: Investigation,
  { title, footage, view }: { title: string; footage: Footage; view: PatternView },
): Investigation {
  const last = frameCount(footage.ticks) - 1
  const { references, plane, axes, mainAxes, gravity, probes } = calibrationFor(pattern, footage, view)
  return {
    ...pattern,
    title,
    footage,
    timing: { ...pattern.timing, zero: null, repeats: null },
    span: { first: 0, last, every: pattern.span.every },
    references,
    plane,
    axes,
    mainAxes,
    gravity,
    probes,
    camera: { ...pattern.camera, landmarks: {} },
    locks: { scale: null, axes: null },
    knownMotions: {},
    bodies: mapped(pattern.bodies, (body) => ({ ...body, locked: false, marks: {}, second: {}, breaks: {} })),
    graphs: mapped(pattern.graphs, (graph) => ({
      ...graph,
      axes: graph.axes !== null && Object.hasOwn(axes, graph.axes) ? graph.axes : null,
      notes: {},
      handTangent: null,
      overlays: {},
    })),
    stretches: mapped(pattern.stretches, (stretch) => ({ ...stretch, from: 0, to: last, without: {} })),
    report: {
      ...pattern.report,
      blocks: mapped(pattern.report.blocks, (block) => ({ ...block, pin: null })),
    },
    refusals: {},
  }
}

/** Returns whether anything was set up or measured in an investigation, beyond its clip. */
export function isSetUp({ references, plane, bodies, fits, axes }: Investigation): boolean {
  const things = [references, bodies, fits].some((some) => Object.keys(some).length > 0)
  return things || plane !== null || Object.values(axes).some(({ placed }) => placed)
}

/** Returns the edit that sets up an investigation with footage as `newTrial` does; its title and its footage stay. */
export function setUpLike(pattern: Investigation, view: PatternView): Mutator {
  return (draft) => {
    const { title, footage } = draft
    Object.assign(draft, newTrial(pattern, { title, footage: footage!, view }))
  }
}

const mapped = <T, U>(things: Record<string, T>, change: (thing: T) => U): Record<string, U> =>
  Object.fromEntries(Object.entries(things).map(([id, thing]) => [id, change(thing)]))

/** What of a calibration lies in the picture. */
type Placed = Pick<Investigation, 'references' | 'plane' | 'axes' | 'mainAxes' | 'gravity' | 'probes'>

function calibrationFor(pattern: Investigation, footage: Footage, view: PatternView): Placed {
  if (view.kind === 'other') return withoutCalibration(footage)
  return view.kind === 'moved' ? calibrationTakenAlong(pattern, view.motion) : calibrationAsBefore(pattern)
}

/** Returns the calibration of a camera that stood still: only the frames are those of another clip. */
function calibrationAsBefore(pattern: Investigation): Placed {
  const inFirst = (point: PlacedPoint): PlacedPoint => ({ ...point, frame: 0 })
  return placedBy(pattern, inFirst, (direction) => direction)
}

function calibrationTakenAlong(pattern: Investigation, motion: ViewMotion): Placed {
  const { forward, jacobian } = viewStep(motion)
  return placedBy(
    pattern,
    (point) => ({
      ...forward(point),
      frame: 0,
      error: Math.hypot(placingErrorOf(point), viewError(motion, point)),
    }),
    (direction, at) => {
      const { x, y } = applied(jacobian(at), { x: Math.cos(direction), y: -Math.sin(direction) })
      return Math.atan2(-y, x)
    },
  )
}

/**
 * Returns a calibration whose points and directions are changed.
 *
 * @param turned returns the direction, from the picture's right towards up, of one at a point
 */
function placedBy(
  { references, plane, axes, mainAxes, gravity, probes, footage }: Investigation,
  along: (point: PlacedPoint) => PlacedPoint,
  turned: (direction: number, at: Point) => number,
): Placed {
  const middle = { x: (footage?.width ?? 0) / 2, y: (footage?.height ?? 0) / 2 }
  return {
    references: mapped(references, (reference) => ({
      ...reference,
      ends: [along(reference.ends[0]), along(reference.ends[1])],
    })),
    plane: plane && { ...plane, corners: plane.corners.map(along) as typeof plane.corners },
    axes: mapped(axes, (one) =>
      one.placed ? { ...one, origin: along(one.origin), tilt: turned(one.tilt, one.origin) } : one,
    ),
    mainAxes,
    gravity: gravity && { ...gravity, direction: turned(gravity.direction, middle) },
    probes: mapped(probes, (probe) => ({ ...probe, points: probe.points.map(along) })),
  }
}

function withoutCalibration(footage: Footage): Placed {
  const { references, plane, axes, gravity, probes } = newInvestigation('')
  const origin = { x: footage.width / 2, y: footage.height / 2, frame: 0 }
  return {
    references,
    plane,
    axes: mapped(axes, (one) => ({ ...one, origin })),
    mainAxes: FIRST_AXES,
    gravity,
    probes,
  }
}
