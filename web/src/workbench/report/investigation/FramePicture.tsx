import { pictureSize } from '@apokinema/core/investigation'
import { useSession } from '../../../document/SessionContext.tsx'
import { drawFrame } from './framePictures.ts'
import { useFrameCanvas } from './useFrameCanvas.ts'

/** The picture of a frame with its marks. */
export function FramePicture({ frame, digest }: { frame: number; digest: string }) {
  const session = useSession()
  const { width, height } = pictureSize(session.document)
  const { place, canvas } = useFrameCanvas(frame, `${digest} ${width} ${height}`, (context, image, facts) => {
    context.clearRect(0, 0, width, height)
    drawFrame(context, session.document, facts, image, frame)
    context.canvas.dataset.drawn = String(frame)
  })
  return (
    <div ref={place}>
      <canvas ref={canvas} width={width} height={height} />
    </div>
  )
}
