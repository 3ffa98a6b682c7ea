import type { Sample } from '../samples/index.ts'
import { launchToBasket, thrownNetFloat } from '../samples/netFloat.ts'
import type { SampleSeries } from './sampleSeries.ts'

/** Returns one of several throws of the same float into the same basket. */
function netFloatThrow(number: number, release: number, flight: number, spin: number): Sample {
  return thrownNetFloat(
    { release, flight, launch: launchToBasket(flight), spin },
    {
      id: `net-float-${number}`,
      title: `Net float, throw ${number}`,
      about: 'A net float is tossed into a basket: one of five throws.',
      frames: 96,
      noise: 2.3 + number / 10,
      quality: 25,
      poster: 44,
    },
  )
}

/** The net float five times: higher and flatter throws from the same place, all with the same g. */
export const NET_FLOAT_THROWS: SampleSeries = {
  id: 'net-float-throws',
  title: 'Net float, five throws',
  about: 'The same throw five times: a mean of g, and how far the throws scatter.',
  conditions: [],
  trials: [
    netFloatThrow(1, 0.4021, 0.86, -4.9),
    netFloatThrow(2, 0.3764, 0.8, -5.6),
    netFloatThrow(3, 0.4387, 0.92, -4.4),
    netFloatThrow(4, 0.4148, 0.76, -6.1),
    netFloatThrow(5, 0.3912, 0.89, -5.1),
  ].map((sample) => ({ sample, typed: [] })),
}
