import { type Investigation, pictureSize } from '@apokinema/core/investigation'
import { frameCount } from '@apokinema/core/time'
import { Box, Center, Text } from '@chakra-ui/react'
import { useEffect, useRef, useState } from 'react'
import { type Clip, openInWorker } from '../footage/clip.ts'
import { footageSource } from '../footage/footageSource.ts'
import { drawFrame } from '../workbench/report/investigation/framePictures.ts'

/** Frames that are kept ready ahead. */
const AHEAD = 8

/** The film of a trial at one frame, with its marks. */
export function StepFilm({
  trial,
  document,
  frame,
}: {
  trial: string
  document: Investigation
  frame: number
}) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const [clip, setClip] = useState<Clip | null>(null)
  const [failure, setFailure] = useState<string | null>(null)
  const footage = document.footage?.id
  const { width, height } = pictureSize(document)

  useEffect(() => {
    if (footage === undefined) return
    let opened: Clip | null = null
    let isGone = false
    footageSource(trial, footage)
      .then((from) => openInWorker(from, 'film in step'))
      .then(
        (one) => {
          opened = one
          if (isGone) one.close()
          else setClip(one)
        },
        (error: Error) => setFailure(error.message),
      )
    return () => {
      isGone = true
      opened?.close()
      setClip(null)
    }
  }, [trial, footage])

  useEffect(() => {
    if (!clip) return
    const pictures = clip.pictures()
    const last = Math.min(frame + AHEAD, frameCount(clip.facts.ticks) - 1)
    pictures.want(
      frame,
      Array.from({ length: last - frame }, (_, i) => frame + 1 + i),
      frame > 0 ? [frame - 1] : [],
    )
    const draw = () => {
      const ready = pictures.get(frame)
      const context = canvas.current?.getContext('2d')
      if (ready && context) drawFrame(context, document, clip.facts, ready.image, frame)
    }
    draw()
    return pictures.subscribe(draw)
  }, [clip, document, frame])

  return (
    <Box position="relative" bg="stage" borderRadius="6px" overflow="hidden">
      <canvas
        ref={canvas}
        width={width}
        height={height}
        role="img"
        aria-label={`${document.title}, frame ${frame}`}
        data-frame={frame}
        style={{ width: '100%', maxHeight: '44vh', objectFit: 'contain', display: 'block' }}
      />
      {(failure ?? footage === undefined) && (
        <Center position="absolute" inset="0">
          <Text color="whiteAlpha.800">{failure ?? 'This trial has no film.'}</Text>
        </Center>
      )}
    </Box>
  )
}
