import { inOrder } from '@apokinema/core/investigation'
import { alignedMotions, type SeriesAnalysis } from '@apokinema/core/series'
import { type SeriesPicture, showSeriesReport } from '@apokinema/words/report/seriesReport'
import type { GraphDrawing } from '../workbench/chart/graphDrawing.ts'
import { svgOf } from '../workbench/chart/graphPictures.ts'
import { TEXT_WIDTH } from '../workbench/report/pageSize.ts'
import { collectDrawings } from '../workbench/report/takeAway/collectReport.ts'
import type { ReportFile } from '../workbench/report/takeAway/reportFile.ts'
import { motionDrawing } from './motionDrawing.ts'
import { trialDrawing } from './trialDrawing.ts'

/** Height of a graph by its width. */
const RATIO = 0.55

async function pictureOf(id: string, drawing: GraphDrawing | null, count: string): Promise<SeriesPicture[]> {
  if (!drawing) return []
  const { title } = drawing.content.description
  const svg = await svgOf(drawing, { width: TEXT_WIDTH, height: Math.round(RATIO * TEXT_WIDTH) }, null)
  return [{ id, svg, caption: `${title}, ${count}.`, alternative: `${title}, ${count}` }]
}

/** Returns the report of a series with its pictures, to be made a file of. */
export async function seriesReport(
  analysis: SeriesAnalysis,
  titles: ReadonlyMap<string, string>,
  signal: AbortSignal,
): Promise<ReportFile> {
  const { series, table } = analysis
  const pictures: SeriesPicture[] = []
  for (const [id, graph] of inOrder(series.graphs)) {
    const fits = analysis.fits().filter(({ settings }) => settings.graph === id)
    const count = analysis.points(graph).filter(({ isLeftOut }) => !isLeftOut).length
    pictures.push(...(await pictureOf(id, trialDrawing(analysis, graph, fits), `${count} trials`)))
  }
  const counting = table.rows().filter(({ trial }) => trial.leftOut === null)
  for (const [id, motion] of inOrder(series.motions)) {
    const { motions } = alignedMotions(counting, motion)
    const names = motions.map(({ trial }) => titles.get(trial.id) ?? '').join(', ')
    pictures.push(...(await pictureOf(id, motionDrawing('Motions over each other', motions), names)))
  }
  const blocks = showSeriesReport(analysis, titles, pictures)
  return collectDrawings({ title: series.title, author: '', date: '', paper: 'a4', blocks }, signal)
}
