import type { Browser } from 'playwright-core'
import { newWindow } from './browser.ts'
import { Hands, MEASURED } from './measuring.ts'
import { openSample } from './page.ts'
import type { ServerProcess } from './serverProcess.ts'

/** How many actions lead from an opened sample to its reading, and for how long the computer is waited for, for `npm run bench -- measuring`. */
export async function benchMeasuring(
  browser: Browser,
  server: ServerProcess,
  note: (what: string, value: string) => void,
): Promise<void> {
  for (const { sample, title, measure } of MEASURED) {
    const window = await newWindow(browser)
    const page = await window.newPage()
    await page.goto(server.origin)
    await openSample(page, title)
    const hands = new Hands(page, sample)
    await measure(hands)
    note(
      `${title}, from opening to its reading`,
      `${hands.actions} actions, waited ${hands.waited.toFixed(1)} s`,
    )
    await window.close()
  }
}
