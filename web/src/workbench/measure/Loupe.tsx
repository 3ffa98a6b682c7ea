import { analyse } from '@apokinema/core/analysis'
import { distance, type Point } from '@apokinema/core/geometry'
import type { Orientation } from '@apokinema/core/investigation'
import { expectedPlace } from '@apokinema/core/motion'
import { SNAP_REACH } from '@apokinema/core/pictures'
import { fixed } from '@apokinema/core/units'
import { Box } from '@chakra-ui/react'
import { useEffect, useMemo, useRef, useState } from 'react'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { drawTurned } from '../../footage/clip.ts'
import type { ClipFacts } from '../../footage/facts.ts'
import type { FollowNews } from '../../footage/follow/followTask.ts'
import { useClip, usePicture } from '../ClipContext.tsx'
import { useDisplayAdjustment } from '../displayAdjust.ts'
import { useFollowing } from '../following/followStore.ts'
import { settledMark, snappedEnd, useSnapping } from '../snapping.ts'
import { CHOSEN, ring } from '../strokes.ts'
import { useWorkbench, type View } from '../workbenchStore.ts'

const TIMES = 6
const SIZE = { width: 176, height: 150 }
const MARGIN = 14

/** Interval in milliseconds at which the template and the picture alternate. */
const FLICKER = 350

/** Returns alternating true and false while it is on; always true for people who prefer reduced motion. */
function useFlicker(isOn: boolean): boolean {
  const [is, set] = useState(true)
  useEffect(() => {
    if (!isOn || matchMedia('(prefers-reduced-motion: reduce)').matches) return
    const timer = setInterval(() => set((before) => !before), FLICKER)
    return () => clearInterval(timer)
  }, [isOn])
  return is
}

function drawMatch(
  context: CanvasRenderingContext2D,
  { plane, each }: NonNullable<FollowNews['matched']>,
  middle: Point,
  at: Point,
): void {
  const { x, y, width, height, data } = plane
  if (width === 0 || height === 0) return
  const picture = new ImageData(width, height)
  data.forEach((light, i) => {
    picture.data.set([light, light, light, 255], 4 * i)
  })
  const small = new OffscreenCanvas(width, height)
  small.getContext('2d')!.putImageData(picture, 0, 0)
  const [left, top] = [middle.x + TIMES * (x * each - at.x), middle.y + TIMES * (y * each - at.y)]
  context.drawImage(small, left, top, TIMES * each * width, TIMES * each * height)
}

function hint(context: CanvasRenderingContext2D, at: Point, radius: number, dash: number[]): void {
  context.setLineDash(dash)
  ring(context, at, radius, 3, 'rgba(16,24,26,0.55)')
  ring(context, at, radius, 1.2, 'rgba(255,255,255,0.85)')
  context.setLineDash([])
}

/** Draws a cross with a free middle, so that it never hides the spot, and a dot. */
function drawCross(context: CanvasRenderingContext2D, middle: Point): void {
  for (const [colour, width] of [
    ['#10181A', 3.5],
    ['#FFFFFF', 1.3],
  ] as const) {
    context.strokeStyle = colour
    context.lineWidth = width
    context.beginPath()
    for (const [dx, dy] of [
      [1, 0],
      [-1, 0],
      [0, 1],
      [0, -1],
    ]) {
      context.moveTo(middle.x + dx * 13, middle.y + dy * 13)
      context.lineTo(middle.x + dx * 42, middle.y + dy * 42)
    }
    context.stroke()
  }
  context.fillStyle = '#FFFFFF'
  context.fillRect(middle.x - 0.75, middle.y - 0.75, 1.5, 1.5)
}

/** What the loupe shows around a point `at` of the picture. */
interface LoupeContent {
  at: Point
  picture: ImageBitmap
  facts: ClipFacts
  orientation: Orientation
  /** The template where it was found, if it is to be drawn over the picture. */
  matched: FollowNews['matched'] | undefined
  place: ReturnType<typeof expectedPlace>
  /** Where the end that is placed would snap to, and the other end of its line. */
  snap: { at: Point; other: Point } | null
  /** Where the mark that is placed would settle. */
  settled: Point | null
}

function drawLoupe(
  canvas: HTMLCanvasElement,
  { at, picture, facts, orientation, matched, place, snap, settled }: LoupeContent,
): void {
  const density = window.devicePixelRatio || 1
  canvas.width = SIZE.width * density
  canvas.height = SIZE.height * density
  const context = canvas.getContext('2d')!
  const middle = { x: SIZE.width / 2, y: SIZE.height / 2 }
  context.setTransform(density, 0, 0, density, 0, 0)
  context.fillStyle = '#23282A'
  context.fillRect(0, 0, SIZE.width, SIZE.height)
  context.save()
  context.translate(middle.x - TIMES * at.x, middle.y - TIMES * at.y)
  context.scale(TIMES, TIMES)
  context.imageSmoothingEnabled = false
  drawTurned(context, picture, facts, orientation)
  context.restore()
  // Drawn alternately with the picture: where they differ, something jumps.
  if (matched) drawMatch(context, matched, middle, at)
  const inLoupe = (point: Point) => ({
    x: middle.x + TIMES * (point.x - at.x),
    y: middle.y + TIMES * (point.y - at.y),
  })
  if (place) {
    // The previous mark as a ring, and the expected position as a dashed ring: hints that leave the spot free.
    hint(context, inLoupe(place.last), 7, [])
    if (place.expected) hint(context, inLoupe(place.expected), 16, [5, 4])
  }
  drawCross(context, middle)
  if (snap) drawSnap(context, inLoupe(snap.at), inLoupe(snap.other))
  if (settled) {
    ring(context, inLoupe(settled), 6, 5, '#10181A')
    ring(context, inLoupe(settled), 6, 2.4, CHOSEN)
  }
}

/** Draws where an end snaps to: a stroke across its line. */
function drawSnap(context: CanvasRenderingContext2D, at: Point, other: Point): void {
  const length = Math.hypot(other.x - at.x, other.y - at.y)
  const [across, along] = [(other.x - at.x) / length, (other.y - at.y) / length]
  for (const [colour, width] of [
    ['#10181A', 5],
    [CHOSEN, 2.4],
  ] as const) {
    context.strokeStyle = colour
    context.lineWidth = width
    context.beginPath()
    context.moveTo(at.x - 22 * along, at.y + 22 * across)
    context.lineTo(at.x + 22 * along, at.y - 22 * across)
    context.stroke()
  }
}

/** Returns where the end of a reference length that is placed or dragged would snap to; null where it stays. */
function useSnap(at: Point | null, frame: number | null): LoupeContent['snap'] {
  const isOn = useSnapping(({ on }) => on)
  const mode = useWorkbench((state) => state.mode)
  const dragged = useWorkbench((state) => state.dragged)
  const selection = useWorkbench((state) => state.selection)
  const { references } = useInvestigation()
  return useMemo(() => {
    if (!isOn || !at || frame === null) return null
    const other =
      mode.kind === 'reference'
        ? mode.points[0]
        : dragged && selection?.kind === 'end'
          ? references[selection.reference]?.ends[selection.end === 0 ? 1 : 0]
          : undefined
    if (!other || distance(at, other) < 2 * SNAP_REACH) return null
    const snapped = snappedEnd({ ...at, frame }, other)
    return distance(snapped, at) > 0 ? { at: snapped, other } : null
  }, [isOn, at, frame, mode, dragged, selection, references])
}

/** Milliseconds for which the pointer rests before it is shown where a mark would settle. */
const SETTLE_AFTER = 60

/** Returns where a mark would settle that is placed at a point; null while the pointer moves, and where it stays. */
function useSettled(at: Point | null, frame: number | null): Point | null {
  const isOn = useSnapping(({ settles }) => settles)
  const isMarking = useWorkbench(({ mode }) => mode.kind === 'mark')
  const [settled, setSettled] = useState<Point | null>(null)
  useEffect(() => {
    setSettled(null)
    if (!isOn || !isMarking || !at || frame === null) return
    const timer = setTimeout(() => setSettled(settledMark(at, frame)), SETTLE_AFTER)
    return () => clearTimeout(timer)
  }, [isOn, isMarking, at, frame])
  return settled
}

/** The magnified view around the pointer while a point is placed or dragged; it avoids the pointer. */
export function Loupe({ view, stage }: { view: View; stage: { width: number; height: number } }) {
  const investigation = useInvestigation()
  const { orientation, bodies } = investigation
  const { filter } = useDisplayAdjustment()
  const { clip } = useClip()
  const { picture } = usePicture()
  const canvas = useRef<HTMLCanvasElement>(null)
  const mode = useWorkbench((state) => state.mode)
  const reticle = useWorkbench((state) => state.reticle)
  const dragged = useWorkbench((state) => state.dragged)
  const phase = useFollowing((state) => state.phase)
  const isGoing = mode.kind === 'follow' && phase !== 'waiting' && phase !== 'ready' && phase !== 'asking'
  // While a body is followed the loupe shows it, so that a slip is seen at once.
  const followed = isGoing && picture ? (bodies[mode.body]?.marks[picture.index] ?? null) : null
  const at = dragged ?? (mode.kind === 'select' ? null : isGoing ? followed : reticle)

  const shown = picture?.index ?? null
  const place = useMemo(
    () =>
      mode.kind === 'mark' && shown !== null
        ? expectedPlace(investigation, analyse(investigation).scene(), mode.body, shown)
        : null,
    [investigation, mode, shown],
  )

  const matched = useFollowing((state) => (state.news?.frame === shown ? state.news?.matched : null))
  const flicker = useFlicker(isGoing)

  const snap = useSnap(at, shown)
  const settled = useSettled(at, shown)

  useEffect(() => {
    const target = canvas.current
    if (!target || !at || !picture || !clip) return
    drawLoupe(target, {
      at,
      picture: picture.image,
      facts: clip.facts,
      orientation,
      matched: isGoing && flicker ? matched : null,
      place,
      snap,
      settled,
    })
  }, [at, picture, clip, orientation, place, snap, settled, isGoing, matched, flicker])

  if (!at) return null
  const onLeft =
    at.x * view.zoom + view.x > stage.width - SIZE.width - 90 && at.y * view.zoom + view.y < SIZE.height + 130
  return (
    <Box
      position="absolute"
      top="52px"
      {...(onLeft ? { left: `${MARGIN}px` } : { right: `${MARGIN}px` })}
      width={`${SIZE.width}px`}
      bg="panel"
      color="ink"
      borderRadius="10px"
      overflow="hidden"
      boxShadow="0 4px 18px rgba(0,0,0,0.4)"
      pointerEvents="none"
      data-loupe
    >
      <canvas ref={canvas} style={{ width: SIZE.width, height: SIZE.height, display: 'block', filter }} />
      <Where x={fixed(at.x, 1)} y={fixed(at.y, 1)} />
    </Box>
  )
}

/** A plain element: it changes with every move. */
function Where({ x, y }: { x: string; y: string }) {
  return (
    <div
      style={{
        padding: '6px 8px',
        fontFamily: "'JetBrains Mono Variable'",
        fontSize: 12,
        whiteSpace: 'nowrap',
      }}
    >
      {TIMES}× x {x} y {y} px
    </div>
  )
}
