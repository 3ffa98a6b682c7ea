import { fixed, withUnit } from '@apokinema/core/units'
import { Box, Button, Checkbox, Flex, HStack, Stack, Text } from '@chakra-ui/react'
import { Circle, Square } from 'lucide-react'
import { useCallback, useEffect, useRef, useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { listsChanged } from '../api/queries.ts'
import { PageHeader } from '../common/PageHeader.tsx'
import { createFromFile } from '../investigations/create.ts'
import { prefetchWorkbench } from '../investigations/prefetchWorkbench.ts'
import { type Camera, camerasAllowed, listCameras, openCamera, PRACTICE_CAMERA } from './cameras.ts'
import { Clock, Countdown, Given, Guides, Select, ShownChecks } from './RecordParts.tsx'
import { type Recorder, record } from './recorder.ts'
import { useChecks } from './useChecks.ts'

const SIZES = [
  { name: '640 × 480', width: 640, height: 480 },
  { name: '1280 × 720', width: 1280, height: 720 },
  { name: '1920 × 1080', width: 1920, height: 1080 },
]
const RATES = [30, 60, 120]
const COUNTDOWN = 3

type Stage =
  | { kind: 'ready' }
  | { kind: 'counting'; left: number }
  | { kind: 'recording'; since: number }
  | { kind: 'ending' }
  | { kind: 'look'; file: File; address: string; note: string | null }

/** Recording from a camera: choose, check, count down, stop, look, keep or retake. */
export function RecordPage() {
  const navigate = useNavigate()
  const video = useRef<HTMLVideoElement>(null)
  const recorder = useRef<Recorder | null>(null)
  const [cameras, setCameras] = useState<Camera[]>([PRACTICE_CAMERA])
  const [camera, setCamera] = useState<Camera | null>(null)
  const [size, setSize] = useState(SIZES[1])
  const [rate, setRate] = useState(30)
  const [track, setTrack] = useState<MediaStreamTrack | null>(null)
  const [failure, setFailure] = useState<string | null>(null)
  const [stage, setStage] = useState<Stage>({ kind: 'ready' })
  const [grid, setGrid] = useState(true)
  const [busy, setBusy] = useState(false)
  /** Width of the camera's picture over its height. */
  const [shape, setShape] = useState(16 / 9)
  const isLive = stage.kind !== 'look'
  // While it records, the machine has enough to do.
  const checks = useChecks(video, stage.kind === 'ready' && track !== null)

  useEffect(() => {
    void listCameras().then((found) => {
      setCameras(found)
      // Without a device the practice camera is the one; a real one is opened when a person chooses it.
      if (found.length === 1) setCamera(found[0])
    })
  }, [])

  useEffect(() => {
    if (!camera) return
    let dropped = false
    let opened: MediaStreamTrack | null = null
    setFailure(null)
    openCamera(camera, { width: size.width, height: size.height, rate })
      .then(async (track) => {
        opened = track
        if (dropped) {
          track.stop()
          return
        }
        setTrack(track)
        // Names of cameras are told only once one may be used.
        setCameras(await listCameras())
      })
      .catch((error: Error) => {
        if (!dropped) setFailure(error.message)
      })
    return () => {
      dropped = true
      opened?.stop()
      setTrack(null)
    }
  }, [camera, size, rate])

  // biome-ignore lint/correctness/useExhaustiveDependencies: the picture is put back when it shows live again
  useEffect(() => {
    if (!video.current || !track) return
    video.current.srcObject = new MediaStream([track])
    void video.current.play().catch(() => {})
  }, [track, isLive])

  const stop = useCallback(async (note: string | null = null) => {
    const running = recorder.current
    if (!running) return
    recorder.current = null
    setStage({ kind: 'ending' })
    try {
      const file = await running.stop()
      setStage({ kind: 'look', file, address: URL.createObjectURL(file), note })
    } catch (error) {
      setFailure((error as Error).message)
      setStage({ kind: 'ready' })
    }
  }, [])

  const start = useCallback(async () => {
    if (!track) return
    try {
      const today = new Date().toLocaleDateString('en-GB', { day: 'numeric', month: 'long' })
      recorder.current = await record(track, `Recording of ${today}`)
      setStage({ kind: 'recording', since: performance.now() })
    } catch (error) {
      setFailure((error as Error).message)
      setStage({ kind: 'ready' })
    }
  }, [track])

  useEffect(() => {
    if (!track) return
    const ended = () => {
      setTrack(null)
      if (recorder.current)
        void stop('The camera was unplugged or taken away. What was recorded until then is here.')
      else setFailure('The camera was unplugged or taken away. Choose it again once it is back.')
    }
    track.addEventListener('ended', ended)
    return () => track.removeEventListener('ended', ended)
  }, [track, stop])

  useEffect(() => {
    if (stage.kind !== 'counting') return
    const timer = setTimeout(() => {
      if (stage.left > 1) setStage({ kind: 'counting', left: stage.left - 1 })
      else void start()
    }, 1000)
    return () => clearTimeout(timer)
  }, [stage, start])

  useEffect(() => {
    if (stage.kind !== 'look') return
    return () => URL.revokeObjectURL(stage.address)
  }, [stage])
  // Leaving the page ends a recording that nobody looks at any more.
  useEffect(() => () => void recorder.current?.cancel().catch(() => {}), [])

  const keep = async (file: File) => {
    setBusy(true)
    setFailure(null)
    try {
      prefetchWorkbench()
      const id = await createFromFile(file)
      void listsChanged()
      navigate(`/investigations/${id}`)
    } catch (error) {
      setFailure((error as Error).message)
      setBusy(false)
    }
  }

  return (
    <Flex direction="column" height="100dvh">
      <PageHeader title="Record">
        <Link to="/film-it-well">Film it well</Link>
      </PageHeader>
      <Flex flex="1" minHeight="0" direction={{ base: 'column', lg: 'row' }}>
        <Box position="relative" flex="1" minHeight="0" bg="stage" data-record={stage.kind}>
          {stage.kind === 'look' ? (
            <video
              key="look"
              src={stage.address}
              controls
              autoPlay
              loop
              muted
              playsInline
              style={{ width: '100%', height: '100%', objectFit: 'contain' }}
            />
          ) : (
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
                  key="live"
                  ref={video}
                  muted
                  playsInline
                  onResize={(event) => {
                    const { videoWidth, videoHeight } = event.currentTarget
                    if (videoHeight > 0) setShape(videoWidth / videoHeight)
                  }}
                  style={{ width: '100%', height: '100%', objectFit: 'contain' }}
                />
                {track && grid && <Guides />}
              </Box>
              {stage.kind === 'counting' && <Countdown left={stage.left} />}
              {stage.kind === 'recording' && <Clock since={stage.since} stop={() => void stop()} />}
            </Flex>
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
            <Stack gap="3">
              <Text fontWeight="600">Is the whole motion in it?</Text>
              {stage.note && <Text role="status">{stage.note}</Text>}
              <Text color="ink.muted">
                {withUnit(fixed(stage.file.size / 1e6, 1), 'MB')}. Keep it to measure it, or film it again.
              </Text>
              <HStack>
                <Button colorPalette="brand" loading={busy} onClick={() => void keep(stage.file)}>
                  Keep
                </Button>
                <Button variant="outline" disabled={busy} onClick={() => setStage({ kind: 'ready' })}>
                  Retake
                </Button>
              </HStack>
            </Stack>
          ) : (
            <>
              {!camerasAllowed() && (
                <Text color="ink.muted">
                  Browsers allow cameras on secure addresses only (https, or this machine). The practice
                  camera works here, too.
                </Text>
              )}
              <Select
                label="Camera"
                value={camera?.id ?? ''}
                disabled={stage.kind !== 'ready'}
                choices={[
                  ...(camera ? [] : [{ value: '', name: 'Choose …' }]),
                  ...cameras.map(({ id, name }) => ({ value: id, name })),
                ]}
                onChange={(id) => setCamera(cameras.find((candidate) => candidate.id === id) ?? null)}
              />
              <HStack align="start">
                <Select
                  label="Picture"
                  value={size.name}
                  disabled={stage.kind !== 'ready' || camera?.id === PRACTICE_CAMERA.id}
                  choices={SIZES.map(({ name }) => ({ value: name, name }))}
                  onChange={(name) => setSize(SIZES.find((candidate) => candidate.name === name)!)}
                />
                <Select
                  label="Frames a second"
                  value={String(rate)}
                  disabled={stage.kind !== 'ready'}
                  choices={RATES.map((value) => ({ value: String(value), name: String(value) }))}
                  onChange={(value) => setRate(Number(value))}
                />
              </HStack>
              {track && <Given track={track} />}
              <Checkbox.Root
                checked={grid}
                onCheckedChange={({ checked }) => setGrid(checked === true)}
                colorPalette="brand"
              >
                <Checkbox.HiddenInput />
                <Checkbox.Control />
                <Checkbox.Label>Level line and grid</Checkbox.Label>
              </Checkbox.Root>
              {checks && <ShownChecks checks={checks} />}
              {stage.kind === 'recording' || stage.kind === 'ending' ? (
                <Button
                  size="lg"
                  colorPalette="red"
                  loading={stage.kind === 'ending'}
                  onClick={() => void stop()}
                >
                  <Square size={16} fill="currentColor" /> Stop
                </Button>
              ) : (
                <Button
                  size="lg"
                  colorPalette="brand"
                  disabled={!track || stage.kind === 'counting'}
                  onClick={() => setStage({ kind: 'counting', left: COUNTDOWN })}
                >
                  <Circle size={16} fill="currentColor" /> Record
                </Button>
              )}
              {stage.kind === 'counting' && (
                <Button variant="outline" onClick={() => setStage({ kind: 'ready' })}>
                  Cancel
                </Button>
              )}
            </>
          )}
        </Stack>
      </Flex>
    </Flex>
  )
}
