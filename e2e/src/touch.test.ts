import { IS_SLOW } from '@apokinema/core/testing/extent'
import { readTruth } from '@apokinema/demo'
import type { Page } from 'playwright-core'
import { expect, it } from 'vitest'
import { newWindow } from './browser.ts'
import { fingerOf, stagePlace, waitForFrame } from './page.ts'
import { pageTests } from './pageTests.ts'

/** The first measurement with fingers, on a phone and on a tablet. */

const given = pageTests({ background: ['survey'] })

/** Drags a finger from one point of the window to another. */
async function dragFinger(
  page: Page,
  from: { x: number; y: number },
  to: { x: number; y: number },
): Promise<void> {
  const touch = await fingerOf(page)
  await touch('touchStart', from)
  await touch('touchMove', { x: (from.x + to.x) / 2, y: (from.y + to.y) / 2 })
  await touch('touchMove', to)
  await touch('touchEnd')
}

const PHONE = ['a phone', { width: 390, height: 844 }] as const
const TABLET = ['a tablet', { width: 820, height: 1180 }] as const

it.each(IS_SLOW ? [PHONE, TABLET] : [PHONE])(
  'the net float is measured by six touches on %s',
  async (_, viewport) => {
    const truth = readTruth('net-float')
    const window = await newWindow(given.browser, { viewport, hasTouch: true, isMobile: true })
    const page = await window.newPage()
    page.setDefaultTimeout(120_000)
    await page.goto(given.server.origin)
    await page.getByRole('button', { name: 'Sample: Net float' }).tap()
    await waitForFrame(page, 0)
    let touches = 0
    const tap = async (name: string, role: 'button' | 'link' = 'button') => {
      touches++
      await page.getByRole(role, { name, exact: true }).first().tap()
    }
    await tap('Follow this?')
    // The sheet of what comes next is there by itself.
    await tap('Draw along something you know')
    const place = await stagePlace(page, truth)
    touches++
    await dragFinger(page, place(truth.reference.ends[0]), place(truth.reference.ends[1]))
    touches++
    const length = page.getByLabel('How long is it really?')
    await length.fill('1.40 m')
    await length.press('Enter')
    await tap('Graphs', 'link')
    const reading = page.locator('[data-proposed-reading]').first()
    await reading.waitFor()
    const value = Number(await reading.getAttribute('data-value'))
    expect(Math.abs(value / -9.81 - 1)).toBeLessThan(0.01)
    expect(touches).toBeLessThanOrEqual(6)
    // The page itself scrolls in no direction.
    const wide = await page.evaluate(() => document.documentElement.scrollWidth)
    expect(wide).toBeLessThanOrEqual(viewport.width)
    await window.close()
  },
)
