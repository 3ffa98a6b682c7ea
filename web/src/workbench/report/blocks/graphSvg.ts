import type { Investigation } from '@apokinema/core/investigation'
import type { Picture } from '@apokinema/words/report/shown'
import { allTimes, graphDrawing } from '../../chart/graphModel.ts'
import { svgOf } from '../../chart/graphPictures.ts'

/** Width of the page's text in CSS pixels: 170 mm. */
const TEXT_WIDTH = 643

/** Returns a graph of a report as SVG text; null if it is gone. */
export async function graphSvg(
  investigation: Investigation,
  { graph, ratio, title, fits, errorBars }: Extract<Picture, { of: 'graph' }>,
  width: number,
): Promise<string | null> {
  const wide = Math.round(TEXT_WIDTH * width)
  const size = { width: wide, height: Math.round(wide * ratio) }
  const view = { frame: -1, range: allTimes(investigation) }
  const drawing = graphDrawing(investigation, graph, size, view)
  if (!drawing) return null
  const { content } = drawing
  const changed = {
    ...drawing,
    content: {
      ...content,
      graph: { ...content.graph, errorBars: errorBars ?? content.graph.errorBars },
      description: { ...content.description, title: title ?? '' },
      fits: fits ? content.fits : [],
    },
  }
  return (await svgOf(changed, size, null)).text()
}
