import type { Chart } from 'chart.js'
import type { Place } from './area.ts'

/** A stretch on a graph against time, in seconds. */
export interface DrawnStretch {
  id: string
  number: number
  from: number
  to: number
  isChosen: boolean
}

/** What only the screen shows of a graph, and which of its points are emphasised there. */
export interface GraphHighlights {
  /** The current frame: its time on a graph against time, otherwise its points. */
  cursor: { time: number } | { places: readonly Place[] } | null
  stretches: readonly DrawnStretch[]
  /** Stretches that are proposed, in seconds. */
  proposed: readonly { from: number; to: number }[]
  /** The stretch that is being drawn, in seconds. */
  drawing: { from: number; to: number } | null
  /** Returns whether a frame is emphasised; null if all are. */
  isIn: ((frame: number) => boolean) | null
  /** Returns whether a frame's mark is an outlier; null if none is. */
  isOutlier: ((frame: number) => boolean) | null
  /** Last frame drawn: later ones are hidden while the film plays. */
  until: number
}

/** Nothing is emphasised. */
export const NO_HIGHLIGHTS: GraphHighlights = {
  cursor: null,
  stretches: [],
  proposed: [],
  drawing: null,
  isIn: null,
  isOutlier: null,
  until: Number.POSITIVE_INFINITY,
}

const byChart = new WeakMap<Chart, GraphHighlights>()

/** Sets the highlights for the next drawing of a chart: the current frame moves without a new layout. */
export function setHighlights(chart: Chart, highlights: GraphHighlights): void {
  byChart.set(chart, highlights)
}

/** Returns the highlights of a chart; nothing for one that is not on the screen. */
export const highlightsOf = (chart: Chart): GraphHighlights => byChart.get(chart) ?? NO_HIGHLIGHTS
