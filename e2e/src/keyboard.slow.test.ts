import { readTruth } from '@apokinema/demo'
import type { Page } from 'playwright-core'
import { expect, it } from 'vitest'
import { newWindow } from './browser.ts'
import { tabTo, waitForFrame } from './page.ts'
import { pageTests } from './pageTests.ts'

/** The first measurement by the keyboard alone, in a window of 1280x800 that is zoomed to 200 %. */

const given = pageTests({ background: ['survey'] })

async function choose(page: Page, name: RegExp): Promise<void> {
  await tabTo(page, name)
  await page.keyboard.press('Enter')
}

/** Moves the reticle by arrows to a point of the picture, by what the loupe says, and sets the point there. */
async function setPoint(page: Page, { x, y }: { x: number; y: number }): Promise<void> {
  for (;;) {
    const says = (await page.locator('[data-loupe]').count())
      ? await page.locator('[data-loupe]').textContent()
      : ''
    const [, left, top] = /x (-?[\d.]+) y (-?[\d.]+)/.exec(says ?? '') ?? []
    // The first arrow brings the reticle to the middle of the picture.
    const [dx, dy] = left === undefined ? [1, 0] : [x - Number(left), y - Number(top)]
    if (Math.abs(dx) < 1 && Math.abs(dy) < 1) break
    const isAcross = Math.abs(dx) > Math.abs(dy)
    const key = isAcross ? (dx > 0 ? 'ArrowRight' : 'ArrowLeft') : dy > 0 ? 'ArrowDown' : 'ArrowUp'
    await page.keyboard.press(Math.max(Math.abs(dx), Math.abs(dy)) >= 10 ? `Shift+${key}` : key)
  }
  await page.keyboard.press('Enter')
}

it('the net float is measured by Tab, arrows and Enter, at a zoom of 200 %', async () => {
  const truth = readTruth('net-float')
  const window = await newWindow(given.browser, {
    viewport: { width: 640, height: 400 },
    deviceScaleFactor: 2,
  })
  const page = await window.newPage()
  await page.goto(given.server.origin)
  await page.getByRole('button', { name: 'Sample: Net float' }).waitFor()
  await choose(page, /^Sample: Net float/)
  await waitForFrame(page, 0)
  await page.getByRole('button', { name: 'Follow this?' }).waitFor()
  await choose(page, /^Follow this\?$/)
  await page
    .getByText(/Followed to the end|has left the picture/)
    .first()
    .waitFor()
  await choose(page, /^Draw along something you know$/)
  await setPoint(page, truth.reference.ends[0])
  await setPoint(page, truth.reference.ends[1])
  await page.getByLabel('How long is it really?').waitFor()
  await page.keyboard.type('1.40 m')
  await page.keyboard.press('Enter')
  await choose(page, /^Graphs$/)
  await page.locator('[data-proposed-reading]').first().waitFor()
  await choose(page, /^Take the fit/)
  const reading = page.locator('[data-reading]').first()
  await reading.waitFor()
  const value = Number(await reading.getAttribute('data-value'))
  expect(Math.abs(value / -9.81 - 1)).toBeLessThan(0.01)
  // Nothing needs to be scrolled sideways.
  const wide = await page.evaluate(() => document.documentElement.scrollWidth)
  expect(wide).toBeLessThanOrEqual(640)
  await window.close()
})
