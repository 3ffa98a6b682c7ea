import type { AxisDescription, Limits } from '@apokinema/core/graphs'
import type { AxisRange } from '@apokinema/core/investigation'
import type { Picture } from '@apokinema/words/report/shown'
import type { GraphDrawing } from '../../chart/graphDrawing.ts'
import { type PictureSize, pngOf } from '../../chart/graphPictures.ts'
import { svgOf } from '../../chart/graphSvg.ts'
import { PIXEL_RATIO, TEXT_WIDTH } from '../pageSize.ts'

type ReportGraph = Extract<Picture, { of: 'graph' }>

/** Returns the limits of an axis with those of a block in their place. */
function within(limits: Limits, { from, to }: AxisRange, { perKept }: AxisDescription): Limits {
  const range = {
    from: from === null ? limits.from : from * perKept,
    to: to === null ? limits.to : to * perKept,
  }
  // What begins behind its end shows nothing: then the graph's own limits are better.
  return range.from < range.to ? range : limits
}

/** A plot of a report, with its size in CSS pixels. */
export interface SizedPlot {
  drawing: GraphDrawing
  size: PictureSize
}

/** Returns the size of a plot: `width` is a share of the page's text width, `ratio` its height over its width. */
export function plotSize(ratio: number, width: number): PictureSize {
  const wide = Math.round(TEXT_WIDTH * width)
  return { width: wide, height: Math.round(wide * ratio) }
}

/** Returns a graph as a block shows it: with its title, its fits, and what is seen along its axes. */
export function asReported(
  drawing: GraphDrawing,
  { title, fits, errorBars, rangeX, rangeY }: ReportGraph,
): GraphDrawing {
  const { content, limits } = drawing
  const { x, y } = content.description
  return {
    ...drawing,
    limits: { x: within(limits.x, rangeX, x), y: within(limits.y, rangeY, y) },
    content: {
      ...content,
      graph: { ...content.graph, errorBars: errorBars ?? content.graph.errorBars },
      description: { ...content.description, title: title ?? '' },
      fits: fits ? content.fits : [],
    },
  }
}

/** Draws a plot as vectors; null if it is gone. */
export function plotSvg(plot: SizedPlot | null): SVGSVGElement | null {
  return plot && svgOf(plot.drawing, plot.size, null)
}

/** Returns a plot as PNG at 300 pixels per inch; null if it is gone. */
export async function plotPng(plot: SizedPlot | null): Promise<Blob | null> {
  return plot && pngOf(plot.drawing, plot.size, PIXEL_RATIO, '#FFFFFF')
}
