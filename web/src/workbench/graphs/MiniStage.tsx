import { pictureSize } from '@apokinema/core/investigation'
import { Box, Text } from '@chakra-ui/react'
import { memo, useMemo, useRef } from 'react'
import { useSize } from '../../common/useSize.ts'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { usePicture } from '../ClipContext.tsx'
import { MarksCanvas } from '../MarksCanvas.tsx'
import { PictureCanvas } from '../PictureCanvas.tsx'

/** The film, small, at the current frame. */
export const MiniStage = memo(function MiniStage() {
  const wide = useInvestigation((now) => pictureSize(now).width)
  const high = useInvestigation((now) => pictureSize(now).height)
  const picture = { width: wide, height: high }
  const { failure } = usePicture()
  const holder = useRef<HTMLDivElement>(null)
  const { width } = useSize(holder)
  const zoom = width > 0 ? Math.min(width / picture.width, 240 / picture.height) : 0
  const height = Math.round(picture.height * zoom)
  const left = (width - picture.width * zoom) / 2
  const size = { width, height }
  const view = useMemo(() => ({ zoom, x: left, y: 0 }), [zoom, left])

  return (
    <Box ref={holder} position="relative" bg="stage" height={`${height}px`}>
      <PictureCanvas size={size} view={view} />
      <MarksCanvas size={size} view={view} scale={0.6} />
      {failure && (
        <Text role="alert" position="absolute" inset="0" padding="3" color="white" fontSize="small">
          {failure}
        </Text>
      )}
    </Box>
  )
})
