import type { Axes, Point, ReferenceLength } from '../geometry/index.ts'
import { type FrameTicks, fileTiming, type Span, type TimeBase, type Timing } from '../time/index.ts'

/** Version of the document's form that this code writes. */
export const DOCUMENT_VERSION = 2

/** Colours of bodies in the order in which they are given out. */
export const BODY_COLOURS = ['coral', 'jade', 'iris', 'cyan', 'rose', 'olive'] as const
export type BodyColour = (typeof BODY_COLOURS)[number]

/** Marker shapes, one beside each colour, so that bodies are told apart without colour too. */
export const BODY_SHAPES = ['circle', 'square', 'triangle', 'diamond', 'cross', 'star'] as const
export type BodyShape = (typeof BODY_SHAPES)[number]

export const QUANTITY_IDS = ['x', 'y', 'vx', 'vy'] as const
export type QuantityId = (typeof QUANTITY_IDS)[number]

export const MODEL_IDS = ['uniform', 'uniform-acceleration'] as const
export type ModelId = (typeof MODEL_IDS)[number]

/** How a fit's formula is written: with the physics' own parameters, or with plain coefficients. */
export const FIT_FORMS = ['physics', 'coefficients'] as const
export type FitForm = (typeof FIT_FORMS)[number]

/** Things keyed by UUID; their order is a field of theirs, so that edits to different things never meet. */
export type ById<T> = Record<string, T>

/** A video as recorded. What stands here are facts of the file, found when it was opened. */
export interface Footage {
  id: string
  name: string
  /** Bytes. */
  size: number
  /** Of the upright picture, in pixels. */
  width: number
  height: number
  timeBase: TimeBase
  ticks: FrameTicks
  /** Clockwise turn that the file asks for, in degrees; the sensor's rows lie across it. */
  rotation: 0 | 90 | 180 | 270
  /** Capture rate that the camera noted in the file, frames per second; null where it noted none. */
  notedCaptureRate: number | null
  /** Whether what is shown was made on the server from a file that browsers can't decode. */
  converted: boolean
}

/** How a person wants the upright picture turned on: first mirrored left to right, then turned clockwise. */
export interface Orientation {
  mirrored: boolean
  quarterTurns: 0 | 1 | 2 | 3
}

export interface Reference extends ReferenceLength {
  order: number
  name: string
}

/** Where a body is in one frame, in continuous pixels of the upright picture. */
export interface Mark extends Point {
  by: 'hand'
}

/** A tracked object. */
export interface Body {
  order: number
  name: string
  colour: BodyColour
  shape: BodyShape
  /** Keyed by frame index. */
  marks: Record<string, Mark>
}

/** One graph of a quantity of one body against time. */
export interface Graph {
  order: number
  body: string
  quantity: QuantityId
}

/** A range of points chosen along a graph, by the frames of its first and last point. */
export interface Stretch {
  /** Shown in its flag; never given out twice. */
  number: number
  graph: string
  from: number
  to: number
}

/** A value that a reading is held against. */
export interface Expected {
  /** In SI. */
  value: number
  label: string
}

export interface Fit {
  order: number
  stretch: string
  model: ModelId
  form: FitForm
  expected: Expected | null
}

/** The saved piece of work: what people decided. Everything else is derived from it. */
export interface Investigation {
  version: typeof DOCUMENT_VERSION
  title: string
  footage: Footage | null
  orientation: Orientation
  timing: Timing
  span: Span
  references: ById<Reference>
  axes: Axes & { placed: boolean }
  bodies: ById<Body>
  graphs: ById<Graph>
  stretches: ById<Stretch>
  fits: ById<Fit>
}

/** A new, empty investigation. */
export function newInvestigation(title: string): Investigation {
  return {
    version: DOCUMENT_VERSION,
    title,
    footage: null,
    orientation: { mirrored: false, quarterTurns: 0 },
    timing: fileTiming(),
    span: { first: 0, last: 0, every: 1 },
    references: {},
    axes: { origin: { x: 0, y: 0 }, tilt: 0, placed: false },
    bodies: {},
    graphs: {},
    stretches: {},
    fits: {},
  }
}

/** Entries of a keyed collection by their order field. */
export function inOrder<T extends { order: number }>(things: ById<T>): [string, T][] {
  return Object.entries(things).sort(([idA, a], [idB, b]) => a.order - b.order || (idA < idB ? -1 : 1))
}

/** Order for a thing that is added behind all others. */
export function nextOrder(things: ById<{ order: number }>): number {
  return Object.values(things).reduce((next, thing) => Math.max(next, thing.order + 1), 0)
}

/** The reference length that the scale rests on: the first, or undefined where there is none. */
export function primaryReference(investigation: Investigation): Reference | undefined {
  return inOrder(investigation.references)[0]?.[1]
}
