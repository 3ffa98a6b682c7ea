import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { API } from '@apokinema/core/api'
import { newSeries } from '@apokinema/core/series'
import { fill, readTruth } from '@apokinema/demo'
import type { Page } from 'playwright-core'
import { beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { pageTests } from './pageTests.ts'
import { CART_SERIES, numberIn, rowsOf, seriesOf } from './seriesPage.ts'
import { go, post } from './work.ts'

/** Clips become trials of a series: dropped together, recorded one after the other, filmed by a camera that was bumped or moved. */

const CARTS = join(import.meta.dirname, '../../demo/series')

const given = pageTests()
beforeAll(() => fill(given.server.origin))
let page: Page
beforeEach(() => {
  page = given.page
})

describe('clips that are dropped together on the first page', () => {
  it('become one series, whose trials wait for the first one to be measured', async () => {
    await go(given.server, page, '/')
    await page.getByLabel('Video file').setInputFiles(
      [8, 11].map((angle) => ({
        name: `Cart at ${angle}.mp4`,
        mimeType: 'video/mp4',
        buffer: readFileSync(join(CARTS, `cart-at-${angle}/footage.mp4`)),
      })),
    )
    await page.getByRole('link', { name: 'Measure Cart at 8' }).waitFor()
    expect(await rowsOf(page).count()).toBe(2)
    expect(await page.getByText('Not set up yet.').count()).toBe(2)
    expect(await page.title()).toContain('Cart at, 2 trials')
    // Taken out again, one stands by itself on the first page, and can be put back there.
    await page.getByRole('button', { name: 'More about Cart at 11', exact: true }).click()
    await page.getByRole('menuitem', { name: 'Take out of the series' }).click()
    await rowsOf(page).nth(1).waitFor({ state: 'detached' })
    await page.getByText(/^Saved/).waitFor()
    await go(given.server, page, '/')
    await page.getByRole('button', { name: 'More about Cart at 11', exact: true }).first().click()
    await page.getByRole('menuitem', { name: 'Put into a series …' }).click()
    await page.getByRole('combobox', { name: 'Series' }).selectOption({ label: 'Cart at, 2 trials' })
    await page.getByRole('button', { name: 'Put it in' }).click()
    await page.getByText('“Cart at 11” is a trial of “Cart at, 2 trials” now.').waitFor()
    await page.getByRole('link', { name: 'Open Cart at, 2 trials' }).first().click()
    await rowsOf(page).nth(1).waitFor()
  })
})

describe('a series that is recorded', () => {
  it('gets one trial after the other, with the camera left on', async () => {
    const id = crypto.randomUUID()
    await post(given.server, API.allSeries, { id, document: newSeries('Crane pebbles') })
    await go(given.server, page, `/series/${id}`)
    await page.getByRole('link', { name: 'Record the next' }).click()
    for (const title of ['Trial 1', 'Trial 2']) {
      await page.locator('[data-checks]').waitFor()
      await page.getByRole('button', { name: 'Record', exact: true }).click()
      await expect
        .poll(async () => Number.parseFloat((await page.getByRole('timer').textContent()) ?? '0'))
        .toBeGreaterThan(0.6)
      await page.getByRole('button', { name: 'Stop' }).click()
      await page.getByRole('button', { name: 'Keep' }).click()
      await page.getByText(`${title} was added. Film the next one, or go back to the trials.`).waitFor()
    }
    await page.getByRole('link', { name: 'Back to the trials' }).click()
    await rowsOf(page).nth(1).waitFor()
    await page.getByRole('link', { name: 'Measure Trial 1' }).waitFor()
  })
})

describe('a further clip of a camera', () => {
  const folder = mkdtempSync(join(tmpdir(), 'apokinema-moved-'))
  /** Returns the cart at 11° as another camera saw it. */
  const filmed = (name: string, filter: string) => {
    const path = join(folder, `${name}.mp4`)
    execFileSync('ffmpeg', [
      ...'-hide_banner -loglevel error -y -i'.split(' '),
      join(CARTS, 'cart-at-11/footage.mp4'),
      '-filter_complex',
      filter,
      ...'-c:v libx264 -crf 20 -preset veryfast -pix_fmt yuv420p'.split(' '),
      path,
    ])
    return { name: `${name}.mp4`, mimeType: 'video/mp4', buffer: readFileSync(path) }
  }

  beforeAll(() => {
    return () => rmSync(folder, { recursive: true, force: true })
  })

  it('that was bumped is taken along, and one that was moved has to be set up again', async () => {
    const id = crypto.randomUUID()
    // Of the demo's series, the first trial alone.
    const [source] = (await seriesOf(given.server, CART_SERIES)).trials
    const copy = crypto.randomUUID()
    await post(given.server, API.copies(source.id), { id: copy, readable: false })
    const { document } = await seriesOf(given.server, CART_SERIES)
    const { order, typed, leftOut, measuring } = document.trials[source.id]
    await post(given.server, API.allSeries, {
      id,
      document: {
        ...document,
        trials: { [copy]: { order, typed, leftOut, view: null, measuring } },
        fits: {},
      },
    })
    await go(given.server, page, `/series/${id}`)
    await rowsOf(page).first().locator('[data-value]').first().waitFor()
    const bumped = filmed(
      'bumped',
      'pad=iw+20:ih+20:10:10,crop=iw-20:ih-20:5:13,rotate=0.3*PI/180:c=gray,fillborders=left=12:right=12:top=12:bottom=12:mode=smear',
    )
    const moved = filmed(
      'moved',
      '[0]split[a][b];[a]crop=iw:408:0:0[t];[b]crop=iw:ih-408:0:408,pad=iw+24:ih:24:0,crop=iw-24:ih:0:0[u];[t][u]vstack',
    )
    await page.getByLabel('Clips of more trials').setInputFiles([bumped, moved])
    await page.getByText(/^Camera moved [\d.]+ px: taken along\.$/).waitFor()
    await page.getByText('The reference was moved: set the scale again.').waitFor()
    await page.locator('[data-queue]').waitFor({ state: 'detached' })
    const { document: after } = await seriesOf(given.server, id)
    const [first, second] = Object.values(after.trials)
      .sort((a, b) => a.order - b.order)
      .slice(1)
    expect(first.view).toMatchObject({ kind: 'moved' })
    expect(second).toMatchObject({ view: { kind: 'other' }, measuring: null })
    const { value, error } = await numberIn(rowsOf(page).nth(1).locator('[data-value]').nth(0))
    const { acceleration } = readTruth('cart-at-11', 'series').constants
    expect(Math.abs(value - acceleration)).toBeLessThan(Math.max(3 * error, 0.01 * acceleration))
    await rowsOf(page)
      .nth(2)
      .getByText('This trial has no scale yet.')
      .or(rowsOf(page).nth(2).getByText('Not measured yet.'))
      .first()
      .waitFor()
  })
})
