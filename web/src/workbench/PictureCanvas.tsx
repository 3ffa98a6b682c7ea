import { useEffect } from 'react'
import { useInvestigation } from '../document/SessionContext.tsx'
import { drawTurned } from '../footage/clip.ts'
import { useClip, usePicture } from './ClipContext.tsx'
import { useDisplayAdjustment } from './displayAdjust.ts'
import { noteDrawn } from './drawnPicture.ts'
import { useCanvas } from './useCanvas.ts'
import type { View } from './workbenchStore.ts'

/** The picture of the current frame, drawn at once with every step: nothing else renders for it. */
export function PictureCanvas({ size, view }: { size: { width: number; height: number }; view: View }) {
  const orientation = useInvestigation((now) => now.orientation)
  const { clip } = useClip()
  const { picture } = usePicture()
  const { filter } = useDisplayAdjustment()
  const canvas = useCanvas(
    size,
    (context, density) => {
      delete context.canvas.dataset.frame
      if (!picture || !clip) return
      context.setTransform(density * view.zoom, 0, 0, density * view.zoom, density * view.x, density * view.y)
      context.imageSmoothingEnabled = view.zoom < 4
      drawTurned(context, picture.image, clip.facts, orientation)
      const { index: frame, image } = picture
      noteDrawn({ frame, image, facts: clip.facts, orientation, zoom: view.zoom })
      context.canvas.dataset.frame = String(picture.index)
      context.canvas.dataset.exact = String(picture.exact)
    },
    [picture, clip, view, orientation],
  )
  useEffect(() => () => noteDrawn(null), [])
  return (
    <canvas
      ref={canvas}
      data-picture
      style={{ position: 'absolute', inset: 0, width: '100%', height: '100%', filter }}
    />
  )
}
