import {
  backgroundShift,
  type Difference,
  differenceOf,
  edgeWidth,
  type Light,
  type Luma,
  lightOf,
  lumaOfColours,
  SURVEY_WIDTH,
  shrink,
} from '@apokinema/core/survey'
import { median } from '@apokinema/core/time'
import * as Comlink from 'comlink'
import { VideoSampleSink } from 'mediabunny'
import { openClip } from './facts.ts'

/** What the pictures of a clip say by themselves. */
export interface Survey {
  /** Of every frame from the one before; the first frame's says nothing. */
  differences: Difference[]
  /** Root mean square of the background's shift against the first frame, in picture pixels; null: can't be told. */
  shake: number | null
  light: Light
  /** Width of the sharpest edges in picture pixels; NaN: can't be told. */
  edge: number
}

/** So many frames are looked at at most: a minute or two of film. */
const MOST_FRAMES = 4000
/** Pictures that are looked at closely, spread over the clip. */
const CLOSE_LOOKS = 12

let heldUntil = 0

/** Formats whose first plane is brightness, a byte a pixel. */
const PLAIN = /^(I420|I420A|I422|I444|NV12)$/

/** Brightness of a frame: whole, where it is asked for, and small. */
async function lumaOf(frame: VideoFrame, whole: boolean): Promise<{ small: Luma; whole: Luma | null }> {
  const { width, height } = frame.visibleRect!
  const factor = Math.max(1, Math.round(width / SURVEY_WIDTH))
  if (frame.format && PLAIN.test(frame.format)) {
    const bytes = new Uint8Array(frame.allocationSize())
    const [{ offset, stride }] = await frame.copyTo(bytes)
    const plane = bytes.subarray(offset)
    return {
      small: shrink(plane, stride, { width, height }, factor),
      whole: whole ? shrink(plane, stride, { width, height }, 1) : null,
    }
  }
  const drawn = (by: number): Luma => {
    const [w, h] = [Math.max(1, Math.floor(width / by)), Math.max(1, Math.floor(height / by))]
    const canvas = new OffscreenCanvas(w, h)
    const context = canvas.getContext('2d', { willReadFrequently: true })!
    context.drawImage(frame, 0, 0, w, h)
    return lumaOfColours(context.getImageData(0, 0, w, h).data, w, h)
  }
  return { small: drawn(factor), whole: whole ? drawn(1) : null }
}

const surveyor = {
  /** Looks at a clip frame by frame; tells its progress from 0 to 1. */
  async survey(from: Blob | string, tell: (share: number) => void): Promise<Survey> {
    const { track, seconds, facts, input } = await openClip(from)
    const count = Math.min(seconds.length, MOST_FRAMES)
    const every = Math.max(1, Math.floor(count / CLOSE_LOOKS))
    const differences: Difference[] = []
    const shifts: number[] = []
    const lights: Light[] = []
    const edges: number[] = []
    let first: Luma | null = null
    let before: Luma | null = null
    let told = 0
    for await (const sample of new VideoSampleSink(track).samples(seconds[0])) {
      const at = differences.length
      const close = at % every === 0
      const frame = sample.toVideoFrame()
      sample.close()
      const { small, whole } = await lumaOf(frame, close).finally(() => frame.close())
      differences.push(differenceOf(before ?? small, small))
      before = small
      first ??= small
      if (close) {
        lights.push(lightOf(small))
        edges.push(edgeWidth(whole!))
        const shift = backgroundShift(first, small)
        if (shift) shifts.push(Math.hypot(shift.x, shift.y) * (facts.width / small.width))
      }
      if (differences.length >= count) break
      if (performance.now() - told > 200) {
        told = performance.now()
        tell(differences.length / count)
      }
      // Whoever steps through the film has the machine to himself.
      while (performance.now() < heldUntil) await new Promise((resolve) => setTimeout(resolve, 100))
    }
    input.dispose()
    const mean = (values: number[]) => values.reduce((sum, value) => sum + value, 0) / values.length
    const measured = edges.filter(Number.isFinite)
    return {
      differences,
      shake: shifts.length > lights.length / 2 ? Math.sqrt(mean(shifts.map((shift) => shift * shift))) : null,
      light: {
        mean: mean(lights.map((light) => light.mean)),
        dark: mean(lights.map((light) => light.dark)),
        bright: mean(lights.map((light) => light.bright)),
      },
      edge: measured.length > 0 ? median(measured) : Number.NaN,
    }
  },

  /** Rests for so many milliseconds. */
  hold(milliseconds: number): void {
    heldUntil = performance.now() + milliseconds
  },
}

export type Surveyor = typeof surveyor

Comlink.expose(surveyor)
