import { doubleList, floatList, kernels, placeOf, withArena } from '../kernels/index.ts'
import { GAIN, MOST_OUTSIDE } from './match.ts'
import type { Patch } from './patch.ts'
import type { Scene } from './scene.ts'
import type { Pose } from './template.ts'

/** A body's position, refined to a fraction of a pixel. */
export interface Refined {
  pose: Pose
  score: number
  /** Score of the part of the body that fits, and how large a part that is: what hides the rest does not count. */
  visible: { score: number; share: number }
  /** How much of the turn is known from the pixels, 0 … 1, and not only from what was expected. */
  turnInformation: number
}

/** Standard deviations of the change of size (its logarithm) and turn (radians) in one frame. */
export interface Freedom {
  scale: number
  turn: number
}

/** Lists of one number for each pixel that the kernel needs room for. */
const LISTS = 19

/**
 * Refines where a patch lies by least squares on the brightness itself, together with its size and turn as far as the
 * freedom allows, and with a light that changes; `core/kernels/refining.ts` has the method and its sources.
 *
 * @param start pose that the patch was rendered for, moved to where it was found
 * @returns null where it runs away
 */
export function refinePose(
  { frame, background, known }: Scene,
  patch: Patch,
  start: Pose,
  freedom: Freedom,
  noise: number,
): Refined | null {
  const { width, height, anchor, cover, body, seen, weights, size } = patch
  const bytes = 4 * LISTS * (width * height + 4)
  return withArena(bytes + 1024, () => {
    const out = doubleList(8)
    const room = floatList(bytes / 4)
    const isFound = kernels().refine(
      placeOf(frame.data),
      known ? placeOf(background.data) : 0,
      known ? placeOf(known.data) : 0,
      frame.width,
      frame.height,
      placeOf(cover),
      body ? placeOf(body) : 0,
      placeOf(seen),
      placeOf(weights),
      width,
      height,
      Math.max(size[0], size[1]) / 2,
      MOST_OUTSIDE,
      anchor.x,
      anchor.y,
      start.x - frame.x,
      start.y - frame.y,
      freedom.scale,
      freedom.turn,
      GAIN.least,
      GAIN.most,
      noise,
      placeOf(room),
      placeOf(out),
    )
    if (!isFound) return null
    return {
      pose: {
        x: start.x + out[0],
        y: start.y + out[1],
        scale: start.scale * (1 + out[2]),
        turn: start.turn + out[3],
      },
      score: out[4],
      visible: { score: out[5], share: out[6] },
      turnInformation: out[7],
    }
  })
}
