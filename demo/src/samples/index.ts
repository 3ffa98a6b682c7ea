import { barrelOnPlank } from './barrelOnPlank.ts'
import { beadInSyrup } from './beadInSyrup.ts'
import { cranePebble } from './cranePebble.ts'
import { fender } from './fender.ts'
import { fishSledge } from './fishSledge.ts'
import { hoistedLantern } from './hoistedLantern.ts'
import { iceBlocks } from './iceBlocks.ts'
import { netFloat } from './netFloat.ts'
import { paperLantern } from './paperLantern.ts'
import type { Sample } from './sample.ts'
import { swingBoat } from './swingBoat.ts'

export { inPicture, type Pose, type Sample, throughCamera, type Vector, type View } from './sample.ts'

/** Every sample, in the order in which they are offered. */
export const SAMPLES: Sample[] = [
  netFloat,
  barrelOnPlank,
  fishSledge,
  cranePebble,
  paperLantern,
  swingBoat,
  beadInSyrup,
  hoistedLantern,
  iceBlocks,
  fender,
]
