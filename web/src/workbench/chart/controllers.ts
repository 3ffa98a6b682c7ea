import type { Plotted } from '@apokinema/core/graphs'
import type { BodyShape } from '@apokinema/core/investigation'
import type { QuantityInfo } from '@apokinema/core/motion'
import { type ChartTypeRegistry, DatasetController, PointElement, type UpdateMode } from 'chart.js'
import type { Palette } from '../../theme/palettes.ts'
import type { Place } from './area.ts'
import { highlightsOf } from './highlights.ts'
import { drawMarkers, type MarkerPaint, markerFill } from './markers.ts'
import { PixelScales } from './pixelScale.ts'

/** A line through points, interrupted where a coordinate is `NaN`. */
interface PolylineOptions {
  stroke: string
  lineWidth: number
  dash?: readonly number[]
  /** Colour of a rim, so that it stands out over others. */
  rim?: string
}

/** A region between two curves. */
interface BandOptions {
  fill: string
  /** Opacity, 0 to 1. */
  opacity: number
}

/** A value with an interval around it along y. */
interface BandPlace {
  x: number
  low: number
  high: number
}

interface ErrorBarsOptions {
  stroke: string
}

interface MarkersOptions {
  shape: BodyShape
  colour: string
  direction: QuantityInfo['direction']
  palette: Palette
  /** Size as a multiple of the usual one. */
  scale: number
  /** Whether it is the graph's main series, whose points are highlighted. */
  isMain: boolean
  /** Whether markers are drawn as cached sprites, for speed; otherwise as paths, sharp at every size. */
  sprites: boolean
}

interface DirectType<Options, Datum> {
  chartOptions: object
  datasetOptions: Options & { clip?: number }
  defaultDataPoint: Datum
  metaExtensions: object
  parsedDataType: Datum
  scales: 'linear' | 'logarithmic'
}

declare module 'chart.js' {
  interface ChartTypeRegistry {
    polyline: DirectType<PolylineOptions, Place & { frame?: number }>
    band: DirectType<BandOptions, BandPlace>
    errorBars: DirectType<ErrorBarsOptions, Plotted>
    markers: DirectType<MarkersOptions, Plotted>
  }
}

/** The kinds of datasets on a graph. */
export type GraphType = 'polyline' | 'band' | 'errorBars' | 'markers'

/** A type of element that Chart.js requires of every controller; none is ever created. */
const NO_ELEMENTS = { dataElementType: PointElement.id }

/**
 * A controller that draws directly from its data. Creating an element per point and updating it with every change of a
 * scale, as Chart.js does, takes longer than drawing ten thousand points.
 */
abstract class DirectController<T extends GraphType> extends DatasetController<T> {
  /** The dataset, with the options and data of its type. */
  protected get dataset() {
    return this.getDataset() as unknown as ChartTypeRegistry[T]['datasetOptions'] & {
      data: ChartTypeRegistry[T]['defaultDataPoint'][]
    }
  }

  override addElements(): void {}
  override buildOrUpdateElements(): void {
    this.configure()
  }
  override update(_mode: UpdateMode): void {}
}

class PolylineController extends DirectController<'polyline'> {
  static id = 'polyline'
  static defaults = NO_ELEMENTS

  override draw(): void {
    const { ctx } = this.chart
    const { data, stroke, lineWidth, dash = [], rim } = this.dataset
    const { until } = highlightsOf(this.chart)
    const scales = new PixelScales(this.chart)
    ctx.save()
    ctx.beginPath()
    let isOn = false
    for (const { x, y, frame = Number.NEGATIVE_INFINITY } of data) {
      if (frame > until) break
      const [left, top] = [scales.left(x), scales.top(y)]
      const isPlace = Number.isFinite(left) && Number.isFinite(top)
      if (isPlace && isOn) ctx.lineTo(left, top)
      else if (isPlace) ctx.moveTo(left, top)
      isOn = isPlace
    }
    if (rim) {
      ctx.strokeStyle = rim
      ctx.lineWidth = lineWidth + 2
      ctx.stroke()
    }
    ctx.strokeStyle = stroke
    ctx.lineWidth = lineWidth
    ctx.setLineDash([...dash])
    ctx.stroke()
    ctx.restore()
  }
}

class BandController extends DirectController<'band'> {
  static id = 'band'
  static defaults = NO_ELEMENTS

  override draw(): void {
    const { ctx } = this.chart
    const { data, fill, opacity } = this.dataset
    const scales = new PixelScales(this.chart)
    ctx.save()
    ctx.beginPath()
    data.forEach(({ x, high }, i) => {
      if (i === 0) ctx.moveTo(scales.left(x), scales.top(high))
      else ctx.lineTo(scales.left(x), scales.top(high))
    })
    for (const { x, low } of [...data].reverse()) ctx.lineTo(scales.left(x), scales.top(low))
    ctx.closePath()
    ctx.fillStyle = fill
    ctx.globalAlpha = opacity
    ctx.fill()
    ctx.restore()
  }
}

/** Half the width of an error bar's ends, in pixels. */
const CAP = 3.5

/** Draws bars of one standard error with caps, and thin lines beyond them for the bound of the smoothing bias. */
class ErrorBarsController extends DirectController<'errorBars'> {
  static id = 'errorBars'
  static defaults = NO_ELEMENTS

  override draw(): void {
    const { ctx } = this.chart
    const { data, stroke } = this.dataset
    const scales = new PixelScales(this.chart)
    ctx.save()
    ctx.strokeStyle = stroke
    ctx.lineWidth = 1.4
    ctx.beginPath()
    for (const { x, y, errorX, errorY } of data) {
      const [left, top] = [scales.left(x), scales.top(y)]
      const [high, low] = [scales.top(y + errorY), scales.top(y - errorY)]
      for (const end of [high, low]) {
        if (!Number.isFinite(end)) continue
        ctx.moveTo(left, top)
        ctx.lineTo(left, end)
        ctx.moveTo(left - CAP, end)
        ctx.lineTo(left + CAP, end)
      }
      if (errorX > 0)
        for (const end of [scales.left(x - errorX), scales.left(x + errorX)]) {
          ctx.moveTo(left, top)
          ctx.lineTo(end, top)
          ctx.moveTo(end, top - CAP)
          ctx.lineTo(end, top + CAP)
        }
    }
    ctx.stroke()
    ctx.lineWidth = 0.7
    ctx.beginPath()
    for (const { x, y, errorY, bias } of data)
      for (const sign of bias > 0 ? [1, -1] : []) {
        const [end, far] = [scales.top(y + sign * errorY), scales.top(y + sign * (errorY + bias))]
        if (!Number.isFinite(end) || !Number.isFinite(far)) continue
        ctx.moveTo(scales.left(x), end)
        ctx.lineTo(scales.left(x), far)
      }
    ctx.stroke()
    ctx.restore()
  }
}

type Group = 'plain' | 'faded' | 'outlier'

class MarkersController extends DirectController<'markers'> {
  static id = 'markers'
  static defaults = NO_ELEMENTS

  override draw(): void {
    const { data, shape, colour, direction, palette, scale, isMain, sprites } = this.dataset
    const { isIn, isOutlier, until } = highlightsOf(this.chart)
    const faded = `${colour}59`
    const paints: Record<Group, MarkerPaint> = {
      plain: { stroke: colour, fill: markerFill(direction, colour, palette) },
      faded: { stroke: faded, fill: markerFill(direction, faded, palette) },
      outlier: { stroke: palette.alarm, fill: markerFill(direction, colour, palette) },
    }
    const groupOf = ({ frame }: Plotted): Group =>
      isOutlier?.(frame) ? 'outlier' : isIn && !isIn(frame) ? 'faded' : 'plain'
    const isAll = until === Number.POSITIVE_INFINITY
    drawMarkers(
      this.chart.ctx,
      {
        points: isAll ? data : data.filter(({ frame }) => frame <= until),
        shape,
        scale,
        paints,
        groupOf: isMain && (isIn || isOutlier) ? groupOf : () => 'plain',
      },
      new PixelScales(this.chart),
      sprites,
    )
  }
}

export const CONTROLLERS = [PolylineController, BandController, ErrorBarsController, MarkersController]
