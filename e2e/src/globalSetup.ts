import setupCluster from '@apokinema/server/testing/globalSetup'
import { chromium } from 'playwright-core'
import type { TestProject } from 'vitest/node'
import { buildAll } from '../../scripts/build.ts'
import { HEADLESS_SHELL } from './browser.ts'

declare module 'vitest' {
  interface ProvidedContext {
    /** Address at which the run's browser is reached. */
    browserUrl: string
  }
}

/** Vitest's global setup of page tests: pages that are up to date, the run's cluster, and one browser for all of them. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  buildAll(console.log)
  const stopCluster = await setupCluster(project)
  const browser = await chromium.launchServer(HEADLESS_SHELL)
  project.provide('browserUrl', browser.wsEndpoint())
  return async () => {
    await browser.close()
    await stopCluster()
  }
}
