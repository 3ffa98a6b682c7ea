import { API } from '@apokinema/core/api'
import {
  type BlockContent,
  edit,
  edits,
  inOrder,
  isPhotoData,
  LIMITS,
  plainText,
} from '@apokinema/core/investigation'
import { itAtLength } from '@apokinema/core/testing/extent'
import type { Page } from 'playwright-core'
import { beforeEach, describe, expect, it } from 'vitest'
import { newWindow } from './browser.ts'
import { tabTo, waitForSaved } from './page.ts'
import { pageTests } from './pageTests.ts'
import { editorOf, fittedFloat, paperOf, typeAcceleration } from './reportPage.ts'
import { documentOf, openPrepared, savedDocument, viewAddress, workOn } from './work.ts'

/** The report under odd conditions: hostile input, two browsers, the keyboard alone. */

const given = pageTests()
let page: Page

beforeEach(() => {
  page = given.page
})

const button = (name: string | RegExp) => page.getByRole('button', { name })
const editor = () => editorOf(page)
const documentNow = () => savedDocument(given.server, page)

const paper = () => paperOf(page)

describe('hostile input', () => {
  const WORD = `<p class="MsoNormal" style="mso-margin-top-alt:auto"><!--[if gte mso 9]><xml><w:WordDocument/></xml><![endif]--><o:p>&nbsp;</o:p>word</p>`

  /** Pastes HTML into the text, as a browser does. */
  const paste = (html: string) =>
    editor().evaluate((element, text) => {
      const data = new DataTransfer()
      data.setData('text/html', text)
      data.setData('text/plain', 'plain')
      element.dispatchEvent(
        new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }),
      )
    }, html)

  beforeEach(async () => {
    await openPrepared(given.server, page, 'net-float', [], 'report')
    await button(/^Blank page/).click()
    await editor().locator('p').first().click()
  })

  it('is pasted as text: nothing runs, and nothing is loaded from elsewhere', async () => {
    const asked: string[] = []
    const note = (request: { url: () => string }) => asked.push(request.url())
    page.on('request', note)
    await paste(
      `<script>window.hit = 1</script><h2 onclick="window.hit = 1">A heading</h2>
       <p>with <b>bold</b> and <a href="javascript:window.hit = 1">a link</a> and <a href="https://example.org/">another</a>
       <img src="https://example.org/pixel.png" onerror="window.hit = 1"><img src="x" onerror="window.hit = 1">
       <svg onload="window.hit = 1"></svg><iframe src="https://example.org/frame"></iframe>
       <span style="background: url(https://example.org/ground.png)">styled</span></p>
       <form action="https://example.org/"><input value="typed"></form>`,
    )
    await editor().getByText('A heading').waitFor()
    const { report } = await documentNow()
    page.off('request', note)
    const text = JSON.stringify(report.blocks)
    expect(text).toContain('"style":"heading"')
    expect(text).toContain('"marks":["bold"]')
    expect(text).toContain('"link":"https://example.org/"')
    expect(text).not.toMatch(/javascript|onerror|<script|pixel\.png|ground\.png/)
    expect(await page.evaluate(() => 'hit' in window)).toBe(false)
    expect(asked.filter((url) => url.includes('example.org'))).toEqual([])
  })

  itAtLength('is 2 MB of a word processor’s markup, which is cut to what a report can hold', async () => {
    await paste(WORD.repeat(Math.ceil(2e6 / WORD.length)))
    await page.getByText(/more than a report can hold/).waitFor()
    const { report } = await documentNow()
    expect(Object.keys(report.blocks).length).toBeGreaterThan(LIMITS.blocks - 3)
    expect(JSON.stringify(report.blocks)).not.toContain('mso')
  })

  itAtLength('is TeX that loops or links', async () => {
    await page.keyboard.type('/equation on')
    await page.keyboard.press('Escape')
    for (const tex of ['\\def\\a{\\a\\a}\\a', '\\href{javascript:alert(1)}{x}', '\\frac{'])
      await workOn(given.server, page, edits.appendBlocks([[crypto.randomUUID(), { kind: 'equation', tex }]]))
    await page.reload()
    await expect.poll(() => paper().locator('[data-block=equation]').count()).toBe(3)
    expect(await paper().locator('[data-block=equation] a').count()).toBe(0)
  })

  it('is a picture of 50 megapixels, which is made small, and a file that is no picture, which is named', async () => {
    const pasteFile = (name: string, isPicture: boolean) =>
      editor().evaluate(
        async (element, [called, real]) => {
          const canvas = new OffscreenCanvas(8000, 6250)
          const context = canvas.getContext('2d')!
          context.fillStyle = 'teal'
          context.fillRect(0, 0, 4000, 6250)
          const body = real ? await canvas.convertToBlob({ type: 'image/jpeg' }) : 'no picture'
          const data = new DataTransfer()
          data.items.add(new File([body], called, { type: 'image/jpeg' }))
          element.dispatchEvent(
            new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }),
          )
        },
        [name, isPicture] as const,
      )
    await pasteFile('pier.jpg', true)
    const picture = editor().locator('[data-block=figure] img')
    await picture.waitFor()
    await expect.poll(() => picture.evaluate((image) => (image as HTMLImageElement).naturalWidth)).toBe(1400)
    const image = Object.values((await documentNow()).report.blocks).find(({ kind }) => kind === 'image')
    if (image?.kind !== 'image') throw new Error('The picture is not in the document.')
    expect(isPhotoData(image.data)).toBe(true)
    await pasteFile('broken.jpg', false)
    await page.getByText('“broken.jpg” is not a picture').waitFor()
    expect(await picture.count()).toBe(1)
  })

  itAtLength('is text in any script, with combining marks, from right to left', async () => {
    const texts = ['שָׁלוֹם, הנמל', 'السَّلامُ عليكم', 'เรือใบในท่าเรือ', 'ÿ̊ + v̄ₓ', '港の物理', '👩🏽‍🔬⛵']
    for (const text of texts) {
      await page.keyboard.insertText(text)
      await page.keyboard.press('Enter')
    }
    const { report } = await documentNow()
    const written = inOrder(report.blocks).map(([, block]) =>
      block.kind === 'text'
        ? block.inlines.map((piece) => 'text' in piece && piece.text).join('')
        : block.kind,
    )
    expect(written).toEqual([...texts, ''])
    await page.reload()
    const lines = editor().locator('p')
    await expect.poll(() => lines.count()).toBe(texts.length + 1)
    expect(await lines.allTextContents()).toEqual([...texts, ''])
    const directions = await lines.evaluateAll((all) => all.map((one) => getComputedStyle(one).direction))
    expect(directions.slice(0, 4)).toEqual(['rtl', 'rtl', 'ltr', 'ltr'])
  })
})

describe('what a report shows of things that are not there', () => {
  it('says that they are gone; a block of another version is kept as it is', async () => {
    await openPrepared(given.server, page, 'net-float', fittedFloat(), 'report')
    const { document } = await documentOf(given.server, page)
    const [gone, beam] = [crypto.randomUUID(), crypto.randomUUID()]
    const hologram = { kind: 'hologram', beam: [1, 2], order: 9, pin: null }
    const edited = edit(document, (draft) => {
      edits.appendBlocks([
        [gone, { kind: 'fit', fit: crypto.randomUUID(), parameters: true, closeness: true, residuals: true }],
        [
          crypto.randomUUID(),
          { kind: 'text', style: 'paragraph', indent: 0, inlines: [plainText('Stays.')] },
        ],
      ])(draft)
    }).document
    const reported = structuredClone(edited)
    Object.assign(reported.report.blocks, { [beam]: hologram })
    const id = crypto.randomUUID()
    const answer = await fetch(given.server.origin + API.investigations, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', Origin: given.server.origin },
      body: JSON.stringify({ id, title: 'By hand', document: reported }),
    })
    expect(answer.status).toBe(201)
    await page.goto(`${given.server.origin}/investigations/${id}/report`)
    await editor().getByText('This fit is no longer there.').waitFor()
    await editor()
      .getByText(/^This block was made with another version/)
      .waitFor()
    await editor().getByText('Stays.').click()
    await page.keyboard.type('And more. ')
    const blocks = (await documentNow()).report.blocks
    const kept = blocks[beam]
    if (kept.kind !== 'unknown') throw new Error('The unknown block is not kept.')
    expect(JSON.parse(kept.original)).toMatchObject({ kind: 'hologram', beam: [1, 2] })
    expect(JSON.stringify(blocks)).toContain('And more. ')
  })
})

describe('two browsers', () => {
  const paragraph = (words: string): [string, BlockContent] => [
    crypto.randomUUID(),
    { kind: 'text', style: 'paragraph', indent: 0, inlines: [plainText(words)] },
  ]
  /**
   * Writes at the end of a paragraph.
   *
   * @param end button that can't be pressed where the cursor is, at the first or the last block: the editor reads the place of a
   * click a moment later, and what is typed before would go to where the cursor was
   */
  const writeBehind = async (at: Page, words: string, more: string, end: 'Move up' | 'Move down') => {
    await editorOf(at).getByText(words).click()
    await at.getByRole('button', { name: end, disabled: true }).waitFor()
    await at.keyboard.press('End')
    await at.keyboard.type(more)
  }

  it('write in different blocks at once; in the same block the person chooses', async () => {
    await openPrepared(
      given.server,
      page,
      'net-float',
      [edits.appendBlocks([paragraph('Question.'), paragraph('Answer.')])],
      'report',
    )
    const window = await newWindow(given.browser)
    const other = await window.newPage()
    await other.goto(viewAddress(page, 'report'))
    await editorOf(other).getByText('Answer.').waitFor()

    await Promise.all([
      writeBehind(page, 'Question.', ' From here.', 'Move up'),
      writeBehind(other, 'Answer.', ' From there.', 'Move down'),
    ])
    await waitForSaved(page)
    await waitForSaved(other)
    for (const at of [page, other]) {
      await at.reload()
      await editorOf(at).getByText('Question. From here.').waitFor()
      await editorOf(at).getByText('Answer. From there.').waitFor()
      expect(await at.locator('[data-save-notice]').count()).toBe(0)
    }

    await writeBehind(page, 'Question. From here.', ' Again.', 'Move up')
    await waitForSaved(page)
    await writeBehind(other, 'Question. From here.', ' Otherwise.', 'Move up')
    await other.locator('[data-save-notice="conflict"]').waitFor()
    await other.getByRole('button', { name: 'Keep mine' }).click()
    await waitForSaved(other)
    await page.reload()
    await editor().getByText('Question. From here. Otherwise.').waitFor()
    await window.close()
  })
})

describe('the keyboard alone', () => {
  it('is enough for a whole page: begun, written, filled, set, moved and printed', async () => {
    await openPrepared(given.server, page, 'net-float', fittedFloat(), 'report')
    await tabTo(page, /^Blank page/)
    await page.keyboard.press('Enter')
    await expect.poll(() => editor().evaluate((one) => one === document.activeElement)).toBe(true)
    await typeAcceleration(page, 'It falls with ')
    await page.keyboard.press('Enter')
    await page.keyboard.type('/position')
    await page
      .getByRole('option', { name: /^Position/ })
      .first()
      .waitFor()
    await page.keyboard.press('Enter')
    await editor().locator('.graph-picture').waitFor()
    await page.keyboard.type('Below.')
    await page.keyboard.press('Home')
    await page.keyboard.press('ArrowUp')
    await editor().locator('.fixed-block.selected').waitFor()
    await page.keyboard.press('Escape')
    await tabTo(page, /^with its fits/)
    await page.keyboard.press('Space')
    await page.keyboard.press('Escape')
    await page.keyboard.press('Alt+ArrowUp')
    await expect
      .poll(async () => inOrder((await documentNow()).report.blocks).map(([, { kind }]) => kind))
      .toEqual(['graph', 'text', 'text'])
    const graph = Object.values((await documentNow()).report.blocks).find(({ kind }) => kind === 'graph')
    expect(graph).toMatchObject({ fits: false })
    await page.evaluate(() => {
      window.print = () => document.documentElement.setAttribute('data-printed', '')
    })
    await page.keyboard.press('Escape')
    await tabTo(page, /^Print or PDF/)
    await page.keyboard.press('Enter')
    await page.locator('html[data-printed]').waitFor()
  })
})
