import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { API } from '@apokinema/core/api'
import { edit, edits } from '@apokinema/core/investigation'
import { normalSource, randomSource } from '@apokinema/core/random'
import { seriesEdits } from '@apokinema/core/series'
import { describeAtLength, itAtLength } from '@apokinema/core/testing/extent'
import { PLANK, PLANK_TRUTH, plankSeries, plankTrial, trialId } from '@apokinema/core/testing/plankSeries'
import { measuredSample, readTruth, sampleIds } from '@apokinema/demo'
import type { Page } from 'playwright-core'
import { beforeEach, describe, expect, it } from 'vitest'
import { accessibilityFaults } from './accessibility.ts'
import { newWindow } from './browser.ts'
import { reopen, waitForSaved } from './page.ts'
import { pageTests } from './pageTests.ts'
import { numberIn, rowsOf, seriesOf } from './seriesPage.ts'
import { go, idOf, investigationOf, openFile, openPrepared, post, workOn } from './work.ts'

/** Several trials are one piece of work: a table, means and laws. */

const CARTS = join(import.meta.dirname, '../../demo/series')
const cartTruth = (angle: number) => readTruth(`cart-at-${angle}`, 'series')
const BARREL = join(import.meta.dirname, '../../demo/samples/barrel-on-plank/footage.mp4')
const ANGLES = [5, 8, 11, 14, 17]

const given = pageTests()
let page: Page

const rows = () => rowsOf(page)

/** Returns slope and intercept of the law that is fitted. */
async function lawReadings() {
  const law = page.locator('[data-series-fit]')
  await law.locator('[data-reading=slope]').waitFor()
  const of = (reading: string) => numberIn(law.locator(`[data-reading=${reading}]`))
  return { slope: await of('slope'), intercept: await of('intercept') }
}

describeAtLength('a series of one', () => {
  it('begins with a measured investigation, and takes a further clip that is set up like it', async () => {
    page = given.page
    const ids = sampleIds('barrel-on-plank')
    const [{ position, body }] = ids.bodies
    const [stretch, fit] = [crypto.randomUUID(), crypto.randomUUID()]
    const { slope, acceleration } = readTruth('barrel-on-plank').constants
    const prepared = [
      ...measuredSample('barrel-on-plank', ids, 3, -slope),
      edits.changeGraph(position, { quantity: 'x' }),
      edits.addStretch(stretch, position, 14, 60),
      edits.addFit(fit, stretch, 'uniform-acceleration'),
    ]
    await openPrepared(given.server, page, 'barrel-on-plank', prepared)
    const first = idOf(page)
    await page.getByRole('button', { name: 'Measure again' }).click()
    await rows().first().locator('[data-value]').waitFor()
    expect(await rows().count()).toBe(1)
    const value = Number(await rows().first().locator('[data-value]').getAttribute('data-value'))
    expect(Math.abs(value - acceleration)).toBeLessThan(0.02 * acceleration)

    // It is registered, found, followed, and its stretch is placed, all by itself.
    await page.getByLabel('Clips of more trials').setInputFiles(BARREL)
    const measured = rows().nth(1).locator('[data-value]')
    await measured.waitFor()
    await page.locator('[data-queue]').waitFor({ state: 'detached' })
    const { value: again, error } = await numberIn(measured)
    expect(Math.abs(again - acceleration)).toBeLessThan(Math.min(3 * error, 0.02 * acceleration))
    await page.locator('[data-mean]').waitFor()
    await waitForSaved(page)
    await rows().nth(1).getByRole('link').last().click()
    await page.locator('[data-stage] canvas[data-frame]').waitFor()
    const [before, after] = await Promise.all(
      [first, idOf(page)].map(async (id) => (await investigationOf(given.server, id)).document),
    )
    const [[from], [to]] = [before, after].map(({ references }) => Object.values(references)[0].ends)
    expect(Math.hypot(from.x - to.x, from.y - to.y)).toBeLessThan(0.1)
    // The first one's axes lie along its motion, and so do the second one's.
    expect(Math.abs(after.axes[after.mainAxes].tilt + slope)).toBeLessThan(0.002)
    expect(Object.keys(after.bodies)).toEqual([body])
    expect(after.stretches[stretch].from).toBeGreaterThanOrEqual(12)
    expect(after.stretches[stretch].to).toBeLessThanOrEqual(67)
    await page.getByRole('link', { name: 'Barrel on plank, trials' }).click()
    await rows().nth(1).waitFor()
  })
})

describe('four clips that are dropped at once onto a measured one', () => {
  it('are measured by themselves, and give g and the resistance in twelve actions', async () => {
    page = given.page
    await openFile(given.server, page, join(CARTS, 'cart-at-5/footage.mp4'))
    const truth = cartTruth(5)
    const [body, position, velocity, reference, stretch, fit] = Array.from({ length: 6 }, () =>
      crypto.randomUUID(),
    )
    const hand = normalSource(randomSource(8))
    const rolling = truth.bodies[0].frames.filter(({ phase }) => phase === 'rolling')
    await workOn(
      given.server,
      page,
      edits.addReference(reference, [
        { ...truth.reference.ends[0], frame: 0 },
        { ...truth.reference.ends[1], frame: 0 },
      ]),
      edits.changeReference(reference, { length: truth.reference.length, name: 'tide staff' }),
      edits.addBody(body, { position, velocity }, 'cart'),
      (draft) => {
        for (const { frame, x, y } of truth.bodies[0].frames)
          edits.setMark(body, frame, { x: x + 0.3 * hand(), y: y + 0.3 * hand() })(draft)
      },
      edits.setAxes({
        origin: { x: rolling[0].x, y: rolling[0].y, frame: rolling[0].frame },
        tilt: -truth.constants.slope,
        tiltError: 0.0005,
      }),
      edits.changeGraph(position, { quantity: 'x' }),
      edits.addStretch(stretch, position, rolling[1].frame, rolling[rolling.length - 2].frame),
      edits.addFit(fit, stretch, 'uniform-acceleration'),
    )

    await reopen(page)

    await page.getByRole('button', { name: 'Measure again' }).click()
    await rows().first().locator('[data-value]').waitFor()
    await page.getByLabel('Clips of more trials').setInputFiles(
      [8, 11, 14, 17].map((angle) => ({
        name: `cart-at-${angle}.mp4`,
        mimeType: 'video/mp4',
        buffer: readFileSync(join(CARTS, `cart-at-${angle}/footage.mp4`)),
      })),
    )
    await page.getByRole('button', { name: 'Add a column' }).click()
    await page
      .getByRole('combobox', { name: 'What it holds' })
      .selectOption({ label: 'A reading of each trial' })
    await page.getByRole('combobox', { name: 'Reading' }).selectOption({ label: 'Slope angle of the x axis' })
    await page.getByRole('button', { name: 'Add the column' }).click()
    await page.getByRole('button', { name: 'Add a column' }).click()
    await page
      .getByRole('combobox', { name: 'What it holds' })
      .selectOption({ label: 'Calculated from other columns' })
    await page.getByLabel('Expression').fill('sin(theta)')
    await page.getByRole('button', { name: 'Add the column' }).click()
    // A row that comes now would move the button away from under the mouse.
    await rows().nth(4).waitFor()
    await page.getByRole('button', { name: 'Add a graph' }).click()
    await page.getByLabel('Fit a law through the trials').selectOption({ label: 'Straight line' })

    // Nobody has to wait for it here: it goes on while one looks at another trial.
    const series = new URL(page.url()).pathname.split('/')[2]
    await page.locator('[data-queue]').waitFor()
    await page
      .getByRole('link', { name: /^Open / })
      .first()
      .click()
    await page.locator('canvas[data-frame]').waitFor()
    await expect
      .poll(
        async () => {
          const { document } = await seriesOf(given.server, series)
          return Object.values(document.trials).filter(({ measuring }) => measuring !== null).length
        },
        { timeout: 200_000 },
      )
      .toBe(0)
    await page.getByTitle(/^To all trials of/).click()
    await page.locator('[data-queue]').waitFor({ state: 'detached' })
    expect(await page.locator('[data-question]').count()).toBe(0)
    await page.getByText('5 of 5 trials').waitFor()
    for (const [i, angle] of [5, 8, 11, 14, 17].entries()) {
      const { value, error } = await numberIn(rows().nth(i).locator('[data-value]').first())
      const { acceleration } = cartTruth(angle).constants
      expect(Math.abs(value - acceleration), `at ${angle}°`).toBeLessThan(
        Math.max(3 * error, 0.01 * acceleration),
      )
    }
    const { slope, intercept } = await lawReadings()
    // Resistance grows with the cosine, which makes the line a little steeper: by the resistance times the tangent.
    const g = 9.81 * (1 + 0.03 * Math.tan((11 * Math.PI) / 180))
    expect(Math.abs(slope.value - g)).toBeLessThan(Math.min(3 * slope.error, 0.02 * 9.81))
    const { resistance } = cartTruth(11).constants
    expect(Math.abs(intercept.value + resistance * 9.81)).toBeLessThan(3 * intercept.error)
    expect(intercept.value).toBeLessThan(0)
  })
})

describe('a series of five', () => {
  let id: string

  beforeEach(async () => {
    page = given.page
    id = crypto.randomUUID()
    const ids = ANGLES.map(() => crypto.randomUUID())
    for (const [i, trial] of ids.entries())
      await post(given.server, API.investigations, {
        id: trial,
        title: `Plank ${i + 1}`,
        document: { ...plankTrial(ANGLES[i], 50 + i), title: `Plank ${i + 1}` },
      })
    // As made before anything was typed: only what is read in each trial is there.
    const text = ANGLES.reduce(
      (all, _, i) => all.replaceAll(trialId(i), ids[i]),
      JSON.stringify(
        [PLANK.angle, PLANK.sine, PLANK.surface].reduce(
          (series, column) => edit(series, seriesEdits.removeColumn(column)).document,
          plankSeries(ANGLES),
        ),
      ),
    )
    await post(given.server, API.allSeries, { id, document: JSON.parse(text) })
    await go(given.server, page, `/series/${id}`)
    await rows().nth(4).locator('[data-value]').waitFor()
  })

  const addColumn = async (kind: string, fields: Record<string, string>) => {
    await page.getByRole('button', { name: 'Add a column' }).click()
    await page.getByRole('combobox', { name: 'What it holds' }).selectOption({ label: kind })
    for (const [label, text] of Object.entries(fields))
      await page.getByLabel(label, { exact: true }).fill(text)
    await page.getByRole('button', { name: 'Add the column' }).click()
    await page.getByRole('dialog').waitFor({ state: 'detached' })
  }
  const typeAngles = async () => {
    await addColumn('A condition: a number for each trial', {
      Name: 'plank angle',
      Symbol: 'theta',
      Unit: '°',
      'Error of each': '0.1',
    })
    for (const [i, angle] of ANGLES.entries()) {
      const field = page.getByLabel(`plank angle of Plank ${i + 1}`)
      await field.fill(String(angle))
      await field.press('Enter')
    }
  }
  const fitLine = async () => {
    await addColumn('Calculated from other columns', {
      Name: 'sine of the angle',
      Symbol: 's',
      Expression: 'sin(theta)',
    })
    await page.getByRole('button', { name: 'Add a graph' }).click()
    await page.getByLabel('Fit a law through the trials').selectOption({ label: 'Straight line' })
  }

  it('gives g and friction from a line against the sine of the angle that was typed', async () => {
    await typeAngles()
    await fitLine()
    const { slope, intercept } = await lawReadings()
    expect(Math.abs(slope.value - PLANK_TRUTH.g)).toBeLessThan(
      Math.min(3 * slope.error, 0.02 * PLANK_TRUTH.g),
    )
    expect(Math.abs(intercept.value + PLANK_TRUTH.friction)).toBeLessThan(3 * intercept.error)
    // Trials under different conditions have no mean.
    expect(await page.locator('[data-mean]').count()).toBe(0)
    await page.getByRole('button', { name: 'g, 9.81' }).click()
    await page.locator('[data-comparison]').waitFor()

    await waitForSaved(page)
    await page.reload()
    expect((await lawReadings()).slope.value).toBeCloseTo(slope.value, 9)
  })

  it('has a trial left out with its reason, and undo brings it back', async () => {
    await page.locator('[data-mean]').waitFor()
    const mean = () => page.locator('[data-mean]').getAttribute('data-value').then(Number)
    const whole = await mean()
    await page.getByRole('button', { name: 'More about Plank 5' }).click()
    await page.getByRole('menuitem', { name: 'Leave out …' }).click()
    await page.getByLabel('Reason').fill('It was pushed.')
    await page.getByRole('button', { name: 'Leave out', exact: true }).click()
    await page.getByText('Left out: It was pushed.').waitFor()
    await page.getByText('Mean of 4 trials').waitFor()
    expect(await mean()).toBeLessThan(whole)
    await page.getByRole('button', { name: 'Undo' }).click()
    await page.getByText('Mean of 5 trials').waitFor()
    expect(await mean()).toBeCloseTo(whole, 12)
  })

  it('opens a trial by its link in the same page, by keys, and in a tab of its own where that is asked for', async () => {
    const link = rows().nth(1).getByRole('link', { name: 'Plank 2', exact: true })
    const [opened] = await Promise.all([
      page.context().waitForEvent('page'),
      link.click({ modifiers: ['ControlOrMeta'] }),
    ])
    await opened.waitForURL(/\/investigations\//)
    await opened.close()
    expect(page.url()).toContain(`/series/${id}`)
    await page.evaluate(() => document.documentElement.setAttribute('data-stays', ''))
    for (const follow of [() => link.click(), () => link.press('Enter')]) {
      await follow()
      await page.waitForURL(/\/investigations\//)
      await page.goBack()
      await link.waitFor()
    }
    expect(await page.locator('html[data-stays]').count()).toBe(1)
  })

  it('says what is wrong with what is typed, and loses nothing', async () => {
    await typeAngles()
    const field = page.getByLabel('plank angle of Plank 1')
    await field.fill('twelve')
    await field.press('Enter')
    await page.getByText('A number such as 12.0 ± 0.5.').waitFor()
    await field.press('Escape')
    expect(await field.inputValue()).toBe('5.00 ± 0.10')
    await page.getByRole('button', { name: 'Add a column' }).click()
    await page
      .getByRole('combobox', { name: 'What it holds' })
      .selectOption({ label: 'Calculated from other columns' })
    await page.getByLabel('Name', { exact: true }).fill('odd')
    await page.getByLabel('Expression').fill('sin(beta)')
    await page.getByRole('button', { name: 'Add the column' }).click()
    await page.getByText('There is nothing called “beta”.').waitFor()
    await page.keyboard.press('Escape')
    await page.getByRole('dialog').waitFor({ state: 'detached' })
    expect(Object.keys((await seriesOf(given.server, id)).document.columns)).toHaveLength(2)
  })

  it('refuses a dropped file that is no film, by its name, and keeps the series as it is', async () => {
    const dropped = await page.evaluateHandle(() => {
      const data = new DataTransfer()
      data.items.add(new File(['no film'], 'notes.mp4', { type: 'video/mp4' }))
      return data
    })
    await page.dispatchEvent('main', 'drop', { dataTransfer: dropped })
    await page.getByText(/^notes\.mp4 was not added\./).waitFor()
    await page.getByRole('button', { name: 'Add trials' }).waitFor()
    expect(Object.keys((await seriesOf(given.server, id)).document.trials)).toHaveLength(5)
  })

  it('is worked on in two browsers: what one types in a cell, the other has at its next look', async () => {
    await typeAngles()
    await waitForSaved(page)
    const browser = await newWindow(given.browser)
    const other = await browser.newPage()
    await other.goto(`${given.server.origin}/series/${id}`)
    const theirs = other.getByLabel('plank angle of Plank 1')
    await theirs.fill('6.5')
    await theirs.press('Enter')
    await waitForSaved(other)
    await browser.close()
    const own = page.getByLabel('plank angle of Plank 2')
    await own.fill('9 ± 0.3')
    await own.press('Enter')
    // Saving its own edit, it hears of the other.
    await expect.poll(() => page.getByLabel('plank angle of Plank 1').inputValue()).toBe('6.50 ± 0.10')
    const { document } = await seriesOf(given.server, id)
    const typed = Object.values(document.trials).flatMap((trial) => Object.values(trial.typed))
    expect(typed).toContainEqual({ kind: 'number', value: 6.5, error: 0.1 })
    expect(typed).toContainEqual({ kind: 'number', value: 9, error: 0.3 })
  })

  it('stands as one card on the first page, in the place of its investigations', async () => {
    await go(given.server, page, '/')
    const card = page.locator('[data-series-card]', { hasText: 'Barrel at five angles' }).first()
    await card.getByText('series, 5 trials').waitFor()
    expect(await page.getByRole('link', { name: 'Plank 1', exact: true }).count()).toBe(0)
  })

  itAtLength('keeps WCAG 2.1 A and AA, as far as a program can tell', async () => {
    await typeAngles()
    await fitLine()
    await lawReadings()
    await waitForSaved(page)
    expect(
      await accessibilityFaults(
        given.browser,
        `${given.server.origin}/series/${id}`,
        '[data-series-fit] [data-reading]',
      ),
    ).toEqual([])
  })
})
