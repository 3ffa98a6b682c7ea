import type { Point } from '@apokinema/core/geometry'
import { pictureSize } from '@apokinema/core/investigation'
import { Box, Flex } from '@chakra-ui/react'
import {
  type MutableRefObject,
  memo,
  type RefObject,
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useSyncExternalStore,
} from 'react'
import { useSize } from '../../common/useSize.ts'
import { Deferred, useInvestigation } from '../../document/SessionContext.tsx'
import type { Pictures } from '../../footage/pictures.ts'
import { useLook } from '../../theme/appearance.ts'
import { useClip } from '../ClipContext.tsx'
import { MarksCanvas } from '../MarksCanvas.tsx'
import { PictureCanvas } from '../PictureCanvas.tsx'
import { useWorkbench, type View, workbench } from '../workbenchStore.ts'
import { Band } from './Band.tsx'
import { Conversion } from './Conversion.tsx'
import { GhostChip } from './GhostChip.tsx'
import { Loupe } from './Loupe.tsx'
import { Overlay } from './overlay/Overlay.tsx'
import { StatusLine } from './StatusLine.tsx'
import { useStagePointer } from './useStagePointer.ts'
import { Waiting } from './Waiting.tsx'

/** Limits of the zoom, in screen pixels per picture pixel. */
const ZOOM = { least: 0.25, most: 16 }

/** Space above the picture for a line of text at its usual size, so that it covers nothing that is to be clicked. */
const BAND_ROOM = 37

/** Returns the view that shows the whole picture as large as possible, below a margin in pixels. */
function fitView(
  stage: { width: number; height: number },
  picture: { width: number; height: number },
  above = 0,
): View {
  const high = stage.height - above
  const zoom = Math.max(1e-3, Math.min(stage.width / picture.width, high / picture.height))
  return {
    zoom,
    x: (stage.width - picture.width * zoom) / 2,
    y: above + (high - picture.height * zoom) / 2,
  }
}

/** The video with its overlays. Only parts that show the frame render with a step. */
export const Stage = memo(function Stage({
  zoomRef,
}: {
  zoomRef: MutableRefObject<(factor: number) => void>
}) {
  const hasFootage = useInvestigation((now) => now.footage !== null)
  const above = BAND_ROOM * useLook().type
  const wide = useInvestigation((now) => pictureSize(now).width)
  const high = useInvestigation((now) => pictureSize(now).height)
  const { clip } = useClip()
  const holder = useRef<HTMLDivElement>(null)
  const size = useSize(holder)
  const chosenView = useWorkbench((state) => state.view)
  const mode = useWorkbench((state) => state.mode)
  const isDragging = useWorkbench((state) => state.dragged !== null)
  const isShown = useWorkbench((state) => state.shown !== null)
  const view = useMemo(
    () => chosenView ?? fitView(size, { width: wide, height: high }, above),
    [chosenView, size, wide, high, above],
  )

  const zoomAround = useCallback(
    (factor: number, around: Point) => {
      // A picture of which even a quarter does not fit can still be shown whole.
      const least = Math.min(ZOOM.least, fitView(size, { width: wide, height: high }, above).zoom)
      const zoom = Math.min(ZOOM.most, Math.max(least, view.zoom * factor))
      const grow = zoom / view.zoom
      workbench.setView({
        zoom,
        x: around.x - (around.x - view.x) * grow,
        y: around.y - (around.y - view.y) * grow,
      })
    },
    [view, size, wide, high, above],
  )
  zoomRef.current = (factor) => zoomAround(factor, { x: size.width / 2, y: size.height / 2 })
  const hands = useStagePointer(holder, view, zoomAround)

  // While pixels are looked at, zoomed in or through the loupe, the picture has the footage's full resolution.
  useEffect(() => {
    if (!clip) return
    const pictures = clip.pictures()
    const drawn = view.zoom * clip.facts.width * (window.devicePixelRatio || 1)
    pictures.showDetails(drawn > 1.1 * pictures.width || mode.kind !== 'select' || isDragging)
  }, [clip, view.zoom, mode.kind, isDragging])

  useWheelZoom(holder, zoomAround)

  return (
    <Flex direction="column" height="100%">
      <Box
        ref={holder}
        position="relative"
        flex="1"
        minHeight="0"
        overflow="hidden"
        touchAction="none"
        userSelect="none"
        cursor={mode.kind === 'select' ? 'default' : 'crosshair'}
        {...hands}
        // The browser would take the pointer for a drag of its own.
        onDragStart={(event) => event.preventDefault()}
        data-stage
      >
        <PictureCanvas size={size} view={view} />
        {hasFootage && isShown && size.width > 0 && (
          <>
            <Overlay size={size} view={view} />
            <MarksCanvas size={size} view={view} />
            <Loupe view={view} stage={size} />
            <GhostChip view={view} stage={size} />
          </>
        )}
        <Deferred>{hasFootage && <Band />}</Deferred>
        {clip && <Kept pictures={clip.pictures()} />}
        {!hasFootage && <Conversion />}
        {hasFootage && <Waiting />}
      </Box>
      <StatusLine zoom={view.zoom} />
    </Flex>
  )
})

/** Zooms with the wheel around the pointer. */
function useWheelZoom(
  holder: RefObject<HTMLElement | null>,
  zoomAround: (factor: number, around: Point) => void,
): void {
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
  }, [holder, zoomAround])
}

/** Publishes the bytes of cached pictures for benchmarks; shows nothing. */
function Kept({ pictures }: { pictures: Pictures }) {
  useSyncExternalStore(pictures.subscribe, pictures.version)
  return <span hidden data-kept={pictures.bytes} data-stills={pictures.stillCount} />
}
