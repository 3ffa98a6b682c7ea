import { netFloat } from './netFloat.ts'
import type { Sample } from './sample.ts'

export { inPicture, type Sample } from './sample.ts'

/** Every sample, in the order in which they are offered. */
export const SAMPLES: Sample[] = [netFloat]
