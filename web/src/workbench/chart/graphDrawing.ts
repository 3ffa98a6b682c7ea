import { type GraphDescription, type Limits, piecesOf, type SeriesDescription } from '@apokinema/core/graphs'
import type { Graph } from '@apokinema/core/investigation'
import type { MotionTable } from '@apokinema/core/motion'
import type { Place } from './area.ts'
import type { DrawnCurve } from './curveOf.ts'

/** What of one quantity on a graph is drawn. */
export type DrawnSeries = Omit<SeriesDescription, 'table' | 'column' | 'note'> & {
  /** A line is interrupted at its gaps and breaks. */
  table: Pick<MotionTable, 'times' | 'breaks'>
}

/** What of a graph is drawn. */
export type DrawnDescription = Omit<GraphDescription, 'series'> & { series: readonly DrawnSeries[] }

/** Limits of both axes of a graph, in the units of its axes. */
export interface GraphLimits {
  x: Limits
  y: Limits
}

/** A straight line on a graph, with a text above its middle. */
export interface DrawnTangent {
  from: Place
  to: Place
  colour: 'saffron' | 'petrol'
  text: string
}

/** A note beside a point. */
export interface DrawnNote extends Place {
  text: string
}

/** The curve of a fit; of a proposed one it is dashed. */
interface FittedCurve {
  curve: DrawnCurve
  hasPredictionBand: boolean
  isProposed: boolean
}

/** Everything that all pictures of a graph show, in the units of its axes. */
export interface GraphContent {
  /** Its style: grid, error bars, points or lines. */
  graph: Pick<Graph, 'grid' | 'markStyle' | 'errorBars'>
  description: DrawnDescription
  fits: readonly FittedCurve[]
  tangents: readonly DrawnTangent[]
  notes: readonly DrawnNote[]
  /** Names of bodies, by id. */
  names: Readonly<Record<string, string>>
}

/** A graph as it is drawn: on the screen, as PNG and as SVG. */
export interface GraphDrawing {
  content: GraphContent
  limits: GraphLimits
}

/** A point at which a line is interrupted. */
const GAP = { x: Number.NaN, y: Number.NaN, frame: Number.NaN }

/** Returns the points of a series as one list for a line, with `NaN` where it is interrupted. */
export function lineThrough(series: DrawnSeries): (Place & { frame: number })[] {
  return piecesOf(series, series.points).flatMap((piece, i) => (i === 0 ? piece : [GAP, ...piece]))
}
