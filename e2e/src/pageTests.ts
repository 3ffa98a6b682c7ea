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

/** Puts workers that never answer in the place of those that go through whole clips in the background. */
function withoutBackground(): void {
  const Real = Worker
  class Silent extends EventTarget {
    postMessage(): void {}
    terminate(): void {}
  }
  window.Worker = new Proxy(Real, {
    construct: (_, [url, options]: [URL, WorkerOptions]) =>
      ['survey', 'film'].includes(options?.name ?? '') ? new Silent() : new Real(url, options),
  })
}

/**
 * Gives the tests of one file a server with an empty database and a window of the run's browser.
 *
 * @param background whether clips are surveyed, and small pictures of them drawn along the strip: most tests end long
 * before that, which takes the machine meanwhile
 */
export function pageTests({
  background = false,
  ...settings
}: Partial<Config> & { background?: boolean } = {}): PageTests {
  const given = {} as PageTests
  beforeAll(async () => {
    given.server = await testServer(settings)
    given.browser = await chromium.connect(inject('browserUrl'))
    given.window = await newWindow(given.browser)
    if (!background) await given.window.addInitScript(withoutBackground)
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
