import { API } from '@apokinema/core/api'
import { edits } from '@apokinema/core/investigation'
import { itAtLength } from '@apokinema/core/testing/extent'
import { fill, readTruth } from '@apokinema/demo'
import { entriesOf } from '@apokinema/server/testing/zips'
import type { Page } from 'playwright-core'
import { beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { downloaded } from './page.ts'
import { pageTests } from './pageTests.ts'
import { editorOf, paperOf, plain } from './reportPage.ts'
import { CART_SERIES, numberIn, readingsOf, rowsOf, seriesOf } from './seriesPage.ts'
import { applyTo, go, investigationOf } from './work.ts'

/** What is done with the trials of a series: drawn over each other, shown in step, changed at once, calculated with, taken away. */

const given = pageTests()
beforeAll(() => fill(given.server.origin))
let page: Page
beforeEach(() => {
  page = given.page
})

describe('a series that is measured', () => {
  beforeEach(async () => {
    await go(given.server, page, `/series/${CART_SERIES}`)
    await page.locator('[data-series-fit] [data-reading=slope]').waitFor()
  })

  /** Returns the trial of an angle as the demo data have it. */
  const trialAt = async (angle: number) => {
    const { trials } = await seriesOf(given.server, CART_SERIES)
    return trials.find(({ title }) => title === `Cart at ${angle}°`)!.id
  }

  /** Draws the motions over each other, and returns their place. */
  const overlaid = async () => {
    await page.getByRole('button', { name: 'Overlay the motions' }).click()
    return page.locator('[data-motion]').last()
  }
  const removeOverlay = async () => {
    await page.getByRole('button', { name: 'More about x of Cart, all trials' }).click()
    await page.getByRole('menuitem', { name: 'Remove' }).click()
    await page.locator('[data-motion]').waitFor({ state: 'detached' })
  }

  it('has its motions over each other from the release on', async () => {
    const motion = await overlaid()
    await motion.getByRole('list', { name: 'Trials in this graph' }).getByText('Cart at 17°').waitFor()
    await motion
      .getByLabel('Moment at which the trials are aligned')
      .selectOption({ label: 'a level crossed' })
    const level = motion.getByLabel('Level, m')
    await level.fill('-1')
    await level.press('Enter')
    const { document } = await seriesOf(given.server, CART_SERIES)
    expect(Object.values(document.motions)).toHaveLength(1)
    await removeOverlay()
  })

  itAtLength('has all trials in one still', async () => {
    const motion = await overlaid()
    await motion.getByRole('button', { name: 'Still …' }).click()
    await page.getByRole('button', { name: 'Make it' }).click()
    const still = page.locator('img[data-chrono]')
    await still.waitFor()
    expect(
      await still.evaluate((image: HTMLImageElement) =>
        image.decode().then(() => [image.naturalWidth, image.naturalHeight]),
      ),
    ).toEqual([960, 540])
    await page.keyboard.press('Escape')
    await page.getByRole('dialog').waitFor({ state: 'detached' })
    await removeOverlay()
  })

  it('shows the films of two trials at the same time after the release, and how their readings differ', async () => {
    await page.getByRole('button', { name: 'Two trials in step' }).click()
    await page.getByLabel('Second trial').selectOption({ label: 'Cart at 11°' })
    const films = page.locator('[data-in-step] canvas[data-frame]')
    // The film that stood there before goes with the address, which may take a moment.
    await page.getByRole('img', { name: /^Cart at 11°, frame/ }).waitFor()
    const slider = page.getByRole('slider')
    for (let n = 0; n < 9; n++) await slider.press('ArrowRight')
    const time = Number(await page.locator('[data-time]').getAttribute('data-time'))
    for (const [i, angle] of [5, 11].entries()) {
      const { document } = await investigationOf(given.server, await trialAt(angle))
      const [{ from }] = Object.values(document.stretches)
      const frame = Number(await films.nth(i).getAttribute('data-frame'))
      // The stretch begins at its frame; films have 30 frames a second.
      expect(Math.abs((frame - from) / 30 - time), `at ${angle}°`).toBeLessThanOrEqual(0.5 / 30 + 1e-6)
    }
    const cell = page.getByRole('table', { name: 'Differences' }).getByRole('row', { name: /^Acceleration/ })
    const [difference, error] = await Promise.all(
      ['data-difference', 'data-error'].map(async (name) =>
        Number(await cell.locator('[data-difference]').getAttribute(name)),
      ),
    )
    const truth = [5, 11].map((angle) => readTruth(`cart-at-${angle}`, 'series').constants.acceleration)
    expect(Math.abs(difference - (truth[1] - truth[0]))).toBeLessThan(3.5 * error)
    await page.getByRole('button', { name: 'All trials' }).click()
    await rowsOf(page).nth(4).waitFor()
  })

  it('stands there with its numbers before its trials are loaded, and never with old ones', async () => {
    const shown = await readingsOf(page, 5)
    const keptTrials = () =>
      page.evaluate(
        (series) =>
          new Promise<number>((resolve, reject) => {
            const opening = indexedDB.open('apokinema')
            opening.onerror = () => reject(opening.error)
            opening.onsuccess = () => {
              const asked = opening.result.transaction('numbers').objectStore('numbers').get(series)
              asked.onsuccess = () => {
                opening.result.close()
                resolve(asked.result?.trials.size ?? 0)
              }
            }
          }),
        CART_SERIES,
      )
    await expect.poll(keptTrials).toBe(5)
    const changed = await trialAt(8)
    const { document } = await investigationOf(given.server, changed)
    const [fit] = Object.keys(document.fits)
    await applyTo(given.server, changed, [edits.changeFit(fit, { robust: 'bisquare' })])

    let release = () => {}
    const held = new Promise<void>((resolve) => {
      release = resolve
    })
    const trials = `**${API.trials(CART_SERIES)}*`
    await page.route(trials, async (route) => {
      await held
      await route.continue()
    })
    await page.reload()
    // What follows from what was typed stands there even earlier.
    await rowsOf(page).nth(4).locator('[data-value]').nth(1).waitFor()
    for (const i of [0, 2, 3, 4])
      expect(await numberIn(rowsOf(page).nth(i).locator('[data-value]').first())).toEqual(shown[i])
    // Only the sine of its angle, which was typed.
    expect(await rowsOf(page).nth(1).locator('[data-value]').count()).toBe(1)
    release()
    await rowsOf(page).nth(1).locator('[data-value]').nth(1).waitFor()
    await page.unroute(trials)
    expect((await readingsOf(page, 5))[1]).not.toEqual(shown[1])
    await applyTo(given.server, changed, [edits.changeFit(fit, { robust: document.fits[fit].robust })])
  })

  it('says where trials differ from the first one, changes all at once, and undo brings them back', async () => {
    const [first, third] = [await trialAt(5), await trialAt(11)]
    const { document } = await investigationOf(given.server, first)
    const [fit] = Object.keys(document.fits)
    await applyTo(given.server, first, [edits.changeFit(fit, { name: 'down the plank' })])
    await page.evaluate(() => window.dispatchEvent(new Event('focus')))
    await page.getByText('4 trials differ from Cart at 5° in fits and expected values.').waitFor()
    await page.getByRole('button', { name: 'Make all alike' }).click()
    await page.getByText('4 trials were changed.').waitFor()
    await page.locator('[data-differing]').waitFor({ state: 'detached' })
    expect((await investigationOf(given.server, third)).document.fits[fit].name).toBe('down the plank')
    await page.getByRole('button', { name: 'Undo' }).last().click()
    await page.getByText('4 trials differ from Cart at 5°').waitFor()
    expect((await investigationOf(given.server, third)).document.fits[fit].name).toBe('')

    // What was changed elsewhere in the meantime stays, is named, and can be changed after that.
    await applyTo(given.server, third, [edits.changeFit(fit, { name: 'by another' })])
    await page.getByRole('button', { name: 'Make all alike' }).click()
    await page.getByText('3 trials were changed. The same thing was changed elsewhere').waitFor()
    await page.getByText('Cart at 11° differs from Cart at 5° in fits').waitFor()
    expect((await investigationOf(given.server, third)).document.fits[fit].name).toBe('by another')
    await page.getByRole('button', { name: 'Make it alike' }).click()
    await page.locator('[data-differing]').waitFor({ state: 'detached' })
    expect((await investigationOf(given.server, third)).document.fits[fit].name).toBe('down the plank')
    await applyTo(given.server, first, [edits.changeFit(fit, { name: '' })])
    await page.evaluate(() => window.dispatchEvent(new Event('focus')))
    await page.getByRole('button', { name: 'Make all alike' }).click()
    await page.locator('[data-differing]').waitFor({ state: 'detached' })
  })

  it('is calculated in and taken away, with the numbers that are shown', async () => {
    await page.getByRole('button', { name: 'Calculate something …' }).click()
    await page.getByLabel('What it is').fill('Rolling resistance')
    await page.getByLabel('Symbol').fill('mu')
    await page.getByLabel('Formula').fill('-c0_1/k_1')
    await page.getByRole('button', { name: 'Keep it' }).click()
    const resistance = await numberIn(page.locator('[data-calculation=mu] [data-result]'))
    expect(Math.abs(resistance.value - 0.03)).toBeLessThan(3 * resistance.error)

    const take = async (name: string) =>
      downloaded(page, async () => {
        await page.getByRole('button', { name: 'Take away' }).click()
        await page.getByRole('menuitem', { name }).click()
      })
    const shown = await readingsOf(page, 5)
    const csv = (await take('Table as CSV')).body.toString('utf8')
    const lines = csv.split('\r\n')
    expect(lines[0]).toContain('Acceleration (m/s²)')
    for (const [i, { value }] of shown.entries()) expect(lines[i + 1]).toContain(`,${value},`)
    const json = JSON.parse((await take('Table and results as JSON')).body.toString('utf8'))
    expect(json.calculations[0].result.value).toBe(resistance.value)
    expect(json.columns.find(({ name }: { name: string }) => name === 'Acceleration').values).toEqual(
      shown.map(({ value }) => value),
    )
    expect([...(await entriesOf((await take('Table and results as XLSX')).body)).keys()]).toContain(
      'xl/workbook.xml',
    )
    const trials = [...(await entriesOf((await take('All trials as ZIP')).body)).keys()]
    expect(trials.filter((name) => name.startsWith('trials/'))).toHaveLength(5)
  })

  it('is written about in a report, which follows the trials and leaves as files', async () => {
    const slopeNow = async () =>
      /[\d.]+ ± [\d.]+/.exec((await page.locator('[data-reading=slope]').textContent())!)![0]
    const before = await slopeNow()
    await page.getByRole('button', { name: 'Overlay the motions' }).click()
    await page.getByRole('button', { name: 'Put the table of trials into the report' }).click()
    await page.getByRole('button', { name: 'Put law 1 into the report' }).click()
    await page.getByRole('link', { name: 'Report' }).click()
    const paper = paperOf(page)
    const text = async () => plain((await paper.textContent())!)
    await paper.locator('[data-block=table]').waitFor()
    await paper.locator('[data-block=result]').waitFor()

    // Both are taken back; then a template has them and more.
    await page.keyboard.press('Control+z')
    await page.keyboard.press('Control+z')
    await page.getByRole('button', { name: /^Lab report/ }).click()
    // A plot is drawn when it is looked at.
    await paper.locator('.graph-picture').first().scrollIntoViewIfNeeded()
    await paper.locator('.graph-picture[data-drawn="true"]').first().waitFor()
    await editorOf(page).locator('p').first().click()
    await page.keyboard.type('Its g is =slope')
    await page
      .getByRole('option', { name: /^Slope/ })
      .first()
      .click()
    await expect.poll(text).toContain(`Its g is ${plain(before)}`)
    await paper.getByRole('cell', { name: 'Cart at 17°' }).waitFor()
    await page.getByRole('button', { name: /^All trials in one still/ }).click()
    const still = paper.locator('.chrono img')
    await still.waitFor()

    const take = (name: string) =>
      downloaded(page, () => page.getByRole('button', { name, exact: true }).click())
    const word = await entriesOf((await take('Word document')).body)
    expect(/<m:oMath[ >]/.test(word.get('word/document.xml')!.toString('utf8'))).toBe(true)
    const markdown = await entriesOf((await take('Markdown with pictures')).body)
    const written = [...markdown].find(([name]) => name.endsWith('.md'))![1].toString('utf8')
    expect(plain(written)).toContain(plain(before))
    // The graph, the motions and the still.
    expect([...markdown.keys()].filter((name) => /\.(svg|png)$/.test(name)).length).toBeGreaterThan(2)

    // A trial that does not count changes the law, and what is written of it.
    await page.getByRole('link', { name: 'Trials' }).click()
    await page.getByRole('button', { name: 'More about Cart at 5°' }).click()
    await page.getByRole('menuitem', { name: /^Leave out/ }).click()
    await page.getByRole('dialog').getByRole('textbox').fill('It was pushed.')
    await page.getByRole('dialog').getByRole('button', { name: 'Leave out' }).click()
    await page.getByRole('dialog').waitFor({ state: 'detached' })
    const after = await slopeNow()
    expect(after).not.toBe(before)
    await page.getByRole('link', { name: 'Report' }).click()
    await expect.poll(text).toContain(`Its g is ${plain(after)}`)
    expect(await text()).toContain('Cart at 5° does not count: It was pushed.')
    expect(Number(await page.locator('[data-changed]').getAttribute('data-changed'))).toBeGreaterThan(3)

    // What it showed is gone: it says so, and shows nothing old.
    await page.getByRole('link', { name: 'Trials' }).click()
    await page.getByRole('button', { name: 'More about law 1' }).click()
    await page.getByRole('menuitem', { name: 'Remove' }).click()
    await page.getByRole('link', { name: 'Report' }).click()
    await expect.poll(text).toContain('Its g is no longer there')
    expect(await text()).not.toContain(plain(after))
  })
})
