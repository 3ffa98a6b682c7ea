import { fileTiming, type Span, type Timing } from '../../time/index.ts'
import type { LengthName } from '../../units/index.ts'
import { type Body, OUTLIER_LIMIT } from './bodies.ts'
import {
  type AxesSet,
  type CalibrationPart,
  type Camera,
  FIRST_AXES,
  type Gravity,
  type KnownMotion,
  type Lens,
  type Lock,
  newAxes,
  type Plane,
  type Probe,
  type Reference,
} from './calibration.ts'
import type { Calculation, Fit, Stretch } from './fits.ts'
import type { Footage, Orientation } from './footage.ts'
import type { Graph } from './graphs.ts'
import type { ById } from './order.ts'
import { type Constant, type CustomQuantity, type Derivation, REACH } from './quantities.ts'
import type { Refusal } from './refusals.ts'
import { newReport, type Report } from './report.ts'

/** Version of the document's form that this code writes. */
export const DOCUMENT_VERSION = 13

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
  /** Direction of gravity in the picture; null: straight down. */
  gravity: Gravity | null
  /** Acceleration of free fall here, in m/s², and its standard error. */
  freeFall: { value: number; error: number }
  /** Direction along which a displacement is measured, in radians from +x towards +y. */
  direction: number
  probes: ById<Probe>
  locks: Record<CalibrationPart, Lock | null>
  hidden: Record<CalibrationPart, boolean>
  drawn: Drawn
  /** Standard errors beyond which a mark is an outlier. */
  outlierLimit: number
  derivation: Derivation
  constants: ById<Constant>
  quantities: ById<CustomQuantity>
  bodies: ById<Body>
  graphs: ById<Graph>
  stretches: ById<Stretch>
  fits: ById<Fit>
  calculations: ById<Calculation>
  /** Percent within which a class counts a result as right; null: none is said. */
  tolerance: number | null
  report: Report
  /** Proposals that are not made again. */
  refusals: ById<Refusal>
}

/** Returns a new, empty investigation. */
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
    outlierLimit: OUTLIER_LIMIT.default,
    derivation: { method: 'three-point', reach: REACH.default, weighted: false },
    constants: {},
    quantities: {},
    bodies: {},
    graphs: {},
    stretches: {},
    fits: {},
    calculations: {},
    tolerance: null,
    report: newReport(),
    refusals: {},
  }
}

/** Returns what is drawn on the picture until somebody chooses otherwise. */
function newDrawn(): Drawn {
  return { trail: null, times: false, velocity: false, acceleration: false, curves: true }
}

/** Returns the axes that are meant where none are named, or others by their id. */
export function axesOf({ axes, mainAxes }: Investigation, id: string | null = null): AxesSet {
  return axes[id ?? mainAxes] ?? axes[mainAxes]
}
