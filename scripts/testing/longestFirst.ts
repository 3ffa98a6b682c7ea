import { BaseSequencer, type TestSpecification } from 'vitest/node'

/** Files that take long, the longest first, as the tables at the end of a run tell. */
const LONG = [
  ...[
    'fitting/fitting',
    'following/following',
    'demo/src/compressed',
    'fitting/coverage',
    'footage/conversions',
  ],
  ...['motion/calibration', 'fitting/suggest', 'fitting/fitPath', 'survey/survey', 'quantities/quantities'],
  ...['e2e/src/footage', 'e2e/src/oddInput', 'e2e/src/formats', 'e2e/src/fits', 'e2e/src/followingOdd'],
  ...[
    'e2e/src/badInput',
    'e2e/src/takingAway',
    'e2e/src/calibration',
    'e2e/src/marking',
    'e2e/src/following',
  ],
]

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
