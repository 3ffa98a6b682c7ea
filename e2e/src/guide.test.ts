import { itAtLength } from '@apokinema/core/testing/extent'
import { readTruth } from '@apokinema/demo'
import type { Page } from 'playwright-core'
import { expect, it } from 'vitest'
import { accessibilityFaults } from './accessibility.ts'
import { drag, stagePlace } from './page.ts'
import { pageTests } from './pageTests.ts'
import { go } from './work.ts'

/** The guided first measurement, and help. */

const given = pageTests({ background: ['survey'] })

it('a newcomer is led from an empty list to g, by steps that notice when they are done', async () => {
  const { page, server } = given
  page.setDefaultTimeout(120_000)
  await go(server, page, '/')
  await page.getByRole('button', { name: 'First time? Step by step' }).click()
  const step = (name: string) => page.locator(`[data-guide-step="${name}"]`).waitFor()
  await step('follow')
  await page.getByRole('button', { name: 'Follow this?' }).click()
  await step('draw')
  await page.getByRole('button', { name: 'Draw along something you know' }).click()
  const truth = readTruth('net-float')
  const place = await stagePlace(page, truth)
  await drag(page, place(truth.reference.ends[0]), place(truth.reference.ends[1]))
  await step('length')
  await page.getByLabel('How long is it really?').fill('1.40 m')
  await page.getByLabel('How long is it really?').press('Enter')
  await step('graphs')
  // Left, it is gone; help leads back to it.
  await page.getByRole('button', { name: 'Leave' }).click()
  expect(await page.locator('[data-guide-step]').count()).toBe(0)
  await page.getByRole('button', { name: 'Help and keys' }).click()
  await page.getByRole('button', { name: 'Go on with the guided measurement' }).click()
  await step('graphs')
  await page.getByRole('link', { name: 'Graphs', exact: true }).click()
  await step('fit')
  await page.getByRole('button', { name: /^Take the fit/ }).click()
  await step('done')
  const value = Number(await page.locator('[data-reading]').first().getAttribute('data-value'))
  expect(Math.abs(value / -9.81 - 1)).toBeLessThan(0.01)
  // It is still there after the page is loaded anew.
  await page.reload()
  await step('done')
})

it('help is found by a word, by the keyboard, and opens a sample', async () => {
  const { page, server } = given
  await go(server, page, '/')
  await page.getByRole('button', { name: 'Help and keys' }).press('Enter')
  await page.getByLabel('Search in help').fill('pendulum pivot')
  await page.getByLabel('Search in help').press('Enter')
  const text = page.locator('[data-help-page]')
  await text.getByRole('heading', { name: 'A pendulum' }).waitFor()
  // Formulas are typeset.
  await text.locator('.katex').first().waitFor()
  await page.getByLabel('Search in help').fill('nothing has these words')
  await page.getByText('Nothing has all of these words').waitFor()
  await page.getByLabel('Search in help').fill('residual')
  await page.getByRole('button', { name: 'residual', exact: true }).click()
  await text.getByText('How far a point lies from the fitted curve').waitFor()
  await page.getByLabel('Search in help').fill('Free fall')
  await page.getByRole('button', { name: 'Free fall' }).click()
  await page.getByRole('button', { name: /Try it on the sample/ }).click()
  await page.locator('[data-stage] canvas[data-frame]').waitFor()
  expect(await page.getByLabel('Search in help').count()).toBe(0)
})

itAtLength(
  'what is proposed, the guide and recording keep WCAG 2.1 A and AA, as far as a program can tell',
  async () => {
    const beGuided = async (page: Page) => {
      await page.getByRole('button', { name: 'Help and keys' }).click()
      await page.getByRole('button', { name: 'Measure a first time, step by step' }).click()
      await page.getByRole('button', { name: 'Follow this?' }).waitFor()
    }
    const seeProposedFit = async (page: Page) => {
      await page.getByRole('button', { name: 'Sample: Net float' }).click()
      await page.getByRole('button', { name: 'Follow this?' }).click()
      await page.getByRole('button', { name: /^Take frames/ }).waitFor()
      await page.getByRole('link', { name: 'Graphs', exact: true }).click()
      await page.locator('[data-proposed-reading]').first().waitFor()
    }
    const faults = (path: string, ready: string, act?: (page: Page) => Promise<void>) =>
      accessibilityFaults(given.browser, given.server.origin + path, ready, act)
    expect(await faults('', 'button:has-text("Sample:")', beGuided)).toEqual([])
    expect(await faults('', 'button:has-text("Sample:")', seeProposedFit)).toEqual([])
    expect(await faults('/record', '[data-checks]')).toEqual([])
  },
)
