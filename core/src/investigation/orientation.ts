import { type Turn, wrapAngle } from '../geometry/index.ts'
import type { ReadoutDirection } from '../time/index.ts'
import type { Investigation } from './document/investigation.ts'

interface Size {
  width: number
  height: number
}

/** Returns the size of the picture that is worked on, in pixels: upright as the file has it, then turned by hand. */
export function pictureSize({ footage, orientation }: Pick<Investigation, 'footage' | 'orientation'>): Size {
  const { width, height } = footage ?? { width: 16, height: 9 }
  return orientation.quarterTurns % 2 === 0 ? { width, height } : { width: height, height: width }
}

/**
 * Tilt of the axes once the picture is turned. They turn along, so that no number of the scene changes;
 * mirrored, the y axis keeps pointing up its own image and x runs the other way through the scene.
 */
export function turnedTilt(turn: Turn, tilt: number): number {
  if (turn === 'mirror') return wrapAngle(-tilt)
  return wrapAngle(tilt + (turn === 'right' ? -Math.PI / 2 : Math.PI / 2))
}

const CLOCKWISE: ReadoutDirection[] = ['down', 'left', 'up', 'right']

/** Returns a direction in the picture once the picture is turned. */
export function turnedDirection(turn: Turn, direction: ReadoutDirection): ReadoutDirection {
  if (turn === 'mirror') {
    if (direction === 'left') return 'right'
    return direction === 'right' ? 'left' : direction
  }
  const at = CLOCKWISE.indexOf(direction) + (turn === 'right' ? 1 : 3)
  return CLOCKWISE[at % 4]
}
