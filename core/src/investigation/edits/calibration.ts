import {
  type CameraMotion,
  inCornerOrder,
  type PlacedByHand,
  type Point,
  placeOf,
} from '../../geometry/index.ts'
import type { LengthName } from '../../units/index.ts'
import {
  type AxesSet,
  type CalibrationPart,
  type Camera,
  type Gravity,
  type KnownMotion,
  type Landmark,
  type Lock,
  newAxes,
  type PlacedPoint,
  type Plane,
  type Probe,
  type ProbeKind,
  type Reference,
} from '../document/calibration.ts'
import { axesOf } from '../document/investigation.ts'
import { nextOrder } from '../document/order.ts'
import type { Mutator } from '../patch.ts'
import { removeDangling } from '../references.ts'

/** Chooses the unit in which lengths are shown. */
export function setLengthUnit(unit: LengthName): Mutator {
  return (draft) => {
    draft.lengthUnit = unit
  }
}

/** Adds a reference length with its two ends; its length is still to be told. */
export function addReference(id: string, ends: [PlacedPoint, PlacedPoint]): Mutator {
  return (draft) => {
    const count = Object.keys(draft.references).length
    draft.references[id] = {
      order: nextOrder(draft.references),
      name: count === 0 ? 'reference length' : `reference length ${count + 1}`,
      note: '',
      ends,
      length: null,
      lengthError: 0,
      depth: null,
      use: 'scale',
    }
  }
}

/** Changes what is told of a reference length; an unknown one is left alone. */
export function changeReference(id: string, change: Partial<Omit<Reference, 'order'>>): Mutator {
  return (draft) => {
    if (draft.references[id]) Object.assign(draft.references[id], change)
  }
}

/** Removes a reference length; without any everything is in pixels again. */
export function removeReference(id: string): Mutator {
  return (draft) => {
    delete draft.references[id]
  }
}

/** States how fast something is known to go over a stretch, or how strongly it is known to be accelerated: that then gives the scale. */
export function setKnownMotion(id: string, known: Omit<KnownMotion, 'order'>): Mutator {
  return (draft) => {
    const { knownMotions } = draft
    knownMotions[id] = { ...known, order: knownMotions[id]?.order ?? nextOrder(knownMotions) }
  }
}

/** Forgets that a motion is known. */
export function removeKnownMotion(id: string): Mutator {
  return (draft) => {
    delete draft.knownMotions[id]
  }
}

/** Moves or turns axes, the main ones unless told otherwise; from then on they count as placed. */
export function setAxes(change: Partial<Omit<AxesSet, 'order' | 'name' | 'placed'>>, id?: string): Mutator {
  return (draft) => {
    const axes = axesOf(draft, id)
    Object.assign(axes, change, { placed: true })
  }
}

/** Adds axes where the main ones lie, and makes them the main ones. */
export function addAxes(id: string, name: string): Mutator {
  return (draft) => {
    const { origin, tilt, tiltError } = axesOf(draft)
    draft.axes[id] = { ...newAxes(name, nextOrder(draft.axes), { ...origin }), tilt, tiltError }
    draft.mainAxes = id
  }
}

/** Gives axes their name. */
export function renameAxes(id: string, name: string): Mutator {
  return (draft) => {
    if (draft.axes[id]) draft.axes[id].name = name
  }
}

/** Makes axes the ones that are meant where none are named. */
export function chooseAxes(id: string): Mutator {
  return (draft) => {
    if (draft.axes[id]) draft.mainAxes = id
  }
}

/** Removes axes, but never the last; graphs that used them go by the main ones. */
export function removeAxes(id: string): Mutator {
  return (draft) => {
    if (Object.keys(draft.axes).every((other) => other === id)) return
    delete draft.axes[id]
    removeDangling(draft)
  }
}

/** Sets the direction of gravity in the picture; null: straight down. */
export function setGravity(gravity: Gravity | null): Mutator {
  return (draft) => {
    draft.gravity = gravity
  }
}

/** Locks a part of the calibration in somebody's name, or unlocks it. */
export function setLock(part: CalibrationPart, lock: Lock | null): Mutator {
  return (draft) => {
    draft.locks[part] = lock
  }
}

/** Shows or hides a part of the calibration on the picture. */
export function setHidden(part: CalibrationPart, hidden: boolean): Mutator {
  return (draft) => {
    draft.hidden[part] = hidden
  }
}

const PROBE_NAMES: Record<ProbeKind, string> = { distance: 'distance', angle: 'angle', slope: 'slope' }

/** Adds a probe with its points. */
export function addProbe(id: string, kind: ProbeKind, points: PlacedPoint[]): Mutator {
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
): Mutator {
  return (draft) => {
    if (draft.probes[id]) Object.assign(draft.probes[id], change)
  }
}

/** Removes a probe. */
export function removeProbe(id: string): Mutator {
  return (draft) => {
    delete draft.probes[id]
  }
}

/** Answers what the camera did. Landmarks stay, whatever the answer. */
export function setCameraMotion(motion: 'still' | CameraMotion): Mutator {
  return (draft) => {
    draft.camera.motion = motion satisfies Camera['motion']
  }
}

/** Adds a landmark with its first mark. */
export function addLandmark(id: string, frame: number, at: PlacedByHand): Mutator {
  return (draft) => {
    const { landmarks } = draft.camera
    landmarks[id] = {
      order: nextOrder(landmarks),
      name: `landmark ${Object.keys(landmarks).length + 1}`,
      marks: { [frame]: placeOf(at) },
      gone: null,
    }
  }
}

/** Marks a landmark in a frame. One that was gone by then is there again. */
export function markLandmark(id: string, frame: number, at: PlacedByHand): Mutator {
  return (draft) => {
    const landmark = draft.camera.landmarks[id]
    if (!landmark) return
    landmark.marks[frame] = placeOf(at)
    if (landmark.gone !== null && landmark.gone <= frame) landmark.gone = null
  }
}

/** Takes a landmark's mark in a frame away. */
export function unmarkLandmark(id: string, frame: number): Mutator {
  return (draft) => {
    delete draft.camera.landmarks[id]?.marks[frame]
  }
}

/** Marks a landmark where following has found it. Frames that it is marked in stay, unless they are to be replaced. */
export function followLandmark(id: string, found: Record<string, Point>, replaces = false): Mutator {
  const changesOf = (marks: Readonly<Landmark['marks']>) =>
    Object.entries(found)
      .filter(([frame]) => replaces || !marks[frame])
      .map(([frame, { x, y }]) => ({ frame, value: { x, y }, isThere: frame in marks }))
  const mutator: Mutator = (draft) => {
    const marks = draft.camera.landmarks[id]?.marks
    if (marks) for (const { frame, value } of changesOf(marks)) marks[frame] = value
  }
  mutator.patch = ({ camera }) => {
    const marks = camera.landmarks[id]?.marks
    if (!marks) return []
    return changesOf(marks).map(({ frame, value, isThere }) => ({
      op: isThere ? ('replace' as const) : ('add' as const),
      value,
      path: `/camera/landmarks/${id}/marks/${frame}`,
    }))
  }
  return mutator
}

/** Changes a landmark's name, or the frame from which on it can't be seen. */
export function changeLandmark(id: string, change: Partial<Pick<Landmark, 'name' | 'gone'>>): Mutator {
  return (draft) => {
    if (draft.camera.landmarks[id]) Object.assign(draft.camera.landmarks[id], change)
  }
}

/** Removes a landmark. */
export function removeLandmark(id: string): Mutator {
  return (draft) => {
    delete draft.camera.landmarks[id]
  }
}

/** Lays the plane of motion through four corners, given in any order; its size is still to be told. */
export function setPlaneCorners(corners: Plane['corners']): Mutator {
  return (draft) => {
    const ordered = inCornerOrder(corners) as Plane['corners']
    draft.plane = draft.plane
      ? { ...draft.plane, corners: ordered }
      : { corners: ordered, width: null, height: null, sizeError: 0 }
  }
}

/** Changes what is told of the plane, or moves a corner. */
export function changePlane(change: Partial<Plane>): Mutator {
  return (draft) => {
    if (draft.plane) Object.assign(draft.plane, change)
  }
}

/** Forgets the plane: the motion is taken to be parallel to the sensor. */
export function removePlane(): Mutator {
  return (draft) => {
    draft.plane = null
  }
}

/** Adds an edge that is straight in reality, by points along it. */
export function addEdge(id: string, points: Point[]): Mutator {
  return (draft) => {
    draft.lens ??= { k1: null, edges: {} }
    draft.lens.edges[id] = { order: nextOrder(draft.lens.edges), points }
  }
}

/** States the lens's coefficient; null: what the edges tell. */
export function setLensCoefficient(k1: number | null): Mutator {
  return (draft) => {
    draft.lens = { edges: draft.lens?.edges ?? {}, k1 }
  }
}

/** Takes the lens for good again. */
export function removeLens(): Mutator {
  return (draft) => {
    draft.lens = null
  }
}
