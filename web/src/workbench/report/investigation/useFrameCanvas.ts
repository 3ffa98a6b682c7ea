import { type RefObject, useEffect, useRef } from 'react'
import { useSession } from '../../../document/SessionContext.tsx'
import { useClip } from '../../ClipContext.tsx'
import { useSeen } from '../blocks/useSeen.ts'
import { framePicture } from './framePictures.ts'

/**
 * Draws a frame on a canvas once it comes near the visible part of the page, and again when what is shown changes.
 *
 * @param shown says when the picture shows something else
 * @param draw draws the frame; `facts` is the size of the picture as the file has it
 */
export function useFrameCanvas(
  frame: number,
  shown: string,
  draw: (
    context: CanvasRenderingContext2D,
    image: ImageBitmap,
    facts: { width: number; height: number },
  ) => void,
): { place: RefObject<HTMLDivElement | null>; canvas: RefObject<HTMLCanvasElement | null> } {
  const session = useSession()
  const { from, clip } = useClip()
  const canvas = useRef<HTMLCanvasElement>(null)
  const [place, isSeen] = useSeen()
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is shown says when to draw again
  useEffect(() => {
    if (!isSeen || from === null || !clip) return
    let isLatest = true
    void framePicture(from, frame).then((image) => {
      const context = canvas.current?.getContext('2d')
      if (isLatest && image && context) draw(context, image, clip.facts)
    })
    return () => {
      isLatest = false
    }
  }, [session, isSeen, from, clip, frame, shown])
  return { place, canvas }
}
