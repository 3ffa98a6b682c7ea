import type { Series } from '@apokinema/core/series'
import { seriesBlockChoices, seriesValueChoices } from '@apokinema/words/report/seriesChoices'
import { type NamedSeries, seriesSubject } from '@apokinema/words/report/seriesSubject'
import type { ReportSubject } from '@apokinema/words/report/subject'
import { seriesTemplateBlocks } from '@apokinema/words/report/templates'
import type { StoreApi } from 'zustand'
import type { Session } from '../../document/session.ts'
import type { GraphDrawing } from '../../workbench/chart/graphDrawing.ts'
import {
  asReported,
  plotPng,
  plotSize,
  plotSvg,
  type SizedPlot,
} from '../../workbench/report/blocks/plots.ts'
import type { Plot, ReportSource } from '../../workbench/report/source.ts'
import { motionDrawing } from '../motionDrawing.ts'
import { trialDrawing } from '../trialDrawing.ts'
import { type MeasuredTrials, motionsOf, trialsPhoto } from './measuredTrials.ts'
import { TrialsPhotoView } from './TrialsPhotoView.tsx'
import { TrialsSmallPicture } from './TrialsSmallPicture.tsx'

/**
 * Returns a series as what its report is written of.
 *
 * @param trials holds what follows from the trials, as it is now
 */
export function seriesSource(
  session: Session<Series>,
  trials: Pick<StoreApi<MeasuredTrials>, 'getState' | 'subscribe'>,
): ReportSource {
  const now = (): NamedSeries => ({ written: session.document, ...trials.getState() })
  let last: { of: NamedSeries; subject: ReportSubject } | null = null
  return {
    session,
    follow(changed) {
      const ends = [session.store.subscribe(changed), trials.subscribe(changed)]
      return () => {
        for (const end of ends) end()
      }
    },
    subject() {
      const of = now()
      if (last?.of.written !== of.written || last.of.analysis !== of.analysis || last.of.titles !== of.titles)
        last = { of, subject: seriesSubject(of, trials.getState()) }
      return last.subject
    },
    measured: trials.getState,
    blockChoices: () => seriesBlockChoices(now()),
    valueChoices: () => seriesValueChoices(now()),
    templateBlocks: (template) => seriesTemplateBlocks(now(), template),
    ownTemplates: null,
    axes(id) {
      const { series, table } = trials.getState().analysis
      const graph = series.graphs[id]
      if (!graph) return []
      return [graph.x, graph.y].flatMap((column) => {
        const shown = table.column(column)
        return shown ? [{ symbol: shown.column.symbol, unit: shown.unit, perKept: 1 }] : []
      })
    },
    trials() {
      const { table } = trials.getState().analysis
      return {
        columns: table.columns.map(({ id, column }) => [id, column.name] as const),
        hasMeans: table.means().length > 0,
      }
    },
    lastFrame: () => 0,
    svg: (plot, width) => plotSvg(plotOf(now(), plot, width)),
    png: (plot, width) => plotPng(plotOf(now(), plot, width)),
    photo: async (picture) => {
      const made = await trialsPhoto(trials.getState().analysis, picture)
      return made instanceof Blob ? made : null
    },
    PhotoView: TrialsPhotoView,
    SmallPicture: TrialsSmallPicture,
  }
}

function plotOf(trials: MeasuredTrials, plot: Plot, width: number): SizedPlot | null {
  const drawing = drawingOf(trials, plot)
  return drawing && { drawing, size: plotSize(plot.ratio, width) }
}

function drawingOf({ analysis, titles }: MeasuredTrials, plot: Plot): GraphDrawing | null {
  if (plot.of === 'motions') return motionDrawing('', motionsOf(analysis, plot.motion), titles)
  const graph = analysis.series.graphs[plot.graph]
  const drawing = graph ? trialDrawing(analysis, graph, analysis.fitsOf(plot.graph)) : null
  return drawing && asReported(drawing, plot)
}
