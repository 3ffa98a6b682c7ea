import { Box, Flex } from '@chakra-ui/react'
import { type RefObject, useEffect, useState } from 'react'
import { Clock, Countdown, Guides } from './RecordParts.tsx'
import type { RecordingStage } from './useRecording.ts'

/** The camera's live picture with its guides, the countdown or the recorded time. */
export function LivePicture(props: {
  video: RefObject<HTMLVideoElement | null>
  track: MediaStreamTrack | null
  hasGuides: boolean
  stage: RecordingStage
  stop: () => void
}) {
  const { video, track, hasGuides, stage, stop } = props
  /** Aspect ratio of the camera's picture. */
  const [shape, setShape] = useState(16 / 9)
  useEffect(() => {
    if (!video.current || !track) return
    video.current.srcObject = new MediaStream([track])
    void video.current.play().catch(() => {})
  }, [video, track])
  return (
    <Flex height="100%" align="center" justify="center">
      <Box
        position="relative"
        maxWidth="100%"
        maxHeight="100%"
        height={shape > 1 ? 'auto' : '100%'}
        width={shape > 1 ? '100%' : 'auto'}
        aspectRatio={shape}
      >
        <video
          ref={video}
          muted
          playsInline
          onResize={(event) => {
            const { videoWidth, videoHeight } = event.currentTarget
            if (videoHeight > 0) setShape(videoWidth / videoHeight)
          }}
          style={{ width: '100%', height: '100%', objectFit: 'contain' }}
        />
        {track && hasGuides && <Guides />}
      </Box>
      {stage.kind === 'counting' && <Countdown left={stage.left} />}
      {stage.kind === 'recording' && <Clock since={stage.since} stop={stop} />}
    </Flex>
  )
}
