import { analyse, type GraphFit } from '@apokinema/core/analysis'
import type { GraphDescription, Limits, Slope } from '@apokinema/core/graphs'
import { bodyNames, type Graph, type Investigation } from '@apokinema/core/investigation'
import { useWorkbench } from '../workbenchStore.ts'
import { curveOf } from './curveOf.ts'
import type { DrawnNote, DrawnTangent, GraphContent, GraphDrawing } from './graphDrawing.ts'
import { shownLimits, wholeLimits } from './graphLimits.ts'
import { graphSlopes, handTangent, slopeAt, tangentAt } from './graphTangents.ts'
import { useBanded } from './predictionBands.ts'
import { useTimeView } from './timeView.ts'

/** The content of graphs as functions of the investigation: the same for the screen and for exported pictures. */

/** Margin beside the first and the last point, as a share of the time between them. */
const ROOM = 0.03

/** Returns the times from the first to the last mark of all bodies, with a margin, in seconds. */
export function allTimes(investigation: Investigation): Limits {
  const times = Object.keys(investigation.bodies).flatMap((id) => {
    const { times: own } = analyse(investigation).shownTable(id)
    return own.length > 0 ? [own[0], own[own.length - 1]] : []
  })
  const [from, to] = times.length > 0 ? [Math.min(...times), Math.max(...times)] : [0, 1]
  const room = (to - from) * ROOM || 0.1
  return { from: from - room, to: to + room }
}

/** Returns the fits that are drawn on a graph; none if an axis is transformed. */
export function graphFits(
  investigation: Investigation,
  id: string,
  description: GraphDescription,
): GraphFit[] {
  return isTransformed(description) ? [] : analyse(investigation).fits(id)
}

/** Returns true if a graph shows a function of a quantity, on which the curve of a fit does not lie. */
const isTransformed = ({ x, y }: GraphDescription) => y.transform.id !== 'none' || x.transform.id !== 'none'

/** Returns the curves of fits. */
export function fitCurves(fits: readonly GraphFit[], banded: ReadonlySet<string>): GraphContent['fits'] {
  return fits.flatMap(({ id, fit }) =>
    fit ? [{ curve: curveOf(fit), hasPredictionBand: banded.has(id), isProposed: false }] : [],
  )
}

/** Returns the curves of proposed fits. */
export function proposedCurves(
  proposals: readonly { shown: GraphFit }[],
  description: GraphDescription,
): GraphContent['fits'] {
  if (isTransformed(description)) return []
  return proposals.flatMap(({ shown: { fit } }) =>
    fit ? [{ curve: curveOf(fit), hasPredictionBand: false, isProposed: true }] : [],
  )
}

/** Returns the notes of a graph whose points are drawn. */
export function graphNotes({ notes }: Graph, { series: [main] }: GraphDescription): DrawnNote[] {
  return Object.values(notes).flatMap(({ frame, text }) => {
    const point = main?.points.find((one) => one.frame === frame)
    return point ? [{ x: point.x, y: point.y, text }] : []
  })
}

/** Returns the tangents of a graph against time: at a frame, and the one laid by hand. */
export function graphTangents(
  graph: Graph,
  description: GraphDescription,
  slopes: readonly Slope[],
  frame: number,
  xLimits: Limits,
): DrawnTangent[] {
  if (!description.isTime) return []
  const here = graph.tangent ? slopeAt(slopes, description, frame) : null
  return [
    ...(here ? [tangentAt(here, description, xLimits)] : []),
    ...(graph.handTangent ? [handTangent(graph.handTangent, description, slopes)] : []),
  ]
}

/**
 * Returns a graph for an exported picture; null if it can't be drawn.
 *
 * @param size of the picture in pixels, for the layout of a graph with equal scales
 * @param view the frame of the tangent and the visible times; null: those of the workbench
 */
export function graphDrawing(
  investigation: Investigation,
  id: string,
  size: { width: number; height: number },
  view: { frame: number; range: Limits } | null = null,
): GraphDrawing | null {
  const graph = investigation.graphs[id]
  const description = graph && analyse(investigation).graph(graph)
  if (!description || description.series.length === 0) return null
  const { frame } = view ?? useWorkbench.getState()
  const range = view?.range ?? useTimeView.getState().seen ?? allTimes(investigation)
  const limits = shownLimits(description, graph.equal, wholeLimits(description, graph.errorBars), range, size)
  const hasTangents = description.isTime && (graph.tangent || graph.handTangent !== null)
  const slopes = hasTangents ? graphSlopes(graph, description, investigation.derivation) : []
  return {
    limits,
    content: {
      graph,
      description,
      fits: fitCurves(graphFits(investigation, id, description), useBanded.getState().fits),
      tangents: graphTangents(graph, description, slopes, frame, limits.x),
      notes: graphNotes(graph, description),
      names: bodyNames(investigation.bodies),
    },
  }
}
