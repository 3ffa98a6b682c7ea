import { analyse } from '@apokinema/core/analysis'
import type { Investigation } from '@apokinema/core/investigation'
import { fillTemplate, templateOf } from '@apokinema/core/report'
import { frameCount } from '@apokinema/core/time'
import { blockChoices, valueChoices } from '@apokinema/words/report/choices'
import { investigationSubject } from '@apokinema/words/report/investigationSubject'
import type { Picture } from '@apokinema/words/report/shown'
import { templateBlocks } from '@apokinema/words/report/templates'
import { v4 as uuid } from 'uuid'
import { canvasBlob } from '../../../common/canvasBlob.ts'
import { shownOf } from '../../../document/SessionContext.tsx'
import type { Session } from '../../../document/session.ts'
import { unlessReport } from '../../../document/unlessReport.ts'
import type { ClipState } from '../../ClipContext.tsx'
import { allTimes, graphDrawing } from '../../chart/graphModel.ts'
import { asReported, plotPng, plotSize, plotSvg, type SizedPlot } from '../blocks/plots.ts'
import type { Plot, ReportSource } from '../source.ts'
import { reportChronophotograph } from './chronophotographs.ts'
import { frameCanvas } from './framePictures.ts'
import { PhotoView } from './PhotoView.tsx'
import { SmallPicture } from './SmallPicture.tsx'

/**
 * Returns an investigation as what its report is written of.
 *
 * @param clip returns the open clip
 */
export function investigationSource(session: Session, clip: () => ClipState): ReportSource {
  const written = unlessReport<Investigation>()
  const subject = lastKept((document: Investigation) => investigationSubject(document, written(document)))
  const measured = unlessReport<Investigation>()
  return {
    session,
    follow: session.store.subscribe,
    subject: () => subject(session.document),
    measured: () => measured(shownOf(session.store.getState())),
    blockChoices: () => blockChoices(session.document),
    valueChoices: () => valueChoices(session.document),
    templateBlocks: (template) => templateBlocks(session.document, template),
    ownTemplates: {
      fill: (template) => fillTemplate(session.document, template, uuid),
      keep: (name) => templateOf(session.document, name),
    },
    axes(id) {
      const graph = session.document.graphs[id]
      const description = graph && analyse(session.document).graph(graph)
      if (!description) return []
      return [description.x, description.y].map(({ symbol, unit, perKept }) => ({ symbol, unit, perKept }))
    },
    trials: () => ({ columns: [], hasMeans: false }),
    lastFrame: () => lastFrameOf(session.document),
    svg: (plot, width) => plotSvg(plotOf(session.document, plot, width)),
    png: (plot, width) => plotPng(plotOf(session.document, plot, width)),
    photo: (picture) => photoOf(session.document, clip(), picture),
    PhotoView,
    SmallPicture,
  }
}

/** Returns a function that computes anew only for another argument than the last one. */
function lastKept<A, R>(compute: (of: A) => R): (of: A) => R {
  let last: { of: A; made: R } | null = null
  return (of) => {
    if (!last || last.of !== of) last = { of, made: compute(of) }
    return last.made
  }
}

const lastFrameOf = ({ footage }: Investigation) => (footage ? frameCount(footage.ticks) - 1 : 0)

/** Returns a graph as a report shows it; null if it is gone. */
function plotOf(document: Investigation, picture: Plot, width: number): SizedPlot | null {
  if (picture.of !== 'graph') return null
  const size = plotSize(picture.ratio, width)
  const drawing = graphDrawing(document, picture.graph, size, { frame: -1, range: allTimes(document) })
  return drawing && { size, drawing: asReported(drawing, picture) }
}

async function photoOf(document: Investigation, clip: ClipState, picture: Picture): Promise<Blob | null> {
  if (picture.of === 'frame') {
    const canvas = await frameCanvas(document, clip, picture.frame)
    return canvas && canvasBlob(canvas)
  }
  if (picture.of !== 'chronophotograph' || clip.from === null) return null
  const found = await reportChronophotograph(clip.from, document, picture)
  return found instanceof Blob ? found : null
}
