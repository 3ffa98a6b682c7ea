import { describe, inject, it } from 'vitest'

declare module 'vitest' {
  interface ProvidedContext {
    /** Which command runs the tests: `npm run check`, `npm test` or `npm run test:slow`. */
    extent: 'check' | 'test' | 'slow'
  }
}

const extent = inject('extent')

/** True in `npm run test:slow`, where nothing is sampled that can be gone through whole. */
export const IS_SLOW = extent === 'slow'

/**
 * Declares a test that only `npm run test:slow` has: what it proves is held in a smaller way by others. A suite needs a test
 * besides: Vitest fails one that is empty.
 */
export const itAtLength: (name: string, test: () => void | Promise<void>) => void = IS_SLOW ? it : () => {}

/** Declares a suite that only `npm run test:slow` has. */
export const describeAtLength: (name: string, suite: () => void) => void = IS_SLOW ? describe : () => {}

/** Repeats of a simulation. */
export const REPEATS = { check: 100, test: 200, slow: 2000 }[extent]

/** Standard deviations at which the bounds for 2,000 repeats lie: 93 to 97 % are 95 % ± 4.1 binomial ones. */
const DEVIATIONS = 4.1

/**
 * Returns by how much bounds that are stated for 2,000 repeats widen for `REPEATS`, so that they stay as many standard
 * deviations away. 0 in `npm run test:slow`.
 */
const margin = (deviation: (repeats: number) => number) => DEVIATIONS * (deviation(REPEATS) - deviation(2000))

/** Of the share of repeats that succeed, where 95 % of all do. */
export const SHARE_MARGIN = margin((repeats) => Math.sqrt((0.95 * 0.05) / repeats))

/** Of the ratio between a scatter over repeats and the standard deviation that it estimates. */
export const SCATTER_MARGIN = margin((repeats) => 1 / Math.sqrt(2 * repeats))
