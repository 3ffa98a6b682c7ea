import type { Sample } from '../samples/index.ts'
import type { ClipChoices } from './clipChoices.ts'

/** Share of the scene, along both directions, that a camera sees that moves. */
const FIELD = 0.8

/** Returns the size of the picture, and what a camera that moves does while the clip lasts: it starts and stops smoothly. */
export function filmedBy(
  { camera, width, height, rate }: ClipChoices,
  frames: number,
): Pick<Sample, 'width' | 'height' | 'stage' | 'camera'> {
  if (camera === 'still') return { width, height }
  const even = (length: number) => 2 * Math.round((FIELD * length) / 2)
  const margin = (1 - FIELD) / 2
  return {
    width: even(width),
    height: even(height),
    stage: { width, height },
    camera: (time) => {
      const share = (1 - Math.cos(Math.PI * Math.min(1, Math.max(0, (time * rate) / (frames - 1))))) / 2
      const way = camera === 'pans' ? margin * (2 * share - 1) : 0
      return {
        zoom: camera === 'pans' ? 1 : 1 / (FIELD + (1 - FIELD) * share),
        middle: { x: width * (0.5 + way), y: height * (0.5 - way / 2) },
      }
    },
  }
}
