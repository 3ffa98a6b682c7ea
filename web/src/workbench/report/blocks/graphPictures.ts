import type { AxisDescription, Limits } from '@apokinema/core/graphs'
import type { AxisRange, Investigation } from '@apokinema/core/investigation'
import type { Picture } from '@apokinema/words/report/shown'
import type { GraphDrawing } from '../../chart/graphDrawing.ts'
import { allTimes, graphDrawing } from '../../chart/graphModel.ts'
import { loadSvg, type PictureSize, pngOf, svgOf } from '../../chart/graphPictures.ts'
import { PIXEL_RATIO, TEXT_WIDTH } from '../pageSize.ts'

// Drawn as soon as the page is laid out: what draws is loaded beside it.
void loadSvg()

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

/** Returns a graph as a report shows it; null if it is gone. */
function reportDrawing(
  investigation: Investigation,
  { graph, ratio, title, fits, errorBars, rangeX, rangeY }: ReportGraph,
  width: number,
): { drawing: GraphDrawing; size: PictureSize } | null {
  const wide = Math.round(TEXT_WIDTH * width)
  const size = { width: wide, height: Math.round(wide * ratio) }
  const view = { frame: -1, range: allTimes(investigation) }
  const drawing = graphDrawing(investigation, graph, size, view)
  if (!drawing) return null
  const { content, limits } = drawing
  const { x, y } = content.description
  return {
    size,
    drawing: {
      ...drawing,
      limits: { x: within(limits.x, rangeX, x), y: within(limits.y, rangeY, y) },
      content: {
        ...content,
        graph: { ...content.graph, errorBars: errorBars ?? content.graph.errorBars },
        description: { ...content.description, title: title ?? '' },
        fits: fits ? content.fits : [],
      },
    },
  }
}

/**
 * Returns a graph of a report as SVG text; null if it is gone.
 *
 * @param width share of the page's text width
 */
export async function graphSvg(
  investigation: Investigation,
  picture: ReportGraph,
  width: number,
): Promise<string | null> {
  const found = reportDrawing(investigation, picture, width)
  return found && svgOf(found.drawing, found.size, null)
}

/**
 * Returns a graph of a report as PNG at 300 pixels per inch; null if it is gone.
 *
 * @param width share of the page's text width
 */
export async function graphPng(
  investigation: Investigation,
  picture: ReportGraph,
  width: number,
): Promise<Blob | null> {
  const found = reportDrawing(investigation, picture, width)
  return found && pngOf(found.drawing, found.size, PIXEL_RATIO, '#FFFFFF')
}
