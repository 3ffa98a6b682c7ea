import type { Sample } from '../samples/index.ts'
import { swingingBoat } from '../samples/swingBoat.ts'
import type { SampleSeries } from './sampleSeries.ts'

/** Angle at which the boat is let go: small, so that the period tells the length. */
const AMPLITUDE = (9 * Math.PI) / 180

/** Returns the swing boat on ropes of some length in metres, as one trial of the series. */
function boatTrial(length: number, release: number, noise: number): Sample {
  const long = length.toFixed(2)
  return swingingBoat(
    { length, amplitude: AMPLITUDE, release },
    {
      id: `swing-boat-at-${100 * length}`,
      title: `Swing boat, ropes of ${long} m`,
      about: 'A swing boat swings gently: one of four rope lengths.',
      frames: 240,
      noise,
      quality: 27,
      poster: 8,
    },
  )
}

/** Length of the ropes, release in seconds, and the length that was read off a tape measure. */
const LENGTHS: readonly [length: number, release: number, read: number][] = [
  [1.2, 0.37, 1.2],
  [1.6, 0.44, 1.605],
  [2, 0.31, 1.995],
  [2.25, 0.4, 2.25],
]

/** The swing boat at four rope lengths: the square of the period against the length has the slope 4π²/g. */
export const SWING_BOATS: SampleSeries = {
  id: 'swing-boats',
  title: 'Swing boat at four rope lengths',
  about: 'The period against the length of the ropes, and g from the slope.',
  conditions: [{ name: 'rope length', symbol: 'L', unit: 'm', error: 0.005 }],
  trials: LENGTHS.map(([length, release, read], i) => ({
    sample: boatTrial(length, release, 1.7 + i / 10),
    typed: [read],
  })),
}
