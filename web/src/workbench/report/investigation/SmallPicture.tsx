import { analyse } from '@apokinema/core/analysis'
import { type BlockContent, type Investigation, pictureSize } from '@apokinema/core/investigation'
import { firstMark } from '@apokinema/words/report/choices'
import { FileText, Sigma, Table2 } from 'lucide-react'
import { useSession } from '../../../document/SessionContext.tsx'
import { drawTurned } from '../../../footage/clip.ts'
import { BODY_PAINT, COLOUR } from '../../../theme/palettes.ts'
import { SMALL, SmallCurve, smallCurve } from '../SmallCurve.tsx'
import { useFrameCanvas } from './useFrameCanvas.ts'

/** What a block will look like, small. */
export function SmallPicture({ content }: { content: BlockContent }) {
  const { document } = useSession()
  switch (content.kind) {
    case 'graph':
      return <SmallCurve {...curveOf(document, content.graph)} />
    case 'frame':
      return <Still frame={content.frame} />
    case 'chronophotograph':
      return <Still frame={firstMark(document) ?? 0} />
    case 'table':
      return <Table2 size={18} />
    case 'method':
      return <FileText size={18} />
    default:
      return <Sigma size={18} />
  }
}

/** Returns the curve of a graph, and its colour. */
function curveOf(document: Investigation, id: string): { points: string; colour: string } {
  const series = analyse(document).graph(document.graphs[id])?.series[0]
  return {
    points: smallCurve(series?.points ?? []),
    colour: series?.colour ? BODY_PAINT[series.colour] : COLOUR.petrol,
  }
}

function Still({ frame }: { frame: number }) {
  const session = useSession()
  const { place, canvas } = useFrameCanvas(frame, '', (context, image, facts) => {
    const { width, height } = pictureSize(session.document)
    const scale = Math.max(context.canvas.width / width, context.canvas.height / height)
    context.setTransform(scale, 0, 0, scale, 0, 0)
    drawTurned(context, image, facts, session.document.orientation)
  })
  return (
    <div ref={place}>
      <canvas ref={canvas} width={2 * SMALL.width} height={2 * SMALL.height} className="still" />
    </div>
  )
}
