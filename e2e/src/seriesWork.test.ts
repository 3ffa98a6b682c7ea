import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { API, type OpenedInvestigation, type OpenedSeries } from '@apokinema/core/api'
import { edits, type ModelId } from '@apokinema/core/investigation'
import { newSeries } from '@apokinema/core/series'
import { describeAtLength, itAtLength } from '@apokinema/core/testing/extent'
import { fill, measuredSample, readTruth, sampleIds } from '@apokinema/demo'
import { entriesOf } from '@apokinema/server/testing/zips'
import type { Page } from 'playwright-core'
import { beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { downloaded } from './page.ts'
import { pageTests } from './pageTests.ts'
import { editorOf, paperOf, plain } from './reportPage.ts'
import { applyTo, go, post } from './work.ts'

/** What is done with the trials of a series: set up, measured, drawn over each other, shown in step, changed at once, taken away. */

const CARTS = join(import.meta.dirname, '../../demo/series')
/** The series of the demo data. */
const CART_SERIES = 'de300000-0000-4000-8000-000000010000'

const given = pageTests()
beforeAll(() => fill(given.server.origin))
let page: Page
beforeEach(() => {
  page = given.page
})

const seriesOf = async (id: string) =>
  (await (await fetch(given.server.origin + API.series(id))).json()) as OpenedSeries
const investigationOf = async (id: string) =>
  (await (await fetch(given.server.origin + API.investigation(id))).json()) as OpenedInvestigation

const rows = () => page.locator('[data-trial]')

/** Returns the value and the error that an element has. */
async function numberIn(locator: ReturnType<Page['locator']>): Promise<{ value: number; error: number }> {
  const [value, error] = await Promise.all(
    ['data-value', 'data-error'].map((name) => locator.getAttribute(name)),
  )
  return { value: Number(value), error: Number(error) }
}

/** Returns the first reading of each trial, in order. */
async function readings(count: number) {
  const all = []
  for (let i = 0; i < count; i++) all.push(await numberIn(rows().nth(i).locator('[data-value]').first()))
  return all
}

/** Opens a series of samples from the first page, measures its first trial, and has the others set up and measured like it. */
async function measureSampleSeries(
  title: string,
  first: { sample: string; quantity: string; model: ModelId; stretch: [number, number] },
): Promise<void> {
  await go(given.server, page, '/')
  await page.getByRole('button', { name: `Series: ${title}` }).click()
  await page.getByRole('link', { name: /^Measure / }).waitFor()
  const id = new URL(page.url()).pathname.split('/')[2]
  const [trial] = (await seriesOf(id)).trials
  const ids = sampleIds(first.sample, 'series')
  const [{ position }] = ids.bodies
  const stretch = crypto.randomUUID()
  await applyTo(given.server, trial.id, [
    ...measuredSample(first.sample, ids, 5, 0, 'series'),
    edits.changeGraph(position, { quantity: first.quantity }),
    edits.addStretch(stretch, position, ...first.stretch),
    edits.addFit(crypto.randomUUID(), stretch, first.model),
  ])
  await page.reload()
  await page.getByRole('button', { name: /^Set up and measure the other/ }).click()
  await page.locator('[data-queue]').waitFor()
}

const everythingIsMeasured = () => page.locator('[data-queue]').waitFor({ state: 'detached' })

const LANTERNS = [
  'Lanterns with one to five leads',
  {
    sample: 'lantern-with-1',
    quantity: 'y',
    model: 'uniform',
    stretch: [45, 100],
  },
] as const satisfies Parameters<typeof measureSampleSeries>

/** Holds the terminal speeds of the first trials against the truth. */
async function expectTerminalSpeeds(count: number): Promise<void> {
  for (const [i, { value, error }] of (await readings(count)).entries()) {
    const { terminalSpeed } = readTruth(`lantern-with-${i + 1}`, 'series').constants
    expect(Math.abs(-value - terminalSpeed), `${i + 1} leads`).toBeLessThan(
      Math.min(3.5 * error, 0.01 * terminalSpeed),
    )
  }
}

describeAtLength('a series of samples', () => {
  it('gives the terminal speeds of lanterns with one to five leads', async () => {
    await measureSampleSeries(...LANTERNS)
    await everythingIsMeasured()
    await expectTerminalSpeeds(5)
  })

  it('gives the same g in five throws of the net float', async () => {
    const flying = readTruth('net-float-1', 'series').bodies[0].frames.filter(
      ({ phase }) => phase === 'flying',
    )
    await measureSampleSeries('Net float, five throws', {
      sample: 'net-float-1',
      quantity: 'y',
      model: 'uniform-acceleration',
      stretch: [flying[1].frame, flying[flying.length - 2].frame],
    })
    await everythingIsMeasured()
    for (const { value, error } of await readings(5))
      expect(Math.abs(value + 9.81)).toBeLessThan(Math.min(3.5 * error, 0.01 * 9.81))
    const mean = await numberIn(page.locator('[data-mean]'))
    expect(Math.abs(mean.value + 9.81)).toBeLessThan(3 * mean.error)
    await page.getByText('The trials scatter as their own errors promise.').waitFor()
  })

  it('gives the angular frequency of the swing boat on ropes of four lengths', async () => {
    await measureSampleSeries('Swing boat at four rope lengths', {
      sample: 'swing-boat-at-120',
      quantity: 'x',
      model: 'damped-swing',
      stretch: [14, 239],
    })
    await everythingIsMeasured()
    for (const [i, { value, error }] of (await readings(4)).entries()) {
      const { g, length, amplitude } = readTruth(
        `swing-boat-at-${[120, 160, 200, 225][i]}`,
        'series',
      ).constants
      // It swings with less than its first amplitude, which makes it slower by θ²/16 at most.
      const [slowest, fastest] = [1 - amplitude ** 2 / 16, 1].map((factor) => factor * Math.sqrt(g / length))
      expect(value).toBeGreaterThan(slowest - 3.5 * error)
      expect(value).toBeLessThan(fastest + 3.5 * error)
    }
  })
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
    expect(await rows().count()).toBe(2)
    expect(await page.getByText('Not set up yet.').count()).toBe(2)
    expect(await page.title()).toContain('Cart at, 2 trials')
    // Taken out again, one stands by itself on the first page, and can be put back there.
    await page.getByRole('button', { name: 'More about Cart at 11', exact: true }).click()
    await page.getByRole('menuitem', { name: 'Take out of the series' }).click()
    await rows().nth(1).waitFor({ state: 'detached' })
    await page.getByText(/^Saved/).waitFor()
    await go(given.server, page, '/')
    await page.getByRole('button', { name: 'More about Cart at 11', exact: true }).first().click()
    await page.getByRole('menuitem', { name: 'Put into a series …' }).click()
    await page.getByRole('combobox', { name: 'Series' }).selectOption({ label: 'Cart at, 2 trials' })
    await page.getByRole('button', { name: 'Put it in' }).click()
    await page.getByText('“Cart at 11” is a trial of “Cart at, 2 trials” now.').waitFor()
    await page.getByRole('link', { name: 'Open Cart at, 2 trials' }).first().click()
    await rows().nth(1).waitFor()
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
    await rows().nth(1).waitFor()
    await page.getByRole('link', { name: 'Measure Trial 1' }).waitFor()
  })
})

describe('a series that is measured', () => {
  beforeEach(async () => {
    await go(given.server, page, `/series/${CART_SERIES}`)
    await page.locator('[data-series-fit] [data-reading=slope]').waitFor()
  })

  /** Returns the trial of an angle as the demo data have it. */
  const trialAt = async (angle: number) => {
    const { trials } = await seriesOf(CART_SERIES)
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
    const { document } = await seriesOf(CART_SERIES)
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
      const { document } = await investigationOf(await trialAt(angle))
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
    await rows().nth(4).waitFor()
  })

  it('stands there with its numbers before its trials are loaded, and never with old ones', async () => {
    const shown = await readings(5)
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
    const { document } = await investigationOf(changed)
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
    await rows().nth(4).locator('[data-value]').nth(1).waitFor()
    for (const i of [0, 2, 3, 4])
      expect(await numberIn(rows().nth(i).locator('[data-value]').first())).toEqual(shown[i])
    // Only the sine of its angle, which was typed.
    expect(await rows().nth(1).locator('[data-value]').count()).toBe(1)
    release()
    await rows().nth(1).locator('[data-value]').nth(1).waitFor()
    await page.unroute(trials)
    expect((await readings(5))[1]).not.toEqual(shown[1])
    await applyTo(given.server, changed, [edits.changeFit(fit, { robust: document.fits[fit].robust })])
  })

  it('says where trials differ from the first one, changes all at once, and undo brings them back', async () => {
    const [first, third] = [await trialAt(5), await trialAt(11)]
    const { document } = await investigationOf(first)
    const [fit] = Object.keys(document.fits)
    await applyTo(given.server, first, [edits.changeFit(fit, { name: 'down the plank' })])
    await page.evaluate(() => window.dispatchEvent(new Event('focus')))
    await page.getByText('4 trials differ from Cart at 5° in fits and expected values.').waitFor()
    await page.getByRole('button', { name: 'Make all alike' }).click()
    await page.getByText('4 trials were changed.').waitFor()
    await page.locator('[data-differing]').waitFor({ state: 'detached' })
    expect((await investigationOf(third)).document.fits[fit].name).toBe('down the plank')
    await page.getByRole('button', { name: 'Undo' }).last().click()
    await page.getByText('4 trials differ from Cart at 5°').waitFor()
    expect((await investigationOf(third)).document.fits[fit].name).toBe('')

    // What was changed elsewhere in the meantime stays, is named, and can be changed after that.
    await applyTo(given.server, third, [edits.changeFit(fit, { name: 'by another' })])
    await page.getByRole('button', { name: 'Make all alike' }).click()
    await page.getByText('3 trials were changed. The same thing was changed elsewhere').waitFor()
    await page.getByText('Cart at 11° differs from Cart at 5° in fits').waitFor()
    expect((await investigationOf(third)).document.fits[fit].name).toBe('by another')
    await page.getByRole('button', { name: 'Make it alike' }).click()
    await page.locator('[data-differing]').waitFor({ state: 'detached' })
    expect((await investigationOf(third)).document.fits[fit].name).toBe('down the plank')
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
    const shown = await readings(5)
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
    const [source] = (await seriesOf(CART_SERIES)).trials
    const copy = crypto.randomUUID()
    await post(given.server, API.copies(source.id), { id: copy, readable: false })
    const { document } = await seriesOf(CART_SERIES)
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
    await rows().first().locator('[data-value]').first().waitFor()
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
    const { document: after } = await seriesOf(id)
    const [first, second] = Object.values(after.trials)
      .sort((a, b) => a.order - b.order)
      .slice(1)
    expect(first.view).toMatchObject({ kind: 'moved' })
    expect(second).toMatchObject({ view: { kind: 'other' }, measuring: null })
    const { value, error } = await numberIn(rows().nth(1).locator('[data-value]').nth(0))
    const { acceleration } = readTruth('cart-at-11', 'series').constants
    expect(Math.abs(value - acceleration)).toBeLessThan(Math.max(3 * error, 0.01 * acceleration))
    await rows()
      .nth(2)
      .getByText('This trial has no scale yet.')
      .or(rows().nth(2).getByText('Not measured yet.'))
      .first()
      .waitFor()
  })
})
