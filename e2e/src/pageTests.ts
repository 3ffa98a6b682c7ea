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

/** Workers that go through whole clips in the background: the survey, and small pictures along the strip. */
const BACKGROUND = ['survey', 'film'] as const

/** Puts workers that never answer in the place of some. */
function silenceWorkers(names: string[]): void {
  const Real = Worker
  class Silent extends EventTarget {
    postMessage(): void {}
    terminate(): void {}
  }
  window.Worker = new Proxy(Real, {
    construct: (_, [url, options]: [URL, WorkerOptions]) =>
      names.includes(options?.name ?? '') ? new Silent() : new Real(url, options),
  })
}

/** Events of the pointer, and what else may keep a press from its aim. */
const INPUT = [
  'pointerdown',
  'pointerup',
  'pointercancel',
  'lostpointercapture',
  'dragstart',
  'click',
  'keydown',
  'error',
]

declare global {
  interface Window {
    /** The last events of `INPUT`, for the page's part in a failure. */
    lastInput?: string[]
    /** Whether the page knows of a pointer that is down. */
    isPressed?: boolean
  }
}

/** Keeps the last events of some types in the page. */
function keepInput(types: string[]): void {
  window.lastInput = []
  window.isPressed = false
  for (const type of types)
    addEventListener(
      type,
      (event) => {
        const { clientX, clientY, message, key } = event as PointerEvent & ErrorEvent & KeyboardEvent
        if (type === 'pointerdown') window.isPressed = true
        if (type === 'pointerup' || type === 'pointercancel') window.isPressed = false
        const at = event.target instanceof Element ? event.target.outerHTML.slice(0, 90) : ''
        const kept = window.lastInput!
        kept.push(`${event.timeStamp.toFixed(0)} ${type} ${message ?? key ?? `${clientX},${clientY}`} ${at}`)
        if (kept.length > 40) kept.shift()
      },
      { capture: true },
    )
}

/**
 * Gives the tests of one file a server with an empty database and a window of the run's browser.
 *
 * @param background which background work is done: most tests end long before it, and it takes the machine meanwhile
 */
export function pageTests({
  background = [],
  ...settings
}: Partial<Config> & { background?: readonly (typeof BACKGROUND)[number][] } = {}): PageTests {
  const given = {} as PageTests
  beforeAll(async () => {
    given.server = await testServer(settings)
    given.browser = await chromium.connect(inject('browserUrl'))
    given.window = await newWindow(given.browser)
    const silenced = BACKGROUND.filter((name) => !background.includes(name))
    await given.window.addInitScript(silenceWorkers, silenced)
    await given.window.addInitScript(keepInput, INPUT)
  })
  beforeEach(async () => {
    if (!given.page || given.page.isClosed()) given.page = await given.window.newPage()
  })
  afterEach(async ({ task }) => {
    if (task.result?.state !== 'fail') return
    for (const page of given.browser.contexts().flatMap((window) => window.pages())) {
      const says = await page.locator('body').ariaSnapshot().catch(String)
      const input = await page.evaluate(() => window.lastInput?.join('\n')).catch(String)
      console.log(`When “${task.name}” failed, ${page.url()} said:\n${says}\nIts last input:\n${input}`)
    }
    await given.page.close()
  })
  afterAll(async () => {
    await given.browser?.close()
    await given.server?.stop()
  })
  return given
}
