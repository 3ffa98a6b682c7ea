import { type AxisDescription, TRANSFORMS } from '@apokinema/core/graphs'
import { dimension } from '@apokinema/core/motion'
import {
  type SeriesAnalysis,
  type SeriesGraph,
  type ShownSeriesFit,
  type TableColumn,
  totalError,
} from '@apokinema/core/series'
import { graphTitle } from '@apokinema/words/series'
import { curveOf } from '../workbench/chart/curveOf.ts'
import type { DrawnDescription, DrawnSeries, GraphDrawing } from '../workbench/chart/graphDrawing.ts'
import { wholeLimits } from '../workbench/chart/graphLimits.ts'

/** Nothing interrupts what goes through trials. */
const NO_TIMES: DrawnSeries['table'] = { times: new Float64Array(0), breaks: new Set() }

function axisOf({ id, column, unit, dimension: size }: TableColumn): AxisDescription {
  return {
    quantity: id,
    symbol: column.symbol,
    subscript: '',
    name: column.name,
    label: '',
    transform: TRANSFORMS.none,
    unit,
    dimension: size ?? dimension({}),
    log: false,
    zero: true,
    from: null,
    to: null,
    perKept: 1,
  }
}

/**
 * Returns a graph of a series as it is drawn: a point for each trial with error bars, those that are left out hollow, and the curves of
 * its fits. Null if one of its columns is gone.
 */
export function trialDrawing(
  analysis: SeriesAnalysis,
  graph: SeriesGraph,
  fits: readonly ShownSeriesFit[],
): GraphDrawing | null {
  const [x, y] = [analysis.table.column(graph.x), analysis.table.column(graph.y)]
  if (!x || !y) return null
  const points = analysis.points(graph)
  const drawn = (isLeftOut: boolean): DrawnSeries => ({
    id: isLeftOut ? 'left-out' : null,
    body: isLeftOut ? 'left-out' : 'trials',
    quantity: {
      id: y.id,
      symbol: y.column.symbol,
      subscript: '',
      name: y.column.name,
      dimension: dimension({}),
      direction: isLeftOut ? 'y' : 'size',
      needs: [],
    },
    table: NO_TIMES,
    colour: isLeftOut ? null : 'coral',
    shape: isLeftOut ? 'cross' : 'circle',
    points: points.flatMap((point, row) =>
      point.isLeftOut === isLeftOut
        ? [
            {
              row,
              frame: row,
              x: point.x.value,
              y: point.y.value,
              errorX: totalError(point.x),
              errorY: totalError(point.y),
              bias: 0,
            },
          ]
        : [],
    ),
  })
  const description: DrawnDescription = {
    title: graphTitle(analysis, graph),
    x: axisOf(x),
    y: axisOf(y),
    isTime: false,
    series: [drawn(false), ...(points.some((point) => point.isLeftOut) ? [drawn(true)] : [])],
    overlays: [],
    breaks: [],
  }
  const curves = fits.flatMap(({ fit }) =>
    fit ? [{ curve: curveOf(fit), hasPredictionBand: false, isProposed: false }] : [],
  )
  return {
    content: {
      graph: { grid: true, markStyle: 'points', errorBars: true },
      description,
      fits: curves,
      tangents: [],
      notes: [],
      names: { trials: 'trials', 'left-out': 'left out' },
    },
    limits: wholeLimits(description, true),
  }
}
