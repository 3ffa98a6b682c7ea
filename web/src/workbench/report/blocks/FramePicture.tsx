import { pictureSize } from '@apokinema/core/investigation'
import { useEffect, useRef } from 'react'
import { useSession } from '../../../document/SessionContext.tsx'
import { useClip } from '../../ClipContext.tsx'
import { drawFrame, framePicture } from './framePictures.ts'
import { useSeen } from './useSeen.ts'

/** The picture of a frame with its marks. */
export function FramePicture({ frame, digest }: { frame: number; digest: string }) {
  const session = useSession()
  const { from, clip } = useClip()
  const canvas = useRef<HTMLCanvasElement>(null)
  const [place, isSeen] = useSeen()
  const { width, height } = pictureSize(session.document)
  // biome-ignore lint/correctness/useExhaustiveDependencies: the digest says when the picture shows something else
  useEffect(() => {
    if (!isSeen || from === null || !clip) return
    let isLatest = true
    void framePicture(from, frame).then((image) => {
      const context = canvas.current?.getContext('2d')
      if (!isLatest || !image || !context) return
      context.clearRect(0, 0, width, height)
      drawFrame(context, session.document, clip.facts, image, frame)
      canvas.current!.dataset.drawn = String(frame)
    })
    return () => {
      isLatest = false
    }
  }, [session, isSeen, from, clip, frame, width, height, digest])
  return (
    <div ref={place}>
      <canvas ref={canvas} width={width} height={height} />
    </div>
  )
}
