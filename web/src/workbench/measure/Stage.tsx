import type { Point } from '@apokinema/core/geometry'
import { pictureSize } from '@apokinema/core/investigation'
import { sceneOf } from '@apokinema/core/motion'
import { fixed, significant, withUnit } from '@apokinema/core/units'
import { Box, Center, Flex, Text } from '@chakra-ui/react'
import {
  type MutableRefObject,
  type PointerEvent,
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useSyncExternalStore,
} from 'react'
import { Loading } from '../../common/states.tsx'
import { useSize } from '../../common/useSize.ts'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { drawTurned } from '../../footage/clip.ts'
import type { Pictures } from '../../footage/pictures.ts'
import { activeBody, clickAt, finishLine, moveTo } from '../actions.ts'
import { useClip, useClock, usePicture } from '../ClipContext.tsx'
import { useLook } from '../look.ts'
import { type Mode, type Selection, useWorkbench, type View, workbench } from '../workbenchStore.ts'
import { Band } from './Band.tsx'
import { Conversion } from './Conversion.tsx'
import { holdAt } from './holdAt.ts'
import { Loupe } from './Loupe.tsx'
import { Overlay } from './Overlay.tsx'

/** Modes in which a line is drawn from one end to the other. */
function drawsLine(mode: Mode): mode is Extract<Mode, { first: Point | null }> {
  return 'first' in mode
}

/** Smallest and largest zoom, as a share of one screen pixel a picture pixel. */
const ZOOM = { least: 0.25, most: 16 }
/** A pointer that moved less than this, in CSS pixels, clicked. */
const CLICK_REACH = 4

/** The view that shows the whole picture as large as fits. */
export function fitView(
  stage: { width: number; height: number },
  picture: { width: number; height: number },
): View {
  const zoom = Math.max(1e-3, Math.min(stage.width / picture.width, stage.height / picture.height))
  return { zoom, x: (stage.width - picture.width * zoom) / 2, y: (stage.height - picture.height * zoom) / 2 }
}

interface Press {
  pointer: number
  /** Where it began, on the stage and in the picture. */
  start: Point
  at: Point
  moved: boolean
  frame: number
  drags: Selection | null
  pans: View | null
}

/** The video with everything on it, and all that a pointer does there. */
export function Stage({ zoomRef }: { zoomRef: MutableRefObject<(factor: number) => void> }) {
  const session = useSession()
  const investigation = useInvestigation()
  const { clip } = useClip()
  const { picture, trouble } = usePicture()
  const holder = useRef<HTMLDivElement>(null)
  const canvas = useRef<HTMLCanvasElement>(null)
  const press = useRef<Press | null>(null)
  const pinch = useRef<Map<number, Point>>(new Map())
  const size = useSize(holder)
  const chosenView = useWorkbench((state) => state.view)
  const mode = useWorkbench((state) => state.mode)
  const chosenBody = useWorkbench((state) => state.body)
  const { filter } = useLook()
  const { footage, orientation } = investigation
  const { width: wide, height: high } = pictureSize(investigation)
  const view = useMemo(
    () => chosenView ?? fitView(size, { width: wide, height: high }),
    [chosenView, size, wide, high],
  )
  const body = activeBody(investigation, chosenBody)

  useEffect(() => {
    const target = canvas.current
    if (!target || !picture || !clip || size.width === 0) return
    const density = window.devicePixelRatio || 1
    const [across, down] = [size.width, size.height].map((length) => Math.round(length * density))
    if (target.width !== across) target.width = across
    if (target.height !== down) target.height = down
    const context = target.getContext('2d')!
    context.setTransform(1, 0, 0, 1, 0, 0)
    context.clearRect(0, 0, across, down)
    context.setTransform(density * view.zoom, 0, 0, density * view.zoom, density * view.x, density * view.y)
    context.imageSmoothingEnabled = view.zoom < 4
    drawTurned(context, picture.image, orientation)
    target.dataset.frame = String(picture.index)
  }, [picture, clip, size, view, orientation])

  const zoomAround = useCallback(
    (factor: number, around: Point) => {
      // A picture so large that even a quarter of it does not fit can still be seen whole.
      const least = Math.min(ZOOM.least, fitView(size, { width: wide, height: high }).zoom)
      const zoom = Math.min(ZOOM.most, Math.max(least, view.zoom * factor))
      const grow = zoom / view.zoom
      workbench.setView({
        zoom,
        x: around.x - (around.x - view.x) * grow,
        y: around.y - (around.y - view.y) * grow,
      })
    },
    [view, size, wide, high],
  )
  zoomRef.current = (factor) => zoomAround(factor, { x: size.width / 2, y: size.height / 2 })

  useEffect(() => {
    const target = holder.current
    if (!target) return
    const onWheel = (event: WheelEvent) => {
      event.preventDefault()
      const box = target.getBoundingClientRect()
      const step = event.deltaMode === 1 ? event.deltaY * 16 : event.deltaY
      zoomAround(Math.exp(-step / 400), { x: event.clientX - box.left, y: event.clientY - box.top })
    }
    target.addEventListener('wheel', onWheel, { passive: false })
    return () => target.removeEventListener('wheel', onWheel)
  }, [zoomAround])

  const onStage = (event: PointerEvent): Point => {
    const box = holder.current!.getBoundingClientRect()
    return { x: event.clientX - box.left, y: event.clientY - box.top }
  }
  const inPicture = ({ x, y }: Point): Point => ({ x: (x - view.x) / view.zoom, y: (y - view.y) / view.zoom })

  const onPointerDown = (event: PointerEvent) => {
    if (!footage || !picture || event.button > 1) return
    const start = onStage(event)
    pinch.current.set(event.pointerId, start)
    if (pinch.current.size > 1) {
      press.current = null
      workbench.drag(null)
      session.preview(null)
      return
    }
    holder.current!.setPointerCapture(event.pointerId)
    const at = inPicture(start)
    const reach = (event.pointerType === 'touch' ? 22 : 11) / view.zoom
    const hit =
      mode.kind === 'select' && event.button === 0
        ? holdAt(investigation, at, reach, picture.index, body)
        : null
    press.current = {
      pointer: event.pointerId,
      start,
      at,
      moved: false,
      frame: picture.index,
      drags: hit,
      pans: hit ? null : view,
    }
    workbench.setReticle(at)
    if (mode.kind === 'select' && event.button === 0) {
      workbench.select(hit)
      if (hit?.kind === 'mark') workbench.goTo(hit.frame)
    }
  }

  const onPointerMove = (event: PointerEvent) => {
    const here = onStage(event)
    const at = inPicture(here)
    const other = [...pinch.current].find(([id]) => id !== event.pointerId)?.[1]
    const before = pinch.current.get(event.pointerId)
    if (before && other) {
      const was = Math.hypot(before.x - other.x, before.y - other.y)
      const is = Math.hypot(here.x - other.x, here.y - other.y)
      if (was > 0) zoomAround(is / was, { x: (here.x + other.x) / 2, y: (here.y + other.y) / 2 })
      pinch.current.set(event.pointerId, here)
      return
    }
    if (before) pinch.current.set(event.pointerId, here)
    workbench.setReticle(at)
    const held = press.current
    if (!held) return
    if (!held.moved && Math.hypot(here.x - held.start.x, here.y - held.start.y) < CLICK_REACH) return
    held.moved = true
    if (held.drags) {
      const move = moveTo(session, held.drags, at)
      if (move) session.preview(move.recipe)
      workbench.drag(at)
    } else if (drawsLine(mode)) {
      if (!mode.first) workbench.enter({ ...mode, first: held.at })
    } else if (held.pans) {
      workbench.setView({
        ...held.pans,
        x: held.pans.x + here.x - held.start.x,
        y: held.pans.y + here.y - held.start.y,
      })
    }
  }

  const onPointerUp = (event: PointerEvent) => {
    pinch.current.delete(event.pointerId)
    const held = press.current
    press.current = null
    workbench.drag(null)
    if (!held || held.pointer !== event.pointerId) return
    const at = inPicture(onStage(event))
    if (held.drags) {
      const move = held.moved ? moveTo(session, held.drags, at) : null
      if (move) session.edit(move.label, move.recipe)
      else session.preview(null)
    } else if (!held.moved) {
      if (event.button === 0) clickAt(session, held.at, held.frame)
    } else if (drawsLine(mode)) finishLine(session, held.at, at)
  }

  const onPointerCancel = (event: PointerEvent) => {
    pinch.current.delete(event.pointerId)
    press.current = null
    workbench.drag(null)
    session.preview(null)
  }

  return (
    <Flex direction="column" height="100%">
      <Box
        ref={holder}
        position="relative"
        flex="1"
        minHeight="0"
        overflow="hidden"
        touchAction="none"
        cursor={mode.kind === 'select' ? 'default' : 'crosshair'}
        onPointerDown={onPointerDown}
        onPointerMove={onPointerMove}
        onPointerUp={onPointerUp}
        onPointerCancel={onPointerCancel}
        onPointerLeave={() => {
          if (!press.current) workbench.setReticle(null)
        }}
        data-stage
      >
        <canvas
          ref={canvas}
          data-picture
          style={{ position: 'absolute', inset: 0, width: '100%', height: '100%', filter }}
        />
        {footage && picture && size.width > 0 && (
          <Overlay size={size} view={view} frame={picture.index} body={body} />
        )}
        {footage && picture && clip && <Loupe picture={picture} view={view} stage={size} />}
        {footage && <Band />}
        {clip && <Kept pictures={clip.pictures()} />}
        {!footage && <Conversion />}
        {footage && !picture && !trouble && (
          <Box height="100%" css={{ '& *': { color: 'white' } }}>
            <Loading text="Opening the video …" />
          </Box>
        )}
        {trouble && (
          <Center position="absolute" inset="0" padding="8" pointerEvents="none">
            <Text
              role="alert"
              color="white"
              bg="blackAlpha.700"
              padding="4"
              borderRadius="8px"
              maxWidth="32rem"
            >
              {trouble} Your marks and settings are safe.
            </Text>
          </Center>
        )}
      </Box>
      <StatusLine zoom={view.zoom} />
    </Flex>
  )
}

/** Tells measurements how many bytes of pictures are kept; shows nothing. */
function Kept({ pictures }: { pictures: Pictures }) {
  useSyncExternalStore(pictures.subscribe, pictures.version)
  return <span hidden data-kept={pictures.bytes} />
}

/** One line: frame, time, pointer in scene units, zoom. */
function StatusLine({ zoom }: { zoom: number }) {
  const investigation = useInvestigation()
  const clock = useClock()
  const frame = useWorkbench((state) => state.frame)
  const reticle = useWorkbench((state) => state.reticle)
  const scene = useMemo(() => sceneOf(investigation), [investigation])
  if (!clock) return null
  const at = reticle ? scene.toScene(reticle) : null
  const unit = scene.length
  const length = (value: number) => (unit === 'm' ? fixed(value, 3) : significant(value, 4))
  return (
    <Flex
      flex="none"
      height="7"
      align="center"
      gap="4"
      paddingX="4"
      bg="stage"
      color="whiteAlpha.800"
      fontFamily="mono"
      fontSize="13px"
      whiteSpace="nowrap"
      overflow="hidden"
    >
      <Text>
        frame <b>{frame}</b>
      </Text>
      <Text color="#F0C063">t {withUnit(fixed(clock.seconds[frame] - clock.zero, 4), 's')}</Text>
      {at && (
        <Text>
          pointer x {length(at.x)} y {withUnit(length(at.y), unit)}
        </Text>
      )}
      <Box flex="1" />
      <Text>zoom {Math.round(zoom * 100)} %</Text>
    </Flex>
  )
}
