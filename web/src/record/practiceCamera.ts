/**
 * The practice camera, which needs no device. It films the harbour fair's crane, which drops a
 * pebble every few seconds in front of a tide staff of 1.60 m, with g = 9.81 m/s² in real time, so that
 * everything from recording to the reading can be taught and tried.
 */

/** True values of the scene, in pixels of its picture and in SI; the background is painted to scale. */
const PRACTICE = {
  width: 360,
  height: 640,
  pixelsPerMetre: 280,
  /** Where the pebble is released. */
  start: { x: 500 / 3, y: 256 / 3 },
  drop: 1.72,
  g: 9.81,
  staff: { length: 1.6 },
} as const

const RADIUS = 10
/** Seconds of one cycle: the gripper holds, the pebble falls and lies, then the next one hangs there. */
const ROUND = 3.6
const HOLD = 1.3
const FALL = Math.sqrt((2 * PRACTICE.drop) / PRACTICE.g)
/** Number of instants that make up one exposure, and the exposure time as a share of the frame's time. */
const EXPOSURES = 4
const SHUTTER = 0.4

/** Returns the distance that the pebble has fallen at a time, in metres; 0 before its release. */
function pebbleDrop(time: number): number {
  const falling = Math.min(FALL, Math.max(0, (time % ROUND) - HOLD))
  return (PRACTICE.g / 2) * falling ** 2
}

type Painter = CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D

function paintPebble(context: Painter, time: number): void {
  const { start, pixelsPerMetre } = PRACTICE
  const y = start.y + pixelsPerMetre * pebbleDrop(time)
  const stone = context.createRadialGradient(start.x - 4, y - 4, 1, start.x, y, RADIUS)
  stone.addColorStop(0, '#5a6b7c')
  stone.addColorStop(1, '#141c26')
  context.fillStyle = stone
  context.beginPath()
  context.arc(start.x, y, RADIUS, 0, 7)
  context.fill()
}

function paintGripper(context: Painter, time: number): void {
  const { x, y } = PRACTICE.start
  const open = Math.min(1, Math.max(0, ((time % ROUND) - HOLD) / 0.05))
  context.strokeStyle = '#3a4148'
  context.lineCap = 'round'
  context.lineWidth = 5
  for (const side of [-1, 1]) {
    context.beginPath()
    context.moveTo(x, y - 39)
    context.lineTo(x + side * (15 + 10 * open), y - 20)
    context.lineTo(x + side * (10 + 10 * open), y + 1)
    context.stroke()
  }
  context.lineWidth = 2
  context.beginPath()
  context.moveTo(x, 0)
  context.lineTo(x, y - 39)
  context.stroke()
}

/** The vertical band in which something moves. */
const MOVING = { left: 132, width: 70, height: PRACTICE.height }

/** State of an exposure. */
interface Studio {
  context: CanvasRenderingContext2D
  /** One instant of the exposure, of the moving part. */
  instant: OffscreenCanvas
  background: ImageBitmap
  grain: CanvasPattern
}

/** Paints the scene as one exposure around a time, with sensor noise. */
function expose({ context, instant, background, grain }: Studio, time: number, rate: number): void {
  const painter = instant.getContext('2d', { alpha: false })!
  const { left, width, height } = MOVING
  context.drawImage(background, 0, 0)
  // The next pebble appears at once at the end of a cycle: no exposure shows both.
  const begins = Math.floor(time / ROUND) * ROUND
  for (let k = 0; k < EXPOSURES; k++) {
    const instantAt = time + (SHUTTER / rate) * ((k + 0.5) / EXPOSURES - 0.5)
    const at = Math.min(begins + ROUND - 1e-6, Math.max(begins, instantAt))
    painter.drawImage(background, left, 0, width, height, 0, 0, width, height)
    painter.setTransform(1, 0, 0, 1, -left, 0)
    paintPebble(painter, at)
    paintGripper(painter, at)
    painter.setTransform(1, 0, 0, 1, 0, 0)
    // Layers with opacities 1, 1/2, 1/3 … give every instant the same weight in the exposure.
    context.globalAlpha = 1 / (k + 1)
    context.drawImage(instant, left, 0)
  }
  context.globalAlpha = 1
  context.save()
  context.translate(-Math.floor(Math.random() * 128), -Math.floor(Math.random() * 128))
  context.fillStyle = grain
  context.fillRect(0, 0, PRACTICE.width + 128, PRACTICE.height + 128)
  context.restore()
}

function grainPattern(context: CanvasRenderingContext2D): CanvasPattern {
  const tile = new OffscreenCanvas(128, 128)
  const painter = tile.getContext('2d')!
  const noise = painter.createImageData(128, 128)
  for (let i = 0; i < noise.data.length; i += 4) {
    const value = Math.random() < 0.5 ? 0 : 255
    noise.data.set([value, value, value, Math.random() * 12], i)
  }
  painter.putImageData(noise, 0, 0)
  return context.createPattern(tile, 'repeat')!
}

async function backgroundPicture(): Promise<ImageBitmap> {
  const answer = await fetch(new URL('./quay.jpg', import.meta.url))
  if (!answer.ok) throw new Error('The practice camera can’t be started. Reload the page.')
  // The picture is painted larger than a slow machine can film it.
  const { width, height } = PRACTICE
  return createImageBitmap(await answer.blob(), {
    resizeWidth: width,
    resizeHeight: height,
    resizeQuality: 'high',
  })
}

/** Returns a video track that films the crane until it is stopped. */
export async function openPracticeCamera(rate: number): Promise<MediaStreamTrack> {
  const background = await backgroundPicture()
  const canvas = document.createElement('canvas')
  canvas.width = PRACTICE.width
  canvas.height = PRACTICE.height
  const context = canvas.getContext('2d', { alpha: false })!
  const studio: Studio = {
    context,
    instant: new OffscreenCanvas(MOVING.width, MOVING.height),
    background,
    grain: grainPattern(context),
  }
  const began = performance.now()
  const film = (seconds: number) => expose(studio, seconds, rate)
  film(0)
  const { track, push } = trackOf(canvas, rate)
  let frame = 0
  const timer = setInterval(() => {
    if (track.readyState === 'ended') {
      clearInterval(timer)
      background.close()
      return
    }
    // Frames are taken by the camera's clock; one that comes too late is dropped, as by a real camera.
    const due = Math.floor(((performance.now() - began) / 1000) * rate)
    if (due <= frame) return
    frame = due
    film(frame / rate)
    push(frame / rate)
  }, 500 / rate)
  return track
}

interface Generator extends MediaStreamTrack {
  writable: WritableStream<VideoFrame>
}

/** Returns a track of a canvas: with the frames' own times if the browser supports that. */
function trackOf(
  canvas: HTMLCanvasElement,
  rate: number,
): { track: MediaStreamTrack; push: (seconds: number) => void } {
  const { MediaStreamTrackGenerator } = window as {
    MediaStreamTrackGenerator?: new (options: { kind: 'video' }) => Generator
  }
  if (!MediaStreamTrackGenerator) {
    const [track] = canvas.captureStream(rate).getVideoTracks()
    return { track, push: () => {} }
  }
  const track = new MediaStreamTrackGenerator({ kind: 'video' })
  const writer = track.writable.getWriter()
  const push = (seconds: number) => {
    const frame = new VideoFrame(canvas, { timestamp: Math.round(seconds * 1e6) })
    writer.write(frame).catch(() => frame.close())
  }
  return { track, push }
}
