import type { ById } from './order.ts'
import { type Derivation, TIME } from './quantities.ts'

/** How the points of a graph are joined. */
export const MARK_STYLES = ['points', 'both', 'line'] as const
export type MarkStyle = (typeof MARK_STYLES)[number]

/** What values are put through before they are drawn. */
export const TRANSFORM_IDS = ['none', 'square', 'root', 'reciprocal', 'ln', 'log10'] as const
export type TransformId = (typeof TRANSFORM_IDS)[number]

/** One quantity of one body on a graph. */
export interface GraphedQuantity {
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

/** Data from elsewhere on a graph against time: of a sensor, of another investigation. */
export interface Overlay {
  order: number
  name: string
  /** Seconds, increasing, and as many values in the unit that is kept. */
  times: number[]
  values: number[]
  /** Seconds that are added to its times. */
  offset: number
}

/** Points that data from elsewhere can have. */
export const MOST_POINTS = 20_000

/** A line laid along a graph by hand, between two of its places, in the units that are kept. */
export interface HandTangent {
  from: { x: number; y: number }
  to: { x: number; y: number }
}

/** A graph: one quantity of one body, and others when asked, against time or another quantity. */
export interface Graph extends GraphedQuantity {
  /** TIME, or the quantity that it is drawn against. */
  xQuantity: string
  /** More of them, on the same scale. */
  also: ById<GraphedQuantity>
  /** The axes that it is measured in; null: the main ones, whichever they are. */
  axes: string | null
  /** How its quantity is derived; null: as the investigation's are. */
  derivation: Derivation | null
  errorBars: boolean
  markStyle: MarkStyle
  scaleX: Scaling
  scaleY: Scaling
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

/** Shares of the room that graphs can take. */
export const GRAPH_HEIGHTS = { least: 0.3, most: 4 } as const

/** Returns a graph of a quantity of a body as it is at first: against time, in the main axes, derived as the investigation's are. */
export function newGraph(order: number, body: string, quantity: string, xQuantity = TIME): Graph {
  return {
    order,
    body,
    quantity,
    xQuantity,
    other: null,
    also: {},
    axes: null,
    derivation: null,
    errorBars: false,
    markStyle: 'points',
    scaleX: newScaling(),
    scaleY: newScaling(),
    equal: xQuantity !== TIME,
    grid: true,
    title: '',
    height: 1,
    notes: {},
    tangent: false,
    handTangent: null,
    overlays: {},
  }
}

/** Returns a direction of a graph that goes as far as its values. */
export function newScaling(): Scaling {
  return { from: null, to: null, zero: false, log: false, transform: 'none', label: '' }
}
