import { Box, Button, Checkbox, Flex, Stack, Text } from '@chakra-ui/react'
import { Circle, Square } from 'lucide-react'
import { useRef, useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import { PageHeader } from '../common/PageHeader.tsx'
import { CameraChoice, DEFAULT_SETTINGS } from './CameraChoice.tsx'
import { camerasAllowed } from './cameras.ts'
import { LivePicture } from './LivePicture.tsx'
import { RecordedClip } from './RecordedClip.tsx'
import { Given, ShownChecks } from './RecordParts.tsx'
import { useCamera } from './useCamera.ts'
import { useChecks } from './useChecks.ts'
import { useRecording } from './useRecording.ts'

/** Recording from a camera: choose, check, count down, stop, look, keep or retake. */
export function RecordPage() {
  const [search] = useSearchParams()
  const series = search.get('series')
  const video = useRef<HTMLVideoElement>(null)
  const [settings, setSettings] = useState(DEFAULT_SETTINGS)
  const [failure, setFailure] = useState<string | null>(null)
  const [hasGuides, setHasGuides] = useState(true)
  const { cameras, camera, setCamera, track } = useCamera(settings, setFailure)
  const recording = useRecording(track, setFailure)
  const { stage } = recording
  // No checks while recording: the machine is busy.
  const checks = useChecks(video, stage.kind === 'ready' && track !== null)
  return (
    <Flex direction="column" height="100dvh">
      <PageHeader title={series ? 'Record the next trial' : 'Record'}>
        {series && <Link to={`/series/${series}`}>Back to the trials</Link>}
        <Link to="/film-it-well">Film it well</Link>
      </PageHeader>
      <Flex flex="1" minHeight="0" direction={{ base: 'column', lg: 'row' }}>
        <Box position="relative" flex="1" minHeight="0" bg="stage" data-record={stage.kind}>
          {stage.kind === 'look' ? (
            <Replay address={stage.address} />
          ) : (
            <LivePicture
              video={video}
              track={track}
              hasGuides={hasGuides}
              stage={stage}
              stop={recording.stop}
            />
          )}
          {!camera && !failure && (
            <Flex position="absolute" inset="0" align="center" justify="center">
              <Text color="whiteAlpha.800">Choose a camera to see its picture.</Text>
            </Flex>
          )}
        </Box>
        <Stack
          as="aside"
          width={{ base: '100%', lg: '300px' }}
          flex="none"
          padding="4"
          gap="4"
          bg="panel"
          borderLeft="1px solid"
          borderColor="line"
          overflowY="auto"
        >
          {failure && (
            <Text role="alert" color="alarm">
              {failure}
            </Text>
          )}
          {stage.kind === 'look' ? (
            <RecordedClip
              file={stage.file}
              note={stage.note}
              onFailure={setFailure}
              series={series}
              toLive={recording.toLive}
            />
          ) : (
            <>
              {!camerasAllowed() && <NoCameras />}
              <CameraChoice
                cameras={cameras}
                camera={camera}
                settings={settings}
                disabled={stage.kind !== 'ready'}
                onCamera={setCamera}
                onSettings={setSettings}
              />
              {track && <Given track={track} />}
              <GuidesBox on={hasGuides} set={setHasGuides} />
              {checks && <ShownChecks checks={checks} />}
              <RecordButtons recording={recording} canRecord={track !== null} />
            </>
          )}
        </Stack>
      </Flex>
    </Flex>
  )
}

/** The recorded clip, in a loop. */
function Replay({ address }: { address: string }) {
  return (
    <video
      src={address}
      controls
      autoPlay
      loop
      muted
      playsInline
      style={{ width: '100%', height: '100%', objectFit: 'contain' }}
    />
  )
}

function NoCameras() {
  return (
    <Text color="ink.muted">
      Browsers allow cameras on secure addresses only (https, or this machine). The practice camera works
      here, too.
    </Text>
  )
}

function GuidesBox({ on, set }: { on: boolean; set(on: boolean): void }) {
  return (
    <Checkbox.Root checked={on} onCheckedChange={({ checked }) => set(checked === true)} colorPalette="brand">
      <Checkbox.HiddenInput />
      <Checkbox.Control />
      <Checkbox.Label>Level line and grid</Checkbox.Label>
    </Checkbox.Root>
  )
}

/** Record, Stop and, during the countdown, Cancel. */
function RecordButtons(props: { recording: ReturnType<typeof useRecording>; canRecord: boolean }) {
  const { stage, countDown, stop, toLive } = props.recording
  if (stage.kind === 'recording' || stage.kind === 'ending')
    return (
      <Button size="lg" colorPalette="red" loading={stage.kind === 'ending'} onClick={stop}>
        <Square size={16} fill="currentColor" /> Stop
      </Button>
    )
  const isCounting = stage.kind === 'counting'
  return (
    <>
      <Button size="lg" colorPalette="brand" disabled={!props.canRecord || isCounting} onClick={countDown}>
        <Circle size={16} fill="currentColor" /> Record
      </Button>
      {isCounting && (
        <Button variant="outline" onClick={toLive}>
          Cancel
        </Button>
      )}
    </>
  )
}
