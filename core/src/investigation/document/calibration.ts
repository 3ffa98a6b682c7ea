import type { Axes, CameraMotion, Depth, PlacedByHand, Point, ReferenceLength } from '../../geometry/index.ts'
import type { ById } from './order.ts'

/** A point as it was placed: in the picture of which frame, which matters where the camera moves. */
export interface PlacedPoint extends PlacedByHand {
  frame: number
}

/** What a reference length is for: the scale rests on it, or it only checks the scale. */
export const REFERENCE_USES = ['scale', 'check'] as const
export type ReferenceUse = (typeof REFERENCE_USES)[number]

export interface Reference extends ReferenceLength {
  order: number
  name: string
  /** Where the value comes from, in the person's words. */
  note: string
  ends: [PlacedPoint, PlacedPoint]
  depth: Depth | null
  use: ReferenceUse
}

/** Something whose speed or acceleration over a stretch is known, so that it gives the scale. */
export interface KnownMotion {
  order: number
  stretch: string
  /** 1: a uniform speed is known, 2: a uniform acceleration. */
  derivative: 1 | 2
  /** Its size in SI, and its standard error. */
  value: number
  error: number
}

/** A set of axes by name: one a body, say, or one a phase of the motion. */
export interface AxesSet extends Axes {
  order: number
  name: string
  origin: PlacedPoint
  /** Standard error of the tilt, in radians; 0 where the picture's own directions are meant, or a tilt was typed. */
  tiltError: number
  placed: boolean
}

/** Id of the axes that every investigation begins with. */
export const FIRST_AXES = '00000000-0000-4000-8000-0000000000a1'

/** What a probe measures: a distance, the angle at the middle of three points, or that of a line against the x axis. */
export const PROBE_KINDS = ['distance', 'angle', 'slope'] as const
export type ProbeKind = (typeof PROBE_KINDS)[number]

/** Points that each kind of probe has. */
export const PROBE_POINTS: Record<ProbeKind, number> = { distance: 2, angle: 3, slope: 2 }

/** A distance or an angle measured on the picture, for checking only. */
export interface Probe {
  order: number
  name: string
  kind: ProbeKind
  points: PlacedPoint[]
  /** Whether it shows on the frame that it was placed on only. */
  oneFrame: boolean
}

/** A fixed point of the scene, marked through time to undo a moving camera. */
export interface Landmark {
  order: number
  name: string
  /** Keyed by frame index. */
  marks: Record<string, PlacedByHand>
  /** The frame from which on it can't be seen any more; null: it stays. */
  gone: number | null
}

/** What the camera did, by answer to the question. */
export const CAMERA_MOTIONS = ['still', 'turned', 'zoomed', 'tilted'] as const satisfies readonly (
  | 'still'
  | CameraMotion
)[]

export interface Camera {
  motion: (typeof CAMERA_MOTIONS)[number]
  landmarks: ById<Landmark>
}

/** Four corners of something rectangular in the plane of motion, where that is seen at an angle. */
export interface Plane {
  /** (0, 0), (width, 0), (width, height), (0, height). */
  corners: [PlacedPoint, PlacedPoint, PlacedPoint, PlacedPoint]
  /** Metres, or null until they are known. */
  width: number | null
  height: number | null
  /** Relative standard error of both. */
  sizeError: number
}

/** Direction of gravity, along a plumb line drawn in the picture. */
export interface Gravity {
  /** From the picture's right towards up, in radians. */
  direction: number
  /** Standard error of the direction, in radians. */
  error: number
}

/** A lens that bulges. */
export interface Lens {
  /** The coefficient where it is typed; null where the edges tell it. */
  k1: number | null
  /** Points along edges that are straight in reality. */
  edges: ById<{ order: number; points: Point[] }>
}

/** Who has locked a part of the calibration against changes. */
export interface Lock {
  by: string
  name: string
}

/** Parts of the calibration that can be locked and hidden. */
export const CALIBRATION_PARTS = ['scale', 'axes'] as const
export type CalibrationPart = (typeof CALIBRATION_PARTS)[number]

/** Axes that nobody has placed yet. */
export function newAxes(name: string, order: number, origin: PlacedPoint): AxesSet {
  return { order, name, origin, tilt: 0, tiltError: 0, turnedX: false, turnedY: false, placed: false }
}
