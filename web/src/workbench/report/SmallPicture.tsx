import { analyse } from '@apokinema/core/analysis'
import { type BlockContent, type Investigation, pictureSize } from '@apokinema/core/investigation'
import { firstMark } from '@apokinema/words/report/choices'
import { FileText, Sigma, Table2 } from 'lucide-react'
import { memo } from 'react'
import { useSession } from '../../document/SessionContext.tsx'
import { drawTurned } from '../../footage/clip.ts'
import { BODY_PAINT, COLOUR } from '../../theme/palettes.ts'
import { useFrameCanvas } from './blocks/useFrameCanvas.ts'

const WIDTH = 44
const HEIGHT = 32
/** Space around a curve. */
const EDGE = 4
/** Number of points that show how a curve goes. */
const MOST_POINTS = 40

/** What a block will look like, small. */
export function SmallPicture({
  content,
  investigation,
}: {
  content: BlockContent
  investigation: Investigation
}) {
  switch (content.kind) {
    case 'graph':
      return <Curve {...curveOf(investigation, content.graph)} />
    case 'frame':
      return <Still frame={content.frame} />
    case 'chronophotograph':
      return <Still frame={firstMark(investigation) ?? 0} />
    case 'table':
      return <Table2 size={18} />
    case 'method':
      return <FileText size={18} />
    default:
      return <Sigma size={18} />
  }
}

/** Returns the curve of a graph as points of an SVG polyline, and its colour. */
function curveOf(document: Investigation, id: string): { points: string; colour: string } {
  const series = analyse(document).graph(document.graphs[id])?.series[0]
  if (!series) return { points: '', colour: COLOUR.petrol }
  const every = Math.max(1, Math.floor(series.points.length / MOST_POINTS))
  const points = series.points.filter((_, i) => i % every === 0)
  const place = (values: number[], length: number) => {
    const [low, high] = [Math.min(...values), Math.max(...values)]
    return values.map((value) => EDGE + ((value - low) / (high - low || 1)) * (length - 2 * EDGE))
  }
  const x = place(
    points.map((point) => point.x),
    WIDTH,
  )
  const y = place(
    points.map((point) => -point.y),
    HEIGHT,
  )
  return {
    points: x.map((left, i) => `${left.toFixed(1)},${y[i].toFixed(1)}`).join(' '),
    colour: series.colour ? BODY_PAINT[series.colour] : COLOUR.petrol,
  }
}

const Curve = memo(function Curve({ points, colour }: { points: string; colour: string }) {
  return (
    <svg width={WIDTH} height={HEIGHT} aria-hidden="true">
      <polyline points={points} fill="none" stroke={colour} strokeWidth={1.5} />
    </svg>
  )
})

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
      <canvas ref={canvas} width={2 * WIDTH} height={2 * HEIGHT} className="still" />
    </div>
  )
}
