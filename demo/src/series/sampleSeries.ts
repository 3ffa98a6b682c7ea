import type { ListedSampleSeries } from '@apokinema/core/api'
import type { Sample } from '../samples/index.ts'

/** Several clips of the same measurement, with the conditions that differ between them. */
export interface SampleSeries extends Omit<ListedSampleSeries, 'trials'> {
  /** `typed` has the value of each condition. */
  trials: { sample: Sample; typed: number[] }[]
}

/** Returns a series as the list of samples shows it. */
export function listedSeries({ trials, ...about }: SampleSeries): ListedSampleSeries {
  return { ...about, trials: trials.map(({ sample: { id, title }, typed }) => ({ id, title, typed })) }
}
