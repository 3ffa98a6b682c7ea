import { fill } from '@apokinema/demo'
import type { Page } from 'playwright-core'
import { beforeAll, describe, expect, it } from 'vitest'
import { accessibilityFaults } from './accessibility.ts'
import { newWindow } from './browser.ts'
import { boxOf, waitForFrame } from './page.ts'
import { pageTests } from './pageTests.ts'
import { go } from './work.ts'

/** How the pages look: in both themes, before a class, and to those who see or move otherwise. */

const given = pageTests()
const DEMO = '/investigations/de300000-0000-4000-8000-000000001000'

beforeAll(() => fill(given.server.origin))

const groundOf = (page: Page, selector: string) =>
  page.locator(selector).evaluate((element) => getComputedStyle(element).backgroundColor)

describe('the theme', () => {
  it('is that of the machine, or the one that was chosen, and the printed page stays white', async () => {
    const window = await newWindow(given.browser, { colorScheme: 'dark' })
    const page = await window.newPage()
    await page.goto(`${given.server.origin}${DEMO}/graphs`)
    await page.locator('[data-reading]').first().waitFor()
    expect(await groundOf(page, 'body')).toBe('rgb(26, 31, 32)')
    await page.emulateMedia({ colorScheme: 'light' })
    await expect.poll(() => groundOf(page, 'body')).toBe('rgb(250, 248, 243)')
    await page.getByRole('button', { name: 'Display' }).click()
    await page.getByLabel('Theme').selectOption('dark')
    await expect.poll(() => groundOf(page, 'body')).toBe('rgb(26, 31, 32)')
    await page.reload()
    await page.locator('[data-reading]').first().waitFor()
    expect(await groundOf(page, 'body')).toBe('rgb(26, 31, 32)')
    await page.goto(`${given.server.origin}${DEMO}/report`)
    await page.getByText('One-page result', { exact: true }).click()
    await page.locator('.paper').waitFor()
    expect(await groundOf(page, '.paper')).toBe('rgb(255, 255, 255)')
    const ink = await page
      .locator('.paper h2')
      .first()
      .evaluate((heading) => getComputedStyle(heading).color)
    expect(ink).toBe('rgb(30, 37, 38)')
    await window.close()
  })

  it('repaints the graphs that are open', async () => {
    const { page, server } = given
    await go(server, page, `${DEMO}/graphs`)
    await page.locator('[data-reading]').first().waitFor()
    // The darkest and the lightest of what is drawn in full: ink and rims.
    const drawn = () =>
      page
        .locator('[data-graph] canvas')
        .first()
        .evaluate((element: HTMLCanvasElement) => {
          const { data } = element.getContext('2d')!.getImageData(0, 0, element.width, element.height)
          const lights = []
          for (let at = 0; at < data.length; at += 4) if (data[at + 3] === 255) lights.push(data[at + 1])
          return {
            least: lights.reduce((a, b) => Math.min(a, b)),
            most: lights.reduce((a, b) => Math.max(a, b)),
          }
        })
    const inkOfLight = 0x25
    const inkOfDark = 0xe9
    expect((await drawn()).least).toBeLessThanOrEqual(inkOfLight)
    await page.emulateMedia({ colorScheme: 'dark' })
    await expect.poll(async () => (await drawn()).most).toBeGreaterThanOrEqual(inkOfDark)
    await page.emulateMedia({ colorScheme: 'light' })
    await expect.poll(async () => (await drawn()).least).toBeLessThanOrEqual(inkOfLight)
  })
})

describe('before a class', () => {
  it('everything is larger, and the columns fold away until they are opened', async () => {
    const window = await newWindow(given.browser)
    const page = await window.newPage()
    await page.goto(given.server.origin + DEMO)
    await waitForFrame(page, 27)
    const stage = page.locator('[data-stage]')
    const title = page.getByLabel('Title of the investigation')
    const sizeOf = () => title.evaluate((element) => Number.parseFloat(getComputedStyle(element).fontSize))
    const [plain, before] = [await sizeOf(), await boxOf(stage)]
    await page.getByRole('button', { name: 'Display' }).click()
    await page.getByText('For the projector').click()
    await expect.poll(sizeOf).toBeCloseTo(1.25 * plain, 1)
    await page.keyboard.press('Escape')
    const setUp = page.locator('aside[aria-label="Set-up"]')
    await setUp.waitFor({ state: 'hidden' })
    expect((await boxOf(stage)).width).toBeGreaterThan(before.width + 200)
    await page.getByRole('button', { name: 'Set-up' }).click()
    await setUp.waitFor()
    // The fits, which hold what was found out, are open from the start.
    await page.getByRole('link', { name: 'Graphs', exact: true }).click()
    await page.locator('[data-reading]').first().waitFor()
    expect(await page.locator('aside[aria-label="Film and quantities"]').isVisible()).toBe(false)
    await page.reload()
    await page.locator('[data-reading]').first().waitFor()
    expect(await sizeOf()).toBeCloseTo(1.25 * plain, 1)
    await window.close()
  })

  it('the picture has the whole screen, by key and by button', async () => {
    const { page, server } = given
    await go(server, page, DEMO)
    await waitForFrame(page, 27)
    const bar = page.getByRole('banner')
    await page.getByRole('button', { name: 'Whole screen' }).click()
    await bar.waitFor({ state: 'detached' })
    expect(await page.locator('aside[aria-label="Set-up"]').count()).toBe(0)
    await page.getByRole('button', { name: 'Back', exact: true }).click()
    await bar.waitFor()
    await page.locator('[data-stage]').click({ position: { x: 40, y: 60 } })
    await page.keyboard.press('w')
    await bar.waitFor({ state: 'detached' })
    await page.keyboard.press('w')
    await bar.waitFor()
  })
})

describe('for everybody', () => {
  const showHelp = async (page: Page) => {
    await page.getByRole('button', { name: 'Help and keys' }).click()
    await page.getByRole('button', { name: 'A pendulum' }).click()
    await page.locator('[data-help-page] .katex').first().waitFor()
  }

  it.each([
    ['the list', '', '[data-card]', undefined],
    ['Measure', DEMO, 'canvas[data-frame]', undefined],
    ['Graphs', `${DEMO}/graphs`, '[data-reading]', undefined],
    ['help', '', '[data-card]', showHelp],
  ])(
    '%s keeps WCAG 2.1 A and AA in both themes, as far as a program can tell',
    async (_, path, ready, act) => {
      expect(await accessibilityFaults(given.browser, given.server.origin + path, ready, act)).toEqual([])
    },
  )
})
