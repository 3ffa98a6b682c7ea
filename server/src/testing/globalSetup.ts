import type { TestProject } from 'vitest/node'
import { startTestCluster } from './testCluster.ts'

declare module 'vitest' {
  interface ProvidedContext {
    /** Address of the maintenance database of the run's cluster. */
    clusterUrl: string
  }
}

/** Vitest's global setup: the cluster of the run, or the one that TEST_CLUSTER_URL names. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const given = process.env.TEST_CLUSTER_URL
  const own = given ? null : await startTestCluster()
  project.provide('clusterUrl', given ?? own!.url)
  return async () => own?.stop()
}
