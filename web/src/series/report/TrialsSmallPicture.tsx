import type { BlockContent } from '@apokinema/core/investigation'
import { Aperture, FileText, Sigma, Table2 } from 'lucide-react'
import { BODY_PAINT } from '../../theme/palettes.ts'
import { SmallCurve, smallCurve } from '../../workbench/report/SmallCurve.tsx'
import { trialMarker } from '../motionDrawing.ts'
import { useSeriesAnalysis } from '../SeriesContext.tsx'
import { motionsOf } from './measuredTrials.ts'

/** What a block of a series' report will look like, small. */
export function TrialsSmallPicture({ content }: { content: BlockContent }) {
  const analysis = useSeriesAnalysis()
  const { colour } = trialMarker(0)
  switch (content.kind) {
    case 'graph': {
      const graph = analysis.series.graphs[content.graph]
      const points = graph ? analysis.points(graph).map(({ x, y }) => ({ x: x.value, y: y.value })) : []
      const along = points.sort((a, b) => a.x - b.x)
      return <SmallCurve points={smallCurve(along)} colour={BODY_PAINT[colour]} />
    }
    case 'motions': {
      if (content.form === 'still') return <Aperture size={18} />
      const [first] = motionsOf(analysis, content.motion)
      return <SmallCurve points={smallCurve(first?.points ?? [])} colour={BODY_PAINT[colour]} />
    }
    case 'trials':
      return <Table2 size={18} />
    case 'method':
      return <FileText size={18} />
    default:
      return <Sigma size={18} />
  }
}
