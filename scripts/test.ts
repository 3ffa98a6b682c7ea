import { startTestCluster } from '@apokinema/server/testing/testCluster'
import { staticChecks } from './testing/staticChecks.ts'
import { TestRun } from './testing/testRun.ts'

/** `npm test`: types, lint, unit, server and page tests; ends with one line that sums all of them up. */

const run = new TestRun()
const cluster = await startTestCluster()
try {
  const env = { TEST_CLUSTER_URL: cluster.url }
  await Promise.all([
    run.part('static checks', async () => {
      await staticChecks(run)
      await run.check('the pages are built', process.execPath, ['--import', 'tsx', 'scripts/build.ts'])
    }),
    run.vitest('unit and server tests', ['core', 'words', 'web', 'demo', 'server'], { env }),
  ])
  await run.vitest('page tests', ['e2e'], { env })
} finally {
  await cluster.stop()
}
process.exit(run.finish())
