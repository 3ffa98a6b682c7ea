import type { Outline } from '../following/index.ts'
import { type Point, type Turn, turnedPoint, turnedRadii } from '../geometry/index.ts'
import type { Mover } from './movers.ts'

/** Something that moves, in frames of the clip and in pixels of the picture as the file shows it: upright, not turned by hand. */
export interface SeenMover {
  /** Where its middle was seen, by increasing frame; frames in between may be missing. */
  path: ({ frame: number } & Point)[]
  /** Frame of the path in which it is seen best, and its outline there. */
  best: number
  outline: Outline
}

/** Where something is in one of the pictures of a survey, in small pixels. */
interface Seen extends Point {
  /** Position in the list of pictures. */
  at: number
}

/** How the pictures of a survey were made of a clip. */
export interface SurveyedClip {
  /** Frame of each picture. */
  frames: readonly number[]
  /** Pixels of the sensor's picture for one small pixel. */
  factor: number
  /** Size of the sensor's picture in pixels. */
  width: number
  height: number
  /** How it is turned to be upright: degrees clockwise, then mirrored left to right. */
  rotation: number
  flip: boolean
}

/** Returns a mover in frames and pixels of its clip; its best sighting is one of its sightings. */
export function seenMover(
  { sightings, best, outline }: Pick<Mover, 'outline'> & { sightings: readonly Seen[]; best: Seen },
  clip: SurveyedClip,
): SeenMover {
  const { factor, frames } = clip
  const radii = outline.radii.map((radius) => radius * factor)
  const seen = {
    path: sightings.map(({ at, x, y }) => ({ frame: frames[at], x: x * factor, y: y * factor })),
    best: frames[best.at],
    outline: { radii },
  }
  const quarters = (((clip.rotation / 90) % 4) + 4) % 4
  return turnedMover(
    seen,
    [...Array<Turn>(quarters).fill('right'), ...(clip.flip ? (['mirror'] as const) : [])],
    clip,
  )
}

/** Returns a mover in a picture that is turned, by one turn after the other; `size` is the picture's before. */
export function turnedMover(
  mover: SeenMover,
  turns: readonly Turn[],
  size: { width: number; height: number },
): SeenMover {
  let { path, outline } = mover
  let { width, height } = size
  for (const turn of turns) {
    const before = { width, height }
    path = path.map(({ frame, ...point }) => ({ frame, ...turnedPoint(turn, point, before) }))
    outline = { radii: turnedRadii(turn, outline.radii) }
    if (turn !== 'mirror') [width, height] = [height, width]
  }
  return { ...mover, path, outline }
}
