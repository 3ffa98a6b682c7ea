import {
  CameraFollower,
  filmedMovers,
  type Mover,
  proposedCamera,
  type SmallPicture,
  shrink,
  surveyFactor,
} from '@apokinema/core/survey'
import { inPicture, throughCamera } from '../samples/index.ts'
import { EncodedClip } from './encodedClip.ts'
import type { RandomClip } from './randomClip.ts'

/** Farther from the true body than this, in pixels, or than its radius, a mover is something else. */
const NEAR = 6

/** Something that was found to move in a clip. */
export interface ClipMover extends Mover {
  /** Whether it is the body, for most of its sightings. */
  isBody: boolean
}

/** Films and encodes a clip, and returns what is found to move in it, as the page finds it: the most convincing first. */
export async function clipMovers(clip: RandomClip): Promise<ClipMover[]> {
  using encoded = await EncodedClip.of(clip)
  const { width, height } = clip
  const factor = surveyFactor(width)
  const pictures: SmallPicture[] = []
  const camera = new CameraFollower()
  for await (const { data, chroma } of encoded.frames()) {
    const half = { width: chroma!.width, height: chroma!.height }
    const colour = (plane: Uint8Array) => shrink(plane, half.width, half, factor)
    const luma = shrink(data, width, { width, height }, factor)
    camera.add(luma)
    pictures.push({ luma, blue: colour(chroma!.blue), red: colour(chroma!.red) })
  }
  const motion = camera.result()
  if (!motion) return []
  const isStill = proposedCamera(motion) === 'still'
  const { movers } = await filmedMovers(pictures, isStill ? null : camera.motions)
  return movers.map((mover) => ({ ...mover, isBody: isBody(mover, clip, factor) }))
}

function isBody({ sightings }: Mover, clip: RandomClip, factor: number): boolean {
  const {
    bodies: [body],
    choices,
    rate,
    view,
  } = clip
  if (!body) return false
  const near = sightings.filter(({ at, x, y }) => {
    const time = at / rate
    const truth = throughCamera(clip, time, inPicture(view, body.pose(time)))
    return Math.hypot(truth.x - x * factor, truth.y - y * factor) < Math.max(NEAR, choices.radius)
  })
  return near.length > sightings.length / 2
}

/** Returns a line of a table for people who look at all clips. */
export function moversLine({ seed, choices }: RandomClip, movers: readonly ClipMover[]): string {
  const { motion, wall, extra, camera, radius } = choices
  const found = movers.map(
    ({ isBody, sightings, score }) =>
      `${isBody ? 'body' : 'other'} ${sightings[0].at}-${sightings[sightings.length - 1].at} ${score.toFixed(2)}`,
  )
  return `${seed} ${motion} ${wall} ${extra} camera ${camera} r ${radius.toFixed(0)} px: ${found.join(', ') || 'nothing'}`
}
