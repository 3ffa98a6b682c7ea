import { startTestCluster } from '@apokinema/server/testing/testCluster'
import { TestRun } from './testing/testRun.ts'

/** `npm run test:slow`: what is sampled in `npm test`, at its whole length; ends with a line that sums it up. */

const run = new TestRun()
const cluster = await startTestCluster()
try {
  const env = { TEST_EXTENT: 'slow', TEST_CLUSTER_URL: cluster.url }
  await run.check('kernels are what their source compiles to', process.execPath, [
    '--import',
    'tsx',
    'scripts/kernels.ts',
    '--compile-and-check',
  ])
  await run.vitest('unit and server tests', ['core', 'web', 'demo', 'server'], { env })
  await run.vitest('page tests', ['e2e'], { env })
} finally {
  await cluster.stop()
}
process.exit(run.finish())
