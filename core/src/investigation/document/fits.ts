import type { ById } from './order.ts'

export const MODEL_IDS = [
  'rest',
  'proportional',
  'uniform',
  'uniform-acceleration',
  'changing-acceleration',
  'exponential',
  'settling',
  'terminal-from-rest',
  'terminal-speed',
  'quadratic-drag',
  'logistic',
  'swing',
  'damped-swing',
  'ellipse',
  'pendulum-loop',
  'kink',
  'pieces',
  'bounces',
  'power',
  'square-root',
  'reciprocal',
  'gaussian',
  'free-form',
] as const
export type ModelId = (typeof MODEL_IDS)[number]

/** Whether points that lie far off count for less in a fit, and how much less. */
export const ROBUST_IDS = ['none', 'huber', 'bisquare'] as const
export type RobustId = (typeof ROBUST_IDS)[number]

/** How a fit's formula is written: with the physics' own parameters, or with plain coefficients. */
export const FIT_FORMS = ['physics', 'coefficients'] as const
export type FitForm = (typeof FIT_FORMS)[number]

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

/** What a reading is compared with: a number, what comes out of an expression, or another reading. */
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
  fixed: Record<string, number>
  together: ById<FittedTogether>
  /** Parameters, by their key, that all that are fitted together have in common. */
  shared: Record<string, true>
  expected: Expected | null
}

/** Characters that a free form may have. */
export const MOST_FREE_FORM = 400

/** Returns a fit of a model to a stretch, before anything about it is chosen. */
export function newFit(order: number, stretch: string, model: ModelId): Fit {
  return {
    order,
    stretch,
    name: '',
    model,
    form: 'physics',
    robust: 'none',
    expression: '',
    start: {},
    fixed: {},
    together: {},
    shared: {},
    expected: null,
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
