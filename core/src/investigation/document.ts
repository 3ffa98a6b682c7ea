import type { Outline } from '../following/index.ts'
import type { Axes, CameraMotion, Depth, Point, ReferenceLength } from '../geometry/index.ts'
import { type FrameTicks, fileTiming, type Span, type TimeBase, type Timing } from '../time/index.ts'
import type { LengthName, Mass } from '../units/index.ts'

/** Version of the document's form that this code writes. */
export const DOCUMENT_VERSION = 8

/** Colours of bodies in the order in which they are given out. */
export const BODY_COLOURS = ['coral', 'jade', 'iris', 'cyan', 'rose', 'olive'] as const
export type BodyColour = (typeof BODY_COLOURS)[number]

/** Marker shapes, one beside each colour, so that bodies are told apart without colour too. */
export const BODY_SHAPES = ['circle', 'square', 'triangle', 'diamond', 'cross', 'star'] as const
export type BodyShape = (typeof BODY_SHAPES)[number]

export const QUANTITY_IDS = [
  ...(['x', 'y', 'r', 's', 'path', 'theta', 'turn'] as const),
  ...(['vx', 'vy', 'v', 'heading', 'omega', 'spin'] as const),
  ...(['ax', 'ay', 'a', 'at', 'ac', 'felt'] as const),
  ...(['px', 'py', 'p', 'Ek', 'Ep', 'E'] as const),
  ...(['cmx', 'cmy', 'cmvx', 'cmvy', 'sumPx', 'sumPy', 'sumP', 'sumEk'] as const),
  ...(['d', 'bearing'] as const),
] as const
export type QuantityId = (typeof QUANTITY_IDS)[number]

export const DERIVATIVE_IDS = ['three-point', 'parabola', 'cubic', 'spline'] as const
export type DerivativeId = (typeof DERIVATIVE_IDS)[number]

/** How velocity and acceleration are derived from positions. */
export interface Derivation {
  method: DerivativeId
  /** Points on either side that are used, where the method has a choice. */
  reach: number
  /** Whether nearer points count more than those at the ends of the window. */
  weighted: boolean
}

/** Points on either side that can be chosen for a derivative. */
export const REACH = { least: 1, usual: 3, most: 25 } as const

export const MODEL_IDS = [
  'rest',
  ...(['proportional', 'uniform'] as const),
  ...(['uniform-acceleration', 'changing-acceleration'] as const),
  ...([
    'exponential',
    'settling',
    'terminal-from-rest',
    'terminal-speed',
    'quadratic-drag',
    'logistic',
  ] as const),
  ...(['swing', 'damped-swing', 'ellipse', 'pendulum-loop'] as const),
  ...(['kink', 'pieces', 'bounces'] as const),
  ...(['power', 'square-root', 'reciprocal', 'gaussian'] as const),
  'free-form',
] as const
export type ModelId = (typeof MODEL_IDS)[number]

/** Whether points that lie far off count for less in a fit, and how much less. */
export const ROBUST_IDS = ['none', 'huber', 'bisquare'] as const
export type RobustId = (typeof ROBUST_IDS)[number]

/** How a fit's formula is written: with the physics' own parameters, or with plain coefficients. */
export const FIT_FORMS = ['physics', 'coefficients'] as const
export type FitForm = (typeof FIT_FORMS)[number]

/** Standard errors off the course beyond which a mark is a stray, unless somebody chooses otherwise, and what can be chosen. */
export const STRAY_LIMIT = { least: 3, usual: 4, most: 12 } as const

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

/** A point as it was placed: in the picture of which frame, which matters where the camera moves. */
export interface PlacedPoint extends Point {
  frame: number
}

/** What a reference length is for: the scale rests on it, or it is only held against the scale. */
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
  marks: Record<string, Point>
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

/** Four corners of something rectangular in the plane of motion, where that is seen askew. */
export interface Plane {
  /** (0, 0), (width, 0), (width, height), (0, height). */
  corners: [PlacedPoint, PlacedPoint, PlacedPoint, PlacedPoint]
  /** Metres, or null until they are known. */
  width: number | null
  height: number | null
  /** Relative standard error of both. */
  sizeError: number
  /** Standard error of placing a corner, along each direction, in pixels. */
  placingError: number
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

/** Where a body is in one frame, in continuous pixels of the upright picture: set by hand, or by following. */
export type Mark = Point & {
  /** Set where somebody has said that it is right, though it lies off the course of the others. */
  right?: true
  /** Where the body is a streak: from its middle, which is the mark, to one of its ends. */
  streak?: Point
  /** The last frame in which the body still rests here: one measurement over all of them. */
  until?: number
} & (
    | { by: 'hand' }
    /** How sure following was of it, 0 to 1. */
    | { by: 'follow'; certainty: number }
  )

/** What somebody has said of a frame's mark: that the motion breaks before it, as at a bounce, or that it doesn't. */
export const BREAK_WORDS = ['break', 'none'] as const
export type BreakWord = (typeof BREAK_WORDS)[number]

/** A tracked object. */
export interface Body {
  order: number
  name: string
  colour: BodyColour
  shape: BodyShape
  /** Null while it is not known. */
  mass: Mass | null
  /** Not drawn on the picture. */
  hidden: boolean
  /** Its marks can't be changed. */
  locked: boolean
  /** Outline by which it was followed last, around the point that was clicked; null before. */
  outline: Outline | null
  /** Standard error of its marks along each direction, in pixels, where somebody has typed it; null: estimated from them. */
  markError: number | null
  /** Keyed by frame index. */
  marks: Record<string, Mark>
  /** A second point that is fixed to the body, which shows how it is turned; keyed by frame index. */
  second: Record<string, Point>
  /** Keyed by frame index. */
  breaks: Record<string, BreakWord>
}

/** Time, as a graph's horizontal quantity. */
export const TIME = 't'

/** How the points of a graph are joined. */
export const GRAPH_LOOKS = ['points', 'both', 'line'] as const
export type GraphLook = (typeof GRAPH_LOOKS)[number]

/** What values are put through before they are drawn. */
export const TRANSFORM_IDS = ['none', 'square', 'root', 'reciprocal', 'ln', 'log10'] as const
export type TransformId = (typeof TRANSFORM_IDS)[number]

/** One quantity of one body on a graph. */
export interface Series {
  order: number
  body: string
  /** The other body, of a quantity between two; null: the first other one. */
  other: string | null
  /** Id of a quantity, or of one that somebody has defined. */
  quantity: string
}

/** How one direction of a graph is scaled. */
export interface Scaling {
  /** What is seen of it, in the unit that is kept (metres); null: as far as the values go. */
  from: number | null
  to: number | null
  /** Whether 0 is always seen. */
  zero: boolean
  log: boolean
  transform: TransformId
  /** Words of its own; empty: the quantity's. */
  label: string
}

/** Words pinned to a point of a graph. */
export interface GraphNote {
  frame: number
  text: string
}

/** A series from elsewhere on a graph against time: of a sensor, of another investigation. */
export interface Overlay {
  order: number
  name: string
  /** Seconds, increasing, and as many values in the unit that is kept. */
  times: number[]
  values: number[]
  /** Seconds that are added to its times. */
  offset: number
}

/** Points that a series from elsewhere can have. */
export const MOST_POINTS = 20_000

/** A line laid along a graph by hand, between two of its places, in the units that are kept. */
export interface HandTangent {
  from: { x: number; y: number }
  to: { x: number; y: number }
}

/** A graph: one quantity of one body, and others when asked, against time or another quantity. */
export interface Graph extends Series {
  /** TIME, or the quantity that it is drawn against. */
  across: string
  /** More of them, on the same scale. */
  also: ById<Series>
  /** The axes that it is measured in; null: the main ones, whichever they are. */
  axes: string | null
  /** How its quantity is derived; null: as the investigation's are. */
  derivation: Derivation | null
  errorBars: boolean
  look: GraphLook
  scaleAcross: Scaling
  scaleUp: Scaling
  /** Whether a length is as long in both directions. */
  equal: boolean
  grid: boolean
  /** Words of its own; empty: the quantity's name. */
  title: string
  /** Share of the room that it takes among the others. */
  height: number
  notes: ById<GraphNote>
  /** Whether the tangent at the current frame is drawn. */
  tangent: boolean
  handTangent: HandTangent | null
  overlays: ById<Overlay>
}

/** A number of the investigation by a name, for quantities that somebody defines. */
export interface Constant {
  order: number
  /** As it stands in expressions. */
  name: string
  value: number
  /** Standard error. */
  error: number
  unit: string
}

/** Characters that an expression may have. */
export const MOST_EXPRESSION = 2000

/** A quantity that somebody has defined. */
export interface OwnQuantity {
  order: number
  name: string
  symbol: string
  /** Empty: the one that follows from the expression. */
  unit: string
  expression: string
}

/** Shares of the room that graphs can take. */
export const GRAPH_HEIGHTS = { least: 0.3, most: 4 } as const

/** A range of points chosen along a graph, by the frames of its first and last point. */
export interface Stretch {
  /** Shown in its flag; never given out twice. */
  number: number
  graph: string
  from: number
  to: number
  /** Frames in it whose points are left out. */
  without: Record<string, true>
}

/** What a reading is held against: a number, what comes out of an expression, or another reading. */
export type Against =
  /** In SI, with its standard error. */
  | { kind: 'value'; value: number; error: number; label: string }
  /** Of constants and numbers of the investigation. */
  | { kind: 'expression'; expression: string }
  | { kind: 'reading'; fit: string; reading: string; factor: number }

/** The reading of a fit that is looked at, beside what is expected of it. */
export interface Expected {
  /** Key of the reading; empty: the first one. */
  reading: string
  /** Null: nothing. */
  against: Against | null
}

/** Another column that is fitted together with a stretch's own, over the same frames. */
export interface FittedTogether {
  order: number
  body: string
  quantity: string
  model: ModelId
}

export interface Fit {
  order: number
  stretch: string
  /** Words of its own; empty: the model's. */
  name: string
  model: ModelId
  form: FitForm
  robust: RobustId
  /** Of a free form; empty otherwise. */
  expression: string
  /** Values to begin with, by the name of a free form's parameter. */
  start: Record<string, number>
  /** Parameters that are kept at a value, in the units that are kept, by their key. */
  held: Record<string, number>
  together: ById<FittedTogether>
  /** Parameters, by their key, that all that are fitted together have in common. */
  shared: Record<string, true>
  expected: Expected | null
}

/** Characters that a free form may have. */
export const MOST_FREE_FORM = 400

/** A fit of a model to a stretch, before anything about it is chosen. */
export function newFit(order: number, stretch: string, model: ModelId): Fit {
  return {
    ...{ order, stretch, name: '', model, form: 'physics', robust: 'none', expression: '' },
    ...{ start: {}, held: {}, together: {}, shared: {}, expected: null },
  }
}

/** A result by a name, worked out from readings, probes and constants. */
export interface Calculation {
  order: number
  /** As it stands in other calculations, and in its own formula. */
  symbol: string
  name: string
  expression: string
  /** Empty: the one that follows from the expression. */
  unit: string
  against: Against | null
}

/** What is drawn on the picture beside the marks. */
export interface Drawn {
  /** Real seconds over which trails fade; null: as long as suits the span. */
  trail: number | null
  /** Whether times stand beside the trail, at round tenths. */
  times: boolean
  velocity: boolean
  acceleration: boolean
  /** Left out in documents from before there was a choice: not drawn. */
  momentum?: boolean
  /** Fitted motions. */
  curves: boolean
}

/** The saved piece of work: what people decided. Everything else is derived from it. */
export interface Investigation {
  version: typeof DOCUMENT_VERSION
  title: string
  footage: Footage | null
  orientation: Orientation
  timing: Timing
  span: Span
  /** Unit in which lengths are shown, and typed without one. */
  lengthUnit: LengthName
  references: ById<Reference>
  knownMotions: ById<KnownMotion>
  plane: Plane | null
  lens: Lens | null
  camera: Camera
  axes: ById<AxesSet>
  /** The axes that are meant where none are named. */
  mainAxes: string
  /** Direction in which things fall, in radians from the picture's right towards up; null: straight down the picture. */
  gravity: number | null
  /** Acceleration of free fall here, in m/s², and its standard error. */
  freeFall: { value: number; error: number }
  /** Direction along which a displacement is measured, in radians from +x towards +y. */
  direction: number
  probes: ById<Probe>
  locks: Record<CalibrationPart, Lock | null>
  hidden: Record<CalibrationPart, boolean>
  drawn: Drawn
  /** Standard errors beyond which a mark is a stray. */
  strayLimit: number
  derivation: Derivation
  constants: ById<Constant>
  quantities: ById<OwnQuantity>
  bodies: ById<Body>
  graphs: ById<Graph>
  stretches: ById<Stretch>
  fits: ById<Fit>
  calculations: ById<Calculation>
  /** Percent within which a class counts a result as right; null: none is said. */
  tolerance: number | null
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
    lengthUnit: 'm',
    references: {},
    knownMotions: {},
    plane: null,
    lens: null,
    camera: { motion: 'still', landmarks: {} },
    axes: { [FIRST_AXES]: newAxes('axes', 0, { x: 0, y: 0, frame: 0 }) },
    mainAxes: FIRST_AXES,
    gravity: null,
    freeFall: { value: 9.81, error: 0 },
    direction: 0,
    probes: {},
    locks: { scale: null, axes: null },
    hidden: { scale: false, axes: false },
    drawn: newDrawn(),
    strayLimit: STRAY_LIMIT.usual,
    derivation: { method: 'three-point', reach: REACH.usual, weighted: false },
    constants: {},
    quantities: {},
    bodies: {},
    graphs: {},
    stretches: {},
    fits: {},
    calculations: {},
    tolerance: null,
  }
}

/** What is drawn on the picture until somebody chooses otherwise. */
export function newDrawn(): Drawn {
  return { trail: null, times: false, velocity: false, acceleration: false, curves: true }
}

/** Entries of a keyed collection by their order field. */
export function inOrder<T extends { order: number }>(things: ById<T>): [string, T][] {
  return Object.entries(things).sort(([idA, a], [idB, b]) => a.order - b.order || (idA < idB ? -1 : 1))
}

/** Order for a thing that is added behind all others. */
export function nextOrder(things: ById<{ order: number }>): number {
  return Object.values(things).reduce((next, thing) => Math.max(next, thing.order + 1), 0)
}

/** A graph of a quantity of a body as it is at first: against time, in the main axes, derived as the investigation's are. */
export function newGraph(order: number, body: string, quantity: string, across = TIME): Graph {
  return {
    ...{ order, body, quantity, across, other: null, also: {} },
    ...{ axes: null, derivation: null, errorBars: false, look: 'points' },
    ...{ scaleAcross: newScaling(), scaleUp: newScaling(), equal: across !== TIME, grid: true },
    ...{ title: '', height: 1, notes: {}, tangent: false, handTangent: null, overlays: {} },
  }
}

/** A direction of a graph that goes as far as its values. */
export function newScaling(): Scaling {
  return { from: null, to: null, zero: false, log: false, transform: 'none', label: '' }
}

/** Axes that nobody has placed yet. */
export function newAxes(name: string, order: number, origin: PlacedPoint): AxesSet {
  return { order, name, origin, tilt: 0, turnedX: false, turnedY: false, placed: false }
}

/** The axes that are meant where none are named, or others by their id. */
export function axesOf({ axes, mainAxes }: Investigation, id: string | null = null): AxesSet {
  return axes[id ?? mainAxes] ?? axes[mainAxes]
}
