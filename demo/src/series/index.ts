import { CART_ON_PLANK } from './cartOnPlank.ts'
import { LOADED_LANTERNS } from './loadedLanterns.ts'
import { NET_FLOAT_THROWS } from './netFloatThrows.ts'
import type { SampleSeries } from './sampleSeries.ts'
import { SWING_BOATS } from './swingBoats.ts'

export { listedSeries } from './sampleSeries.ts'

/** Every series of samples, in the order in which they are offered. */
export const SAMPLE_SERIES: SampleSeries[] = [CART_ON_PLANK, NET_FLOAT_THROWS, LOADED_LANTERNS, SWING_BOATS]

/** The clips of all series. */
export const TRIAL_SAMPLES = SAMPLE_SERIES.flatMap(({ trials }) => trials.map(({ sample }) => sample))
