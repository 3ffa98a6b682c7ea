import { analyse } from '@apokinema/core/analysis'
import { edits, type Recipe } from '@apokinema/core/investigation'
import { readingOf } from '@apokinema/core/report'
import { measurement } from '@apokinema/core/units'
import { measuredSample, readTruth, sampleIds } from '@apokinema/demo'
import type { Page } from 'playwright-core'
import { beforeEach, describe, expect, it } from 'vitest'
import { openRow, waitForSaved } from './page.ts'
import { pageTests } from './pageTests.ts'
import { readPdf } from './pdf.ts'
import { documentOf, openPrepared } from './work.ts'

/** The report through the page: written, filled with live things, corrected, printed. */

const given = pageTests()
let page: Page
const STRETCH = crypto.randomUUID()
const FIT = crypto.randomUUID()

beforeEach(() => {
  page = given.page
})

/** Returns the work up to a fitted parabola on the flight of the net float. */
function fittedFloat(): Recipe[] {
  const ids = sampleIds('net-float')
  const { position } = ids.bodies[0]
  const flying = readTruth('net-float').bodies[0].frames.filter(({ phase }) => phase === 'flying')
  return [
    ...measuredSample('net-float', ids, 11),
    edits.changeGraph(position, { quantity: 'y' }),
    edits.addStretch(STRETCH, position, flying[0].frame, flying[flying.length - 1].frame),
    edits.addFit(FIT, STRETCH, 'uniform-acceleration'),
  ]
}

const button = (name: string | RegExp) => page.getByRole('button', { name })
const paper = () => page.getByRole('article', { name: 'Page' })
const editor = () => page.getByRole('textbox', { name: 'Report', exact: true })

const documentNow = async () => {
  await waitForSaved(page)
  return (await documentOf(given.server, page)).document
}

/** Returns a text with plain spaces. */
const plain = (text: string) =>
  text.replace(/[\s\u00a0\u2009\u202f]+/g, ' ').replace(/[\u200b\u2060\ufeff]/g, '')
const paperText = async () => plain((await paper().textContent())!)

/** Returns the acceleration of the fit as it is written, from the document as the server has it. */
async function accelerationNow(): Promise<string> {
  const { value, error, unit } = readingOf(analyse(await documentNow()).fit(FIT)!, 'acceleration')!
  return plain(measurement(value, error, unit))
}

/** Corrects the length of the reference at the Measure view, and comes back to the report. */
async function correctReference(length: string): Promise<void> {
  await page.getByRole('link', { name: 'Measure' }).click()
  await openRow(page, /Tide staff/)
  const field = page.getByLabel('How long is it really?')
  await field.fill(length)
  await field.press('Enter')
  await page.getByRole('link', { name: 'Report' }).click()
  await editor().waitFor()
  await waitForSaved(page)
}

/** Returns the drawing of a graph that follows, or of the one that is pinned. */
async function drawing(which: 'live' | 'pinned'): Promise<string> {
  const figure =
    which === 'live'
      ? paper().locator('.graph-picture').first()
      : paper().locator('[data-block=figure]').last()
  // It is drawn once it is in view.
  await figure.scrollIntoViewIfNeeded()
  if (which === 'live') await paper().locator('.graph-picture[data-drawn="true"]').first().waitFor()
  return figure.locator('svg').last().innerHTML()
}

/** Prints the page as the print button does, without the browser's dialog. */
async function print(): Promise<Buffer> {
  await page.evaluate(() => {
    window.print = () => document.documentElement.setAttribute('data-printed', '')
  })
  await button('Print or PDF').click()
  await page.locator('html[data-printed]').waitFor()
  await page.evaluate(() => document.documentElement.removeAttribute('data-printed'))
  return page.pdf({ preferCSSPageSize: true, printBackground: true })
}

describe('a lab report on the net float', () => {
  it('is written in the page: a live value, an equation and an answer', async () => {
    await openPrepared(given.server, page, 'net-float', fittedFloat(), 'report')
    await button(/^Lab report/).click()
    await editor().locator('p').first().click()
    await page.keyboard.type('The float falls with =accel')
    await page
      .getByRole('option', { name: /^Acceleration/ })
      .first()
      .waitFor()
    await page.keyboard.press('Enter')
    await page.keyboard.type('and not faster.')
    const acceleration = await accelerationNow()
    expect(await paperText()).toContain(`The float falls with ${acceleration} and not faster.`)

    await page.keyboard.press('Enter')
    await page.keyboard.type('/equation')
    await page.getByRole('option', { name: /^Equation on a line/ }).click()
    await page.getByLabel('Equation', { exact: true }).fill('mu = F/N')
    await page.keyboard.press('Enter')
    const equation = paper().locator('[data-block="equation"]')
    await equation.locator('.mfrac').waitFor()
    expect(await equation.locator('.katex-html').textContent()).toContain('μ')

    await editor().locator('p').last().click()
    await page.keyboard.type('/question')
    await page.getByRole('option', { name: /^Question/ }).click()
    await expect
      .poll(() =>
        page.getByLabel('Question', { exact: true }).evaluate((field) => field === document.activeElement),
      )
      .toBe(true)
    await page.keyboard.type('What slowed it?')
    await page.keyboard.press('Enter')
    await page.keyboard.type('The air.')
    const { report } = await documentNow()
    const blocks = Object.values(report.blocks)
    const kinds = blocks.map(({ kind }) => kind)
    expect(kinds).toEqual(
      expect.arrayContaining(['graph', 'fit', 'table', 'method', 'chronophotograph', 'reading']),
    )
    expect(blocks.find(({ kind }) => kind === 'question')).toMatchObject({
      question: 'What slowed it?',
      answer: [{ kind: 'text', text: 'The air.' }],
    })
    expect(blocks.find(({ kind }) => kind === 'equation')).toMatchObject({
      tex: expect.stringMatching(/\\mu.*\\frac/),
    })
  })

  it('gets a graph in one click from the graphs, and one that is pinned', async () => {
    await page.getByRole('link', { name: 'Graphs' }).click()
    await button(/^Put .* into the report$/)
      .first()
      .click()
    await page.getByRole('link', { name: 'Report' }).click()
    await editor().waitFor()
    const figures = paper().locator('[data-block=figure]')
    await expect.poll(() => figures.count()).toBe(4)
    await figures.last().click()
    await button('Pin as it is now').click()
    await paper()
      .getByText(/^pinned 20/)
      .waitFor()
    await page.getByText(/stays as it was/).waitFor()
  })

  it('prints on A4 with its text, its numbers and its fonts', async () => {
    const pdf = await readPdf(await print())
    const all = plain(pdf.pages.map(({ text }) => text).join(' '))
    expect(pdf.pages.length).toBeGreaterThan(1)
    for (const { width, height } of pdf.pages) {
      expect(width).toBeCloseTo(210, 0)
      expect(height).toBeCloseTo(297, 0)
    }
    expect(all).toContain('Net float')
    expect(all).toContain(`falls with ${await accelerationNow()} and not faster`)
    expect(all).toContain('What slowed it?')
    expect(all).not.toContain('Put in')
    expect(pdf.fonts.size).toBeGreaterThan(1)
    expect([...pdf.fonts].filter(([, { isEmbedded }]) => !isEmbedded)).toEqual([])
    await page.locator('[data-changed="0"]').waitFor()
  })

  it('follows a corrected reference, keeps the pinned graph, and tells what has changed since it was printed', async () => {
    const before = await accelerationNow()
    const [live, pinned] = [await drawing('live'), await drawing('pinned')]
    await correctReference('1.54 m')
    const after = await accelerationNow()
    expect(after).not.toBe(before)
    await expect.poll(paperText).toContain(`falls with ${after} and not faster`)
    expect(await paperText()).not.toContain(`falls with ${before}`)
    await expect.poll(() => drawing('live')).not.toBe(live)
    expect(await drawing('pinned')).toBe(pinned)

    const list = page.locator('[data-changed]')
    const changed = await list.getByRole('button').allTextContents()
    // Text, graph, fit, table, reading and method show lengths; question, equation, pictures and the pinned graph do not.
    expect(changed).toEqual(
      expect.arrayContaining([expect.stringMatching(/^The float falls with/), 'Figure 2', 'Table 1']),
    )
    for (const name of ['Figure 1', 'Figure 4', 'What slowed it?']) expect(changed).not.toContain(name)
    await list.getByRole('button', { name: /^The float falls/ }).click()
    const [was, now] = await list.locator('dd').allTextContents()
    expect(plain(was)).toContain(before)
    expect(plain(now)).toContain(after)
  })
})
