import { BaseSequencer, type TestSpecification } from 'vitest/node'

/** Files that take long, the longest first, as the tables at the end of a run tell. */
const LONG = `
  server/src/footage/conversions core/src/following/silhouette core/src/series/fitTrials core/src/fitting/driftCoverage core/src/fitting/coverage
  core/src/registration/registerViews core/src/fitting/fitting
  core/src/following/following demo/src/compressed core/src/fitting/suggest core/src/motion/calibration
  core/src/fitting/models/swinging core/src/survey/survey core/src/motion/derivatives/derivatives
  e2e/src/killsOne.slow e2e/src/killsTwo.slow e2e/src/seriesSamples.slow e2e/src/series e2e/src/seriesWork e2e/src/seriesClips
  e2e/src/proposals e2e/src/footage e2e/src/badInput e2e/src/report e2e/src/takingAway
  e2e/src/display e2e/src/fits e2e/src/oddInput e2e/src/hands e2e/src/calibration e2e/src/frames e2e/src/marking e2e/src/measuring
  e2e/src/following e2e/src/touch e2e/src/crash e2e/src/slice e2e/src/followingOdd e2e/src/reportOdd e2e/src/guide e2e/src/formats
`
  .trim()
  .split(/\s+/)

/** Begins with the files that take long, so that no worker is left alone with one at the end. */
export default class LongestFirst extends BaseSequencer {
  override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const rank = ({ moduleId }: TestSpecification) => {
      const at = LONG.findIndex((name) => moduleId.endsWith(`${name}.test.ts`))
      return at < 0 ? LONG.length : at
    }
    const sorted = await super.sort(files)
    return sorted.toSorted((a, b) => rank(a) - rank(b))
  }
}
