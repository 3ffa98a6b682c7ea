import { roundOutline } from '@apokinema/core/following'
import type { Similarity } from '@apokinema/core/geometry'
import {
  backgroundShift,
  CameraFollower,
  type CameraSurvey,
  type Difference,
  differenceOf,
  edgeWidth,
  filmedMovers,
  type Light,
  type Luma,
  lightOf,
  proposedCamera,
  type SeenMover,
  type SmallPicture,
  seenMover,
  surveyFactor,
} from '@apokinema/core/survey'
import { median } from '@apokinema/core/time'
import * as Comlink from 'comlink'
import { type VideoSample, VideoSampleSink } from 'mediabunny'
import { type ClipFacts, type OpenClip, openClip } from './facts.ts'
import { Rest } from './rest.ts'
import { smallPictureOf, wholeLumaOf } from './smallPictures.ts'

/** Findings from the pictures of a clip alone. */
export interface Survey {
  /** Change of each frame from the one before; NaN for the first. */
  differences: Difference[]
  /** Motion of the camera; null if it can't be determined. */
  camera: CameraSurvey | null
  /** Root mean square of the background's shift against the first frame, in picture pixels; null if it can't be determined. */
  shake: number | null
  light: Light
  /** Width of the sharpest edges in picture pixels; NaN if it can't be determined. */
  edge: number
  /** What moves against the scene, the most convincing first. */
  movers: SeenMover[]
  /** Spots of the scene that a moving camera sees all the time, as movers that stand still in it; none if the camera stands still. */
  spots: SeenMover[]
}

/** Maximum number of frames surveyed: a minute or two of film. */
const MOST_FRAMES = 4000
/** Number of pictures that are analysed in detail, spread over the clip. */
const CLOSE_LOOKS = 12

/** Maximum number of pictures in which moving things are looked for: memory for them is a few MB each hundred. */
const MOST_PICTURES = 300
/** Share of the progress at which all frames are read, and what moves is looked for. */
const READ = 0.9

/** Width of a still in pixels, and the memory for all of them in bytes. */
const STILL_WIDTH = 720
const MOST_STILL_BYTES = 200e6
/** Number of frames to be decoded for a jump up to which stills are not needed. */
const QUICK_JUMP = 45

const rest = new Rest()

/** Returns true if a jump in a clip can require decoding many frames. */
function isSlowToJump({ keys, seconds }: OpenClip): boolean {
  return keys.some((key, i) => (keys[i + 1] ?? seconds.length) - key > QUICK_JUMP)
}

/** Returns a small JPEG of a decoded frame. */
function stillOf(sample: VideoSample, { facts }: OpenClip): Promise<Blob> {
  const width = Math.min(facts.width, STILL_WIDTH)
  const canvas = new OffscreenCanvas(width, Math.max(1, Math.round((width * facts.height) / facts.width)))
  sample.draw(canvas.getContext('2d', { alpha: false })!, 0, 0, canvas.width, canvas.height)
  return canvas.convertToBlob({ type: 'image/jpeg', quality: 0.8 })
}

/** Collects pictures of a clip, evenly spaced, and looks for what moves in them. */
class MoverSearch {
  private readonly pictures: SmallPicture[] = []
  private readonly frames: number[] = []
  private readonly every: number
  private factor = 1

  constructor(
    private readonly facts: ClipFacts,
    count: number,
  ) {
    this.every = Math.ceil(count / MOST_PICTURES)
  }

  /** Returns true if the picture of a frame is one of those. */
  takes(frame: number): boolean {
    return frame % this.every === 0
  }

  add(picture: SmallPicture, frame: number, factor: number): void {
    this.pictures.push(picture)
    this.frames.push(frame)
    this.factor = factor
  }

  /**
   * Returns what moves, and fixed spots of the scene.
   *
   * @param motions what the camera did, up to each frame of the clip; null if it stands still
   */
  async result(motions: readonly Similarity[] | null): Promise<Pick<Survey, 'movers' | 'spots'>> {
    const { pictures, frames, factor } = this
    const { rotation, flip, ...upright } = this.facts
    const isLying = rotation % 180 !== 0
    const [width, height] = isLying ? [upright.height, upright.width] : [upright.width, upright.height]
    // Pixels that are not square: the pictures are of another size than what is shown.
    if (pictures.some(({ luma }) => Math.floor(width / factor) !== luma.width))
      return { movers: [], spots: [] }
    const clip = { frames, factor, width, height, rotation, flip }
    const moved = motions && frames.map((frame) => motions[frame])
    const { movers, spots } = await filmedMovers(pictures, moved, () => rest.over())
    return {
      movers: movers.map((mover) => seenMover(mover, clip)),
      spots: spots.map((places) => {
        const sightings = places.map((place, at) => ({ ...place, at }))
        return seenMover({ sightings, best: sightings[0], outline: roundOutline(1) }, clip)
      }),
    }
  }
}

const surveyor = {
  /**
   * Makes a small still of every frame if jumps would be slow without: it is shown
   * until the frame itself is decoded. Stops when the memory for them is used up.
   *
   * @param first frame to begin with, after an earlier call was aborted
   */
  async stills(
    from: Blob | string,
    first: number,
    take: (index: number, still: Blob) => void,
  ): Promise<void> {
    const clip = await openClip(from)
    let [index, bytes] = [first, 0]
    if (isSlowToJump(clip) && first < clip.seconds.length)
      for await (const sample of new VideoSampleSink(clip.track).samples(clip.seconds[first] + 1e-6)) {
        const still = await stillOf(sample, clip).finally(() => sample.close())
        take(index++, still)
        bytes += still.size
        if (index >= MOST_FRAMES || bytes > MOST_STILL_BYTES) break
        await rest.over()
      }
    clip.input.dispose()
  },

  /** Surveys a clip frame by frame; reports its progress from 0 to 1. */
  async survey(from: Blob | string, onProgress: (share: number) => void): Promise<Survey> {
    const { track, seconds, facts, input } = await openClip(from)
    const count = Math.min(seconds.length, MOST_FRAMES)
    const every = Math.max(1, Math.floor(count / CLOSE_LOOKS))
    const differences: Difference[] = []
    const shifts: number[] = []
    const lights: Light[] = []
    const edges: number[] = []
    const camera = new CameraFollower()
    const movers = new MoverSearch(facts, count)
    let first: Luma | null = null
    let before: Luma | null = null
    let told = 0
    for await (const sample of new VideoSampleSink(track).samples(seconds[0])) {
      const at = differences.length
      const close = at % every === 0
      const frame = sample.toVideoFrame()
      sample.close()
      const factor = surveyFactor(frame.visibleRect!.width)
      const isTaken = movers.takes(at)
      const read = async () => ({
        picture: await smallPictureOf(frame, factor, isTaken),
        whole: close ? await wholeLumaOf(frame) : null,
      })
      const { picture, whole } = await read().finally(() => frame.close())
      const small = picture.luma
      if (isTaken) movers.add(picture, at, factor)
      differences.push(differenceOf(before ?? small, small))
      camera.add(small)
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
        onProgress((READ * differences.length) / count)
      }
      await rest.over()
    }
    input.dispose()
    const mean = (values: number[]) => values.reduce((sum, value) => sum + value, 0) / values.length
    const measured = edges.filter(Number.isFinite)
    const motion = camera.result()
    const isStill = motion !== null && proposedCamera(motion) === 'still'
    const found = motion ? await movers.result(isStill ? null : camera.motions) : { movers: [], spots: [] }
    return {
      differences,
      camera: motion,
      ...found,
      shake: shifts.length > lights.length / 2 ? Math.sqrt(mean(shifts.map((shift) => shift * shift))) : null,
      light: {
        mean: mean(lights.map((light) => light.mean)),
        dark: mean(lights.map((light) => light.dark)),
        bright: mean(lights.map((light) => light.bright)),
      },
      edge: measured.length > 0 ? median(measured) : Number.NaN,
    }
  },

  /** Pauses for some milliseconds. */
  hold(milliseconds: number): void {
    rest.hold(milliseconds)
  },
}

export type Surveyor = typeof surveyor

Comlink.expose(surveyor)
