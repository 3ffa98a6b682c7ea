import {
  type ById,
  type Calculation,
  type Fit,
  inOrder,
  newReport,
  type Report,
  type ValueSource,
} from '../../investigation/index.ts'
import type { ViewTrouble } from '../../registration/index.ts'

/** Version of the document's form that this code writes. */
export const SERIES_VERSION = 3

/** How the view of a trial's clip is known from that of another trial; see `Registration`. */
export type TrialView =
  | {
      kind: 'same' | 'moved'
      /** Id of the trial whose set-up was taken along. */
      of: string
      /** Farthest that a corner of the picture moved, and the largest standard error of a point, in pixels. */
      farthest: number
      error: number
    }
  /** The scale and the axes were not taken along. */
  | { kind: 'other'; of: string; trouble: ViewTrouble }

/** What was typed for a trial in a column. */
export type Typed = { kind: 'number'; value: number; error: number } | { kind: 'word'; word: string }

/**
 * Why measuring a trial by itself stopped. no-body: nothing convincing moves, or fewer things than there are bodies. lost: a body was
 * lost on its way. no-stretch: no law of motion holds on its marks. no-film: the clip can't be read.
 */
export const MEASURING_QUESTIONS = ['no-body', 'lost', 'no-stretch', 'no-film'] as const
export type MeasuringQuestion = (typeof MEASURING_QUESTIONS)[number]

/** How measuring a trial by itself stands. */
export type Measuring =
  | { kind: 'waiting' }
  /** A person has to look at a frame. */
  | { kind: 'question'; frame: number; why: MeasuringQuestion }

/** An investigation in a series. */
export interface Trial {
  order: number
  /** What was typed for it, by column. Numbers are in the column's unit. */
  typed: Record<string, Typed>
  /** Why it is left out of means and laws; null: it is not. */
  leftOut: string | null
  /** Null: its set-up was made in itself. */
  view: TrialView | null
  /** Null: it is measured, or left to a person. */
  measuring: Measuring | null
}

/** A number that can be read in every trial: it is found in each investigation by the same ids. */
export type TrialSource =
  | Extract<ValueSource, { of: 'reading' | 'calculation' | 'probe' | 'mass' | 'constant' | 'free-fall' }>
  /** Angle of the x axis against the horizontal, 0° to 90°. */
  | { of: 'steepness' }

/** Where the values of a column come from. */
export type ColumnContent =
  /** Conditions that are typed: `error` is the standard error of new ones, in the column's unit. */
  | { kind: 'number'; error: number }
  | { kind: 'word' }
  | { kind: 'reading'; source: TrialSource }
  | { kind: 'expression'; expression: string }

/** A column of the table of trials. */
export interface SeriesColumn {
  order: number
  name: string
  /** As it stands in expressions of other columns. */
  symbol: string
  /** Empty: the one that its values come in. */
  unit: string
  content: ColumnContent
}

/** A graph of a series: a point for each trial. */
export interface SeriesGraph {
  order: number
  /** Ids of columns. */
  x: string
  y: string
  /** Words of its own; empty: from the columns. */
  title: string
}

/**
 * The moment of each trial that is drawn at t = 0. film: the beginning of its time. release: the beginning of the first stretch on the
 * graph. impact: the first break of the motion after that, or else the end of the last stretch. level: the first moment at which the
 * quantity crosses a value, in SI.
 */
export type Alignment = { kind: 'film' | 'release' | 'impact' } | { kind: 'level'; level: number }

/** The same graph of all trials in one, each shifted in time. */
export interface SeriesMotion {
  order: number
  /** Id of the graph in the trials. */
  graph: string
  alignment: Alignment
}

/** A law through the trials of a graph. */
export interface SeriesFit extends Omit<Fit, 'stretch' | 'together' | 'shared'> {
  graph: string
}

/** Which axes a new trial has: those of the pattern, or axes along its own motion. */
export const AXES_RULES = ['taken-along', 'along-motion'] as const
export type AxesRule = (typeof AXES_RULES)[number]

/** Several trials that are measured alike, and what is looked at across them. */
export interface Series {
  version: typeof SERIES_VERSION
  title: string
  /** By the ids of their investigations. */
  trials: ById<Trial>
  /** The trial whose set-up and analysis new ones take over; null: the first. */
  pattern: string | null
  axesRule: AxesRule
  columns: ById<SeriesColumn>
  /** Column that trials are sorted by; null: as they were added. */
  sorted: { column: string; descending: boolean } | null
  /** Column with equal values of which trials are taken together; null: none. */
  grouped: string | null
  graphs: ById<SeriesGraph>
  motions: ById<SeriesMotion>
  fits: ById<SeriesFit>
  /** Numbers by name that are worked out from means of columns and readings of fits. */
  calculations: ById<Calculation>
  report: Report
}

/** What of a series its numbers follow from: all but what is written about them. */
export type MeasuredSeries = Omit<Series, 'report'>

/** Returns the id of the trial whose set-up others take over: the one that was chosen, or the first; null without trials. */
export function patternIdOf({ pattern, trials }: MeasuredSeries): string | null {
  return pattern ?? inOrder(trials)[0]?.[0] ?? null
}

/** Returns a series without trials. */
export function newSeries(title: string): Series {
  return {
    version: SERIES_VERSION,
    title,
    trials: {},
    pattern: null,
    axesRule: 'taken-along',
    columns: {},
    sorted: null,
    grouped: null,
    graphs: {},
    motions: {},
    fits: {},
    calculations: {},
    report: newReport(),
  }
}
