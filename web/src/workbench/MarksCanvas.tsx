import { framesInUse } from '@apokinema/core/investigation'
import { placeIn, sceneOf } from '@apokinema/core/motion'
import { useInvestigation } from '../document/SessionContext.tsx'
import { BODY_PAINT } from '../theme/system.ts'
import { usePicture } from './ClipContext.tsx'
import { useFollowing } from './following.ts'
import { activeBody } from './shown.ts'
import { useCanvas } from './useCanvas.ts'
import { useWorkbench, type View } from './workbenchStore.ts'

const DARK = 'rgba(16,24,26,0.85)'
const LIGHT = '#FFFFFF'
/** Steps of the span over which a trail fades, where it is long. */
const TRAIL = 30

/**
 * Marks on the video: older ones are small dots that fade with time, the current one is a ring with a free
 * centre. Drawn on a canvas of its own, since hundreds of marks change with every step.
 */
export function MarksCanvas({
  size,
  view,
  scale = 1,
}: {
  size: { width: number; height: number }
  view: View
  /** Size of the signs, for small pictures. */
  scale?: number
}) {
  const investigation = useInvestigation()
  const chosenBody = useWorkbench((state) => state.body)
  const selection = useWorkbench((state) => state.selection)
  const { picture } = usePicture()
  const frame = picture?.index ?? null
  const { bodies, span } = investigation
  const used = framesInUse(investigation)
  const active = activeBody(investigation, chosenBody)
  const scene = sceneOf(investigation)

  const phase = useFollowing((state) => state.phase)
  const mode = useWorkbench((state) => state.mode)
  const outlined = mode.kind === 'follow' && phase === 'ready' ? mode.body : null

  const canvas = useCanvas(
    size,
    (context, density) => {
      if (frame === null) return
      context.scale(density, density)
      const reach = Math.max(12, Math.min((span.last - span.first) / 1.4, TRAIL * span.every))
      const ring = (x: number, y: number, radius: number, width: number, colour: string) => {
        context.beginPath()
        context.arc(x, y, radius * scale, 0, 2 * Math.PI)
        context.lineWidth = width
        context.strokeStyle = colour
        context.stroke()
      }
      const dot = (x: number, y: number, radius: number, colour: string) => {
        context.beginPath()
        context.arc(x, y, radius * scale, 0, 2 * Math.PI)
        context.fillStyle = colour
        context.fill()
      }
      for (const [id, { marks, colour, hidden }] of Object.entries(bodies)) {
        if (hidden) continue
        const paint = BODY_PAINT[colour].mark
        for (const [key, mark] of Object.entries(marks)) {
          const marked = Number(key)
          // Of a long motion the trail of a while is enough: all of it would hide the picture.
          const isChosen = selection?.kind === 'mark' && selection.body === id && selection.frame === marked
          if (Math.abs(frame - marked) > 2 * reach && !isChosen) continue
          // Where the camera moves, an older mark is where its spot of the scene is seen now.
          const seen = placeIn(scene, { x: mark.x, y: mark.y, frame: marked }, frame)
          if (!seen) continue
          const [x, y] = [seen.x * view.zoom + view.x, seen.y * view.zoom + view.y]
          if (marked === frame && id === outlined) {
            // The outline is what is looked at.
            dot(x, y, 2.6, DARK)
            dot(x, y, 1.8, LIGHT)
          } else if (marked === frame) {
            ring(x, y, 14, 5, DARK)
            ring(x, y, 14, 3.6, LIGHT)
            ring(x, y, 14, 2.4, paint)
          } else {
            const faded = used.has(marked) ? Math.max(0.25, 1 - Math.abs(frame - marked) / reach) : 0.18
            context.globalAlpha = id === active ? faded : faded * 0.7
            dot(x, y, 4.8, DARK)
            dot(x, y, 4.2, LIGHT)
            dot(x, y, 3.2, paint)
            context.globalAlpha = 1
          }
          if (isChosen) {
            context.setLineDash([5, 4])
            ring(x, y, 19, 2, '#9FE3DC')
            context.setLineDash([])
          }
        }
      }
    },
    [frame, view, bodies, span, used, active, selection, scale, scene, outlined],
  )
  return (
    <canvas
      ref={canvas}
      style={{ position: 'absolute', inset: 0, width: '100%', height: '100%', pointerEvents: 'none' }}
    />
  )
}
