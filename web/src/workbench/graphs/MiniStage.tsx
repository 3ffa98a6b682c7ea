import { pictureSize } from '@apokinema/core/investigation'
import { Box, Text } from '@chakra-ui/react'
import { useEffect, useRef } from 'react'
import { useSize } from '../../common/useSize.ts'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { drawTurned } from '../../footage/clip.ts'
import { useClip, usePicture } from '../ClipContext.tsx'
import { Overlay } from '../measure/Overlay.tsx'

/** The film, small, at the current frame. */
export function MiniStage({ body }: { body: string }) {
  const investigation = useInvestigation()
  const { orientation } = investigation
  const size = pictureSize(investigation)
  const { clip } = useClip()
  const { picture, trouble } = usePicture()
  const holder = useRef<HTMLDivElement>(null)
  const canvas = useRef<HTMLCanvasElement>(null)
  const { width } = useSize(holder)
  const zoom = width > 0 ? Math.min(width / size.width, 240 / size.height) : 0
  const height = Math.round(size.height * zoom)
  const left = (width - size.width * zoom) / 2

  useEffect(() => {
    const target = canvas.current
    if (!target || !picture || !clip || zoom === 0) return
    const density = window.devicePixelRatio || 1
    target.width = Math.round(width * density)
    target.height = Math.round(height * density)
    const context = target.getContext('2d')!
    context.setTransform(density * zoom, 0, 0, density * zoom, density * left, 0)
    drawTurned(context, picture.image, orientation)
    target.dataset.frame = String(picture.index)
  }, [picture, clip, zoom, width, height, left, orientation])

  return (
    <Box ref={holder} position="relative" bg="stage" height={`${height}px`}>
      <canvas ref={canvas} data-picture style={{ width, height, display: 'block' }} />
      {picture && zoom > 0 && (
        <Overlay
          marksOnly
          size={{ width, height }}
          view={{ zoom, x: left, y: 0 }}
          frame={picture.index}
          body={body}
        />
      )}
      {trouble && (
        <Text role="alert" position="absolute" inset="0" padding="3" color="white" fontSize="13px">
          {trouble}
        </Text>
      )}
    </Box>
  )
}
