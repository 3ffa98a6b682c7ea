import type { Config } from '@apokinema/server/config'
import { type TestServer, testServer } from '@apokinema/server/testing/testServer'
import { type Browser, type BrowserContext, chromium, type Page } from 'playwright-core'
import { afterAll, afterEach, beforeAll, beforeEach, inject } from 'vitest'
import { newWindow } from './browser.ts'
import type {} from './globalSetup.ts'

/** What the page tests of one file work with. */
export interface PageTests {
  server: TestServer
  browser: Browser
  /** One window for all tests of the file. */
  window: BrowserContext
  /** A page in it that the next test goes on with, or a fresh one after a test that failed. */
  page: Page
}

/** Puts a worker that never answers in the place of the survey's. */
function withoutSurvey(): void {
  const Real = Worker
  class Silent extends EventTarget {
    postMessage(): void {}
    terminate(): void {}
  }
  window.Worker = new Proxy(Real, {
    construct: (_, [url, options]: [URL, WorkerOptions]) =>
      options?.name === 'survey' ? new Silent() : new Real(url, options),
  })
}

/**
 * Gives the tests of one file a server with an empty database and a window of the run's browser.
 *
 * @param survey whether clips are surveyed: most tests end long before a survey would, which takes the machine meanwhile
 */
export function pageTests({
  survey = false,
  ...settings
}: Partial<Config> & { survey?: boolean } = {}): PageTests {
  const given = {} as PageTests
  beforeAll(async () => {
    given.server = await testServer(settings)
    given.browser = await chromium.connect(inject('browserUrl'))
    given.window = await newWindow(given.browser)
    if (!survey) await given.window.addInitScript(withoutSurvey)
  })
  beforeEach(async () => {
    if (!given.page || given.page.isClosed()) given.page = await given.window.newPage()
  })
  afterEach(async ({ task }) => {
    if (task.result?.state !== 'fail' || given.page.isClosed()) return
    const says = await given.page.locator('body').ariaSnapshot().catch(String)
    console.log(`When “${task.name}” failed, ${given.page.url()} said:\n${says}`)
    await given.page.close()
  })
  afterAll(async () => {
    await given.browser?.close()
    await given.server?.stop()
  })
  return given
}
