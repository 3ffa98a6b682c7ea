/** Bar-coded test clips: every picture says its own frame number, so that what is shown can be held against what was asked. */

export const CLIP_WIDTH = 320
export const CLIP_HEIGHT = 180
export const CLIP_FRAMES = 300
/** Number of bars; bar b is white where bit b of the frame number is set. */
export const BITS = 10

export interface Clip {
  file: string
  rate: number
  timescale: number
  uneven: boolean
  codec: string
}

export const CLIPS: Clip[] = [
  {
    file: 'uneven-b-frames-gop250.mp4',
    rate: 60,
    timescale: 90000,
    uneven: true,
    codec:
      '-c:v libx264 -preset medium -crf 20 -g 250 -keyint_min 250 -sc_threshold 0 -bf 3 -x264-params b-pyramid=normal',
  },
  {
    file: 'even-gop30.mov',
    rate: 30,
    timescale: 30000,
    uneven: false,
    codec: '-c:v libx264 -crf 20 -g 30 -bf 0',
  },
  {
    file: 'milliseconds.webm',
    rate: 60,
    timescale: 1000,
    uneven: false,
    codec: '-c:v libvpx-vp9 -crf 24 -b:v 0 -g 120',
  },
]

/** Tick of a frame in an uneven clip: between 1000 and 2000 ticks of 1/90000 s apart. Also an expression for ffmpeg's setpts. */
export function clipTick(clip: Clip, frame: number): number
export function clipTick(clip: Clip, frame: 'N'): string
export function clipTick(clip: Clip, frame: number | 'N'): number | string {
  const step = clip.timescale / clip.rate
  if (frame === 'N') return `N*${step}+mod(N*7919\\,499)`
  return clip.uneven ? frame * step + ((frame * 7919) % 499) : frame * step
}

/** Returns one picture, gray, that says its frame number in bars; below them something moves, so that there is something to predict. */
export function barCode(frame: number): Buffer {
  const gray = Buffer.alloc(CLIP_WIDTH * CLIP_HEIGHT, 128)
  const block = CLIP_WIDTH / BITS
  for (let y = 0; y < CLIP_HEIGHT; y++)
    for (let x = 0; x < CLIP_WIDTH; x++) {
      const bit = Math.floor(x / block)
      const inBar = y < CLIP_HEIGHT * 0.6
      gray[y * CLIP_WIDTH + x] = inBar ? ((frame >> bit) & 1 ? 235 : 20) : (x * 2 + frame * 5 + y) & 255
    }
  return gray
}
