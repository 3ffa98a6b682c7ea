import {
  Chart,
  type ChartConfiguration,
  type ChartDataset,
  type ChartOptions,
  LinearScale,
  LogarithmicScale,
  type Plugin,
  PointElement,
} from 'chart.js'
import { type Look, markScale } from '../../theme/look.ts'
import type { Place } from './area.ts'
import { CONTROLLERS, type GraphType } from './controllers.ts'
import {
  type DrawnDescription,
  type GraphContent,
  type GraphDrawing,
  type GraphLimits,
  lineThrough,
} from './graphDrawing.ts'
import { DASHES, MARKER_REACH } from './markers.ts'
import { FONTS } from './plugins.ts'
import { seriesColour } from './seriesColour.ts'

/** One configuration draws graphs on the screen, as PNG and as SVG. */

Chart.register(LinearScale, LogarithmicScale, PointElement, ...CONTROLLERS)

/** Space to the left of every graph in pixels: equal for all, so that their time axes align. */
export const LEFT = 64
const RIGHT = 18
/** Space above for the topmost tick label, so that every picture of a graph has the same layout. */
const TOP = 11
/** Width of a digit on an axis, in pixels. */
const DIGIT = 7.2

/** Number of bands up to which they are drawn at full opacity. */
const FEW_BANDS = 3

type GraphDataset = ChartDataset<GraphType>

/** The chart of a graph. */
export type GraphChart = Chart<GraphType>

/** What differs between the pictures of a graph. */
export interface GraphSurface {
  /** Whether markers are drawn as cached sprites, for speed; otherwise as paths, sharp at every size. */
  sprites: boolean
  look: Look
  /** Space above and below the graph, in pixels. */
  padding?: { top: number; bottom: number }
  /** Width in pixels at the right end of the x axis that tick labels leave free. */
  taken?: () => number
  plugins: Plugin[]
}

function polyline(
  data: readonly Place[],
  stroke: string,
  lineWidth: number,
  { dash = [], rim }: { dash?: readonly number[]; rim?: string } = {},
): GraphDataset {
  return {
    type: 'polyline',
    data: [...data],
    stroke,
    lineWidth,
    dash,
    ...(rim && { rim }),
    clip: rim ? 0 : MARKER_REACH,
  }
}

/** Returns the datasets of a graph; the first is drawn on top. */
export function graphDatasets(
  { graph, description, fits, tangents }: GraphContent,
  sprites: boolean,
  look: Look,
): GraphDataset[] {
  const { palette, stroke } = look
  const { series, overlays } = description
  const behind: GraphDataset[] = []
  if (graph.errorBars)
    for (const one of series)
      behind.push({ type: 'errorBars', data: one.points, stroke: seriesColour(one, palette), clip: 0 })
  for (const { points } of overlays) behind.push(polyline(points, palette.outline, 1.6 * stroke))
  for (const one of [...series].reverse()) {
    const colour = seriesColour(one, palette)
    const { direction } = one.quantity
    if (graph.markStyle !== 'points')
      behind.push(polyline(lineThrough(one), colour, 1.6 * stroke, { dash: DASHES[direction] }))
    if (graph.markStyle !== 'line')
      behind.push({
        type: 'markers',
        data: one.points,
        shape: one.shape,
        colour,
        direction,
        palette,
        scale: markScale(look),
        isMain: one.id === null,
        sprites,
        clip: MARKER_REACH * markScale(look),
      })
  }
  for (const { curve, hasPredictionBand, isProposed } of fits) {
    if (isProposed) {
      behind.push(polyline(curve.points, palette.petrol, 2 * stroke, { dash: [7, 5] }))
      continue
    }
    // The bands of many fits over each other would hide the points.
    const opacity = Math.min(1, FEW_BANDS / fits.length)
    behind.push({ type: 'band', data: curve.band, fill: palette.band, opacity, clip: MARKER_REACH })
    if (hasPredictionBand)
      for (const side of ['low', 'high'] as const) {
        const places = curve.predicted().map((place) => ({ x: place.x, y: place[side] }))
        behind.push(polyline(places, palette.inkMuted, stroke, { dash: [3, 4] }))
      }
    behind.push(polyline(curve.points, palette.ink, 1.6 * stroke))
  }
  for (const { from, to, colour } of tangents)
    behind.push(polyline([from, to], palette[colour], 2 * stroke, { rim: palette.panel }))
  return behind.reverse()
}

/** Returns the options of a graph's layout and scales. */
export function graphOptions(
  { x: xAxis, y: yAxis, isTime }: Pick<DrawnDescription, 'x' | 'y' | 'isTime'>,
  limits: GraphLimits,
  hasGrid: boolean,
  {
    padding = { top: 0, bottom: 0 },
    taken = () => 0,
    look: { palette, type },
  }: Pick<GraphSurface, 'padding' | 'taken' | 'look'>,
): ChartOptions<GraphType> {
  const lines = hasGrid ? palette.grid : 'transparent'
  const zero = (value: number | undefined) => (value === 0 ? palette.zero : lines)
  const written = (value: string | number) => String(Number(Number(value).toPrecision(6))).replace('-', '−')
  const ticks = { font: { family: FONTS.numbers, size: 12 * type }, color: palette.inkMuted }
  return {
    animation: false,
    parsing: false,
    maintainAspectRatio: false,
    layout: { padding: { top: TOP + padding.top, right: RIGHT, bottom: padding.bottom } },
    events: [],
    scales: {
      x: {
        type: xAxis.log ? 'logarithmic' : 'linear',
        min: limits.x.from,
        max: limits.x.to,
        grid: isTime ? { display: false } : { color: (context) => zero(context.tick?.value) },
        border: { color: palette.line },
        ticks: {
          ...ticks,
          maxRotation: 0,
          includeBounds: false,
          callback(value) {
            const text = written(value)
            // Not by its pixels: labels are made before the scale knows them.
            const { width, min, max } = this
            const along = xAxis.log ? Math.log : Number
            const share = (along(max) - along(Number(value))) / (along(max) - along(min))
            return RIGHT + width * share - (text.length * DIGIT * type) / 2 < taken() ? '' : text
          },
        },
      },
      y: {
        type: yAxis.log ? 'logarithmic' : 'linear',
        min: limits.y.from,
        max: limits.y.to,
        grid: { color: (context) => zero(context.tick?.value) },
        border: { display: false },
        ticks: { ...ticks, callback: written, maxTicksLimit: 6, includeBounds: false },
        afterFit: (scale) => {
          scale.width = LEFT
        },
      },
    },
  }
}

/** Returns the configuration of a graph's chart for a surface. */
export function graphConfiguration(
  { content, limits }: GraphDrawing,
  surface: GraphSurface,
): ChartConfiguration<GraphType> {
  const { description, graph } = content
  return {
    type: 'markers',
    data: { datasets: graphDatasets(content, surface.sprites, surface.look) },
    options: graphOptions(description, limits, graph.grid, surface),
    plugins: surface.plugins as Plugin<GraphType>[],
  }
}
