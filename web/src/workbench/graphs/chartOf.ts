import type { GraphDescription, Limits, SeriesDescription } from '@apokinema/core/graphs'
import type { BodyShape, Graph } from '@apokinema/core/investigation'
import type { ChartData, ChartDataset, ChartOptions } from 'chart.js'
import { BODY_PAINT, PAINT } from '../../theme/system.ts'
import type { ShownFit } from './fits.ts'

const POINT_STYLES: Record<BodyShape, string> = {
  circle: 'circle',
  square: 'rect',
  triangle: 'triangle',
  diamond: 'rectRot',
  cross: 'cross',
  star: 'star',
}
const MONO = { family: "'JetBrains Mono Variable'", size: 12 }
/** Points of a drawn curve. */
const CURVE_POINTS = 120
/** The room at the left of every graph: the same, so that their time axes are in line. */
export const LEFT = 64
export const RIGHT = 18
/** Line styles of the components: full, dashed, dotted. */
const DASHES = { x: [], y: [7, 4], size: [2, 3] }
/** What comes from elsewhere has no body's colour. */
const OVERLAY = '#8C8879'
/** A step that is longer than so many usual ones is a gap: no line goes across. */
const GAP = 4

/** Colour of a series: that of its body, or ink for all bodies together. */
export function paintOf({ colour }: Pick<SeriesDescription, 'colour'>): string {
  return colour ? BODY_PAINT[colour].mark : PAINT.ink
}

/** What is drawn more strongly, and what is not drawn yet. */
export interface Emphasis {
  /** Whether a frame is among those that are looked at; all are where nobody has chosen any. */
  isIn: (frame: number) => boolean
  isStray: (frame: number) => boolean
  /** Later frames are not drawn: the film plays. */
  until: number
}

function filled({ quantity: { direction } }: SeriesDescription, colour: string): string {
  return direction === 'x' ? colour : direction === 'y' ? '#FFFFFF' : '#E9E6DC'
}

function dataset(series: SeriesDescription, graph: Graph, emphasis: Emphasis): ChartDataset<'scatter'> {
  const colour = paintOf(series)
  const { isIn, isStray, until } = emphasis
  const isMain = series.id === null
  const points = series.points.filter(({ frame }) => frame <= until)
  const faded = (frame: number) => (!isMain || isIn(frame) ? colour : `${colour}59`)
  return {
    data: withGaps(series, points),
    pointStyle: POINT_STYLES[series.shape],
    pointRadius: graph.look === 'line' ? 0 : 4.2,
    pointBorderWidth: 2,
    pointBackgroundColor: ({ raw }) => filled(series, faded(frameOf(raw))),
    pointBorderColor: ({ raw }) => (isMain && isStray(frameOf(raw)) ? PAINT.alarm : faded(frameOf(raw))),
    showLine: graph.look !== 'points',
    borderColor: colour,
    borderWidth: 1.6,
    borderDash: DASHES[series.quantity.direction],
    spanGaps: false,
    order: isMain ? 1 : 2,
  }
}

interface DrawnPoint {
  x: number
  y: number
  frame: number
}

const frameOf = (raw: unknown) => (raw as DrawnPoint | undefined)?.frame ?? -1

/** Points with an empty one where a line is not to go across: at breaks and gaps. */
function withGaps({ table }: SeriesDescription, points: SeriesDescription['points']): DrawnPoint[] {
  const steps = points.slice(1).map(({ row }, i) => table.times[row] - table.times[points[i].row])
  const usual = [...steps].sort((a, b) => a - b)[steps.length >> 1] ?? 0
  return points.flatMap(({ x, y, frame, row }, i) => {
    const before = points[i - 1]
    const isApart =
      before !== undefined &&
      (steps[i - 1] > GAP * usual || [...table.breaks].some((at) => at > before.row && at <= row))
    return [...(isApart ? [{ x: Number.NaN, y: Number.NaN, frame }] : []), { x, y, frame }]
  })
}

/** The points and curves of a graph, for the canvas. */
export function dataOf(
  description: GraphDescription,
  graph: Graph,
  fits: ShownFit[],
  emphasis: Emphasis,
): ChartData<'scatter'> {
  const curves = fits.flatMap(({ fit }): ChartDataset<'scatter'>[] => {
    if (!fit) return []
    const step = (fit.to - fit.from) / CURVE_POINTS
    return [
      {
        data: Array.from({ length: CURVE_POINTS + 1 }, (_, i) => {
          const t = fit.from + i * step
          return { x: t, y: fit.polynomial.valueAt(t) }
        }),
        showLine: true,
        pointRadius: 0,
        borderColor: PAINT.ink,
        borderWidth: 1.6,
        order: 0,
      },
    ]
  })
  const overlays = description.overlays.map(
    ({ points }): ChartDataset<'scatter'> => ({
      data: points,
      showLine: true,
      pointRadius: 0,
      borderColor: OVERLAY,
      borderWidth: 1.6,
      order: 3,
    }),
  )
  return {
    datasets: [
      ...description.series.map((series) => dataset(series, graph, emphasis)),
      ...curves,
      ...overlays,
    ],
  }
}

/** How the canvas is laid out and scaled. */
export function optionsOf(
  { across, up, isTime }: GraphDescription,
  limits: { across: Limits; up: Limits },
  grid: boolean,
): ChartOptions<'scatter'> {
  const lines = grid ? '#ECE8DE' : 'transparent'
  const zero = (value: number | undefined) => (value === 0 ? '#BFC4B2' : lines)
  const ticks = {
    font: MONO,
    color: PAINT.inkMuted,
    callback: (value: string | number) => String(Number(Number(value).toPrecision(6))).replace('-', '−'),
  }
  return {
    animation: false,
    parsing: false,
    normalized: isTime,
    responsive: true,
    maintainAspectRatio: false,
    layout: { padding: { top: 8, right: RIGHT } },
    events: [],
    scales: {
      x: {
        type: across.log ? 'logarithmic' : 'linear',
        min: limits.across.from,
        max: limits.across.to,
        grid: isTime ? { display: false } : { color: (context) => zero(context.tick?.value) },
        border: { color: PAINT.line },
        ticks: { ...ticks, maxRotation: 0, includeBounds: false },
      },
      y: {
        type: up.log ? 'logarithmic' : 'linear',
        min: limits.up.from,
        max: limits.up.to,
        grid: { color: (context) => zero(context.tick?.value) },
        border: { display: false },
        ticks: { ...ticks, maxTicksLimit: 6, includeBounds: false },
        afterFit: (scale) => {
          scale.width = LEFT
        },
      },
    },
  }
}
