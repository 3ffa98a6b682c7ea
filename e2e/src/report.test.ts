import { itAtLength } from '@apokinema/core/testing/extent'
import { strFromU8, unzipSync } from 'fflate'
import type { Page } from 'playwright-core'
import { beforeEach, describe, expect, it } from 'vitest'
import { accessibilityFaults } from './accessibility.ts'
import { downloaded, openRow, waitForSaved } from './page.ts'
import { pageTests } from './pageTests.ts'
import { readPdf } from './pdf.ts'
import { accelerationIn, editorOf, fittedFloat, paperOf, plain, typeAcceleration } from './reportPage.ts'
import { openPrepared, savedDocument } from './work.ts'

/** The report through the page: written, filled with live things, corrected, printed. */

const given = pageTests()
let page: Page

beforeEach(() => {
  page = given.page
})

const button = (name: string | RegExp) => page.getByRole('button', { name })
const paper = () => paperOf(page)
const editor = () => editorOf(page)

const documentNow = () => savedDocument(given.server, page)

/** Returns a text without any spaces: a PDF has none between its pieces. */
const bare = (text: string) => plain(text).replaceAll(' ', '')
const paperText = async () => plain((await paper().textContent())!)

const accelerationNow = async () => accelerationIn(await documentNow())

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

/** Returns the headings and captions on each page, as the screen shows it. */
const namesByPage = () =>
  editor().evaluate((text) => {
    const pages: string[][] = [[]]
    for (const element of text.querySelectorAll('.page-gap, h2, figcaption'))
      if (element.matches('.page-gap')) pages.push([])
      else pages.at(-1)!.push(element.textContent!)
    return pages
  })

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

/** Checks that the fonts of drawings are their own, not those of the page, and that the spaces between pieces of a caption stay. */
async function expectTextsAsMeant(drawings: string): Promise<void> {
  const texts = await paper()
    .locator(`${drawings} text`)
    .evaluateAll((all) =>
      (all as SVGTextElement[]).map((text) => ({
        text: text.textContent!,
        meant: text.getAttribute('font-size'),
        size: getComputedStyle(text).fontSize,
        characters: text.getNumberOfChars(),
      })),
    )
  expect(texts.some(({ text }) => text.startsWith(' '))).toBe(true)
  for (const { text, meant, size, characters } of texts)
    expect({ text, size, characters }).toEqual({ text, size: meant, characters: text.length })
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
    await typeAcceleration(page, 'The float falls with ')
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
    await page.getByRole('link', { name: 'Graphs', exact: true }).click()
    await button(/^Put .* into the report$/)
      .first()
      .click()
    await page.getByRole('link', { name: 'Report' }).click()
    await editor().waitFor()
    const figures = paper().locator('[data-block=figure]')
    await expect.poll(() => figures.count()).toBe(4)
    await paper().locator('.graph-picture').first().scrollIntoViewIfNeeded()
    await paper().locator('.graph-picture[data-drawn="true"] text').first().waitFor()
    await expectTextsAsMeant('.graph-picture')
    await figures.last().click()
    await button('Pin as it is now').click()
    await paper()
      .getByText(/^pinned 20/)
      .waitFor()
    await page.getByText(/stays as it was/).waitFor()
    await paper().locator('.picture > .drawing text').first().waitFor()
    await expectTextsAsMeant('.picture > .drawing')
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

  it('breaks pages in print where the screen shows it, with title and name above the later ones', async () => {
    await page.getByLabel('Name and course').fill('Mara Lindqvist')
    await page.getByLabel('Name and course').press('Enter')
    const pdf = await readPdf(await print())
    const onScreen = await namesByPage()
    expect(onScreen.length).toBeGreaterThan(2)
    expect(pdf.pages).toHaveLength(onScreen.length)
    const names = onScreen.flat()
    const printed = pdf.pages.map(({ text }) => names.filter((name) => bare(text).includes(bare(name))))
    expect(printed).toEqual(onScreen)
    for (const { text } of pdf.pages.slice(1))
      expect(bare(text)).toContain(bare('Net float · Mara Lindqvist'))
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

describe('for everybody', () => {
  it('keeps WCAG 2.1 A and AA, as far as a program can tell; figures are heard by their alternative texts', async () => {
    await waitForSaved(page)
    expect(await accessibilityFaults(given.browser, page.url(), '.graph-picture')).toEqual([])
    const figures = paper().getByRole('img', { name: /^(Position|Velocity|Positions) / })
    expect(await figures.count()).toBe(4)
  })
})

describe('taken away', () => {
  it('is a Word document with the numbers of the screen, headings, tables, equations and pictures', async () => {
    const { name, body } = await downloaded(page, () => button('Word document').click())
    expect(name).toBe('Net float.docx')
    const parts = unzipSync(new Uint8Array(body))
    const document = strFromU8(parts['word/document.xml'])
    const words = plain(document.replace(/<[^>]+>/g, ''))
    expect(words).toContain(`falls with ${await accelerationNow()} and not faster`)
    expect(document).toContain('w:val="Heading1"')
    expect(document).toContain('<w:tblHeader/>')
    expect(document).toContain('<m:oMath')
    const alternatives = document.match(/descr="[^"]+"/g)!
    expect(alternatives).toHaveLength(4)
    expect(alternatives[1]).toMatch(/Position along y against time: \d+ points/)
    expect(Object.keys(parts).filter((part) => part.startsWith('word/media/'))).toHaveLength(4)
  })

  itAtLength('is one HTML file that loads nothing, and a ZIP with Markdown', async () => {
    const html = await downloaded(page, () => button('Web page in one file').click())
    expect(html.name).toBe('Net float.html')
    expect(plain(html.body.toString())).toContain(await accelerationNow())
    expect(html.body.toString()).not.toMatch(/(src|href)="(?!#|data:)/)
    const zip = await downloaded(page, () => button('Markdown with pictures').click())
    const parts = unzipSync(new Uint8Array(zip.body))
    expect(Object.keys(parts).sort()).toEqual([
      'Net float.md',
      'pictures/figure-1.png',
      'pictures/figure-2.svg',
      'pictures/figure-3.svg',
      'pictures/figure-4.svg',
    ])
    expect(plain(strFromU8(parts['Net float.md']))).toContain(await accelerationNow())
  })
})
