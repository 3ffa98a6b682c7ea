import type { Chart } from 'chart.js'
import type { Place } from './area.ts'

/** A stretch as it is drawn on a graph against time, in seconds. */
export interface DrawnStretch {
  id: string
  number: number
  from: number
  to: number
  isChosen: boolean
}

/** What only the screen shows of a graph, and what of its points is emphasised there. */
export interface GraphHighlights {
  /** The current frame: its time on a graph against time, otherwise where its points are. */
  cursor: { time: number } | { places: readonly Place[] } | null
  stretches: readonly DrawnStretch[]
  /** The stretch that is being drawn, in seconds. */
  drawing: { from: number; to: number } | null
  /** Whether a frame is among those that are looked at; null: all are, since nobody has chosen any. */
  isIn: ((frame: number) => boolean) | null
  /** Null: no mark is an outlier. */
  isOutlier: ((frame: number) => boolean) | null
  /** Later frames are not drawn while the film plays. */
  until: number
}

const NONE: GraphHighlights = {
  cursor: null,
  stretches: [],
  drawing: null,
  isIn: null,
  isOutlier: null,
  until: Number.POSITIVE_INFINITY,
}

const byChart = new WeakMap<Chart, GraphHighlights>()

/** Sets what is highlighted when a chart is drawn next: the current frame moves without anything being laid out anew. */
export function setHighlights(chart: Chart, highlights: GraphHighlights): void {
  byChart.set(chart, highlights)
}

/** Returns what is highlighted on a chart; nothing on one that is not on the screen. */
export const highlightsOf = (chart: Chart): GraphHighlights => byChart.get(chart) ?? NONE
