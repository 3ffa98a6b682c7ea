import { inOrder } from '@apokinema/core/investigation'
import type { Locator, Page } from 'playwright-core'
import { beforeEach, describe, expect, it } from 'vitest'
import { boxOf } from './page.ts'
import { pageTests } from './pageTests.ts'
import { accelerationIn, editorOf, fittedFloat, paperOf, plain, typeAcceleration } from './reportPage.ts'
import { openPrepared, savedDocument } from './work.ts'

/** Blocks of the report through the page: copied, moved, dragged, kept as a template. */

const given = pageTests()
let page: Page

beforeEach(() => {
  page = given.page
})

const button = (name: string | RegExp) => page.getByRole('button', { name })
const editor = () => editorOf(page)
const documentNow = () => savedDocument(given.server, page)

describe('what is copied', () => {
  it('keeps its live values, its graph and its question', async () => {
    await openPrepared(given.server, page, 'net-float', fittedFloat(), 'report')
    await button(/^Blank page/).click()
    await editor().locator('p').first().click()
    await typeAcceleration(page, 'It falls with ')
    await button(/^Position along y/).click()
    await editor().locator('.graph-picture').waitFor()
    await editor().locator('p').first().click()
    await page.keyboard.press('ControlOrMeta+a')
    await page.keyboard.press('ControlOrMeta+c')
    await page.keyboard.press('ControlOrMeta+End')
    await page.keyboard.press('ControlOrMeta+v')
    await expect.poll(() => editor().locator('.graph-picture').count()).toBe(2)
    const blocks = inOrder((await documentNow()).report.blocks).map(([, block]) => block)
    expect(blocks.map(({ kind }) => kind).filter((kind) => kind === 'graph')).toHaveLength(2)
    const texts = blocks.filter((block) => block.kind === 'text' && block.inlines.length > 0)
    expect(texts).toHaveLength(2)
    for (const one of texts)
      expect(one).toMatchObject({
        inlines: expect.arrayContaining([expect.objectContaining({ kind: 'value' })]),
      })
  })
})

describe('blocks', () => {
  const order = async () =>
    inOrder((await documentNow()).report.blocks).map(([, block]) =>
      block.kind === 'text'
        ? block.inlines.map((piece) => 'text' in piece && piece.text).join('')
        : block.kind,
    )

  /** Drags something to the beginning of a paragraph, and so in front of it. */
  const drag = async (what: Locator, text: string) => {
    await what.hover()
    await page.mouse.down()
    const target = await boxOf(editor().getByText(text))
    await page.mouse.move(target.x + 2, target.y + 12)
    await page.mouse.move(target.x + 2, target.y + 2, { steps: 3 })
    await page.mouse.up()
  }

  it('are moved with keys, cursor and all', async () => {
    await openPrepared(given.server, page, 'net-float', fittedFloat(), 'report')
    await button(/^Blank page/).click()
    await editor().locator('p').first().click()
    for (const word of ['one', 'two', 'three']) {
      await page.keyboard.type(word)
      if (word !== 'three') await page.keyboard.press('Enter')
    }
    await page.keyboard.press('Alt+ArrowUp')
    await page.keyboard.press('Alt+ArrowUp')
    await page.keyboard.press('Alt+ArrowUp')
    await page.keyboard.type('!')
    await expect.poll(order).toEqual(['three!', 'one', 'two'])
    await page.keyboard.press('Alt+ArrowDown')
    await expect.poll(order).toEqual(['one', 'three!', 'two'])
  })

  it('are put in with the sign beside a block, and dragged by the grip', async () => {
    await editor().getByText('one').hover()
    await button('Put in below this block').click()
    await page.keyboard.type('question')
    await page.keyboard.press('Enter')
    await expect.poll(order).toEqual(['one', 'question', 'three!', 'two'])
    await editor().getByText('two').hover()
    await drag(button('Move this block'), 'one')
    await expect.poll(order).toEqual(['two', 'one', 'question', 'three!'])
  })

  it('are dragged into the page from the list on the left', async () => {
    await drag(button(/^Position along y/), 'three!')
    await expect.poll(order).toEqual(['two', 'one', 'question', 'graph', 'three!'])
    await drag(button(/^Picture of a frame/), 'one')
    await expect.poll(order).toEqual(['two', 'frame', 'one', 'question', 'graph', 'three!'])
    await editor().locator('canvas[data-drawn]').waitFor()
  })

  it('with a graph can have a height and axes of their own, which the graph itself does not get', async () => {
    const picture = editor().locator('.graph-picture').first()
    await picture.click()
    await page.getByLabel('Height').selectOption('low')
    const room = await boxOf(picture.locator('svg.room'))
    expect(room.height / room.width).toBeCloseTo(0.35, 2)
    const before = (await documentNow()).graphs
    const most = page.getByLabel('y in m to')
    await most.fill('5')
    await most.press('Enter')
    const largestTick = async () =>
      Math.max(...(await picture.locator('text').allTextContents()).map(Number).filter(Number.isFinite))
    await expect.poll(largestTick).toBeGreaterThan(3)
    const least = page.getByLabel('y in m from')
    await least.fill('7')
    await least.press('Enter')
    await page.getByText('It begins before it ends.').waitFor()
    await least.press('Escape')
    const { report, graphs } = await documentNow()
    expect(Object.values(report.blocks).find(({ kind }) => kind === 'graph')).toMatchObject({
      ratio: 0.35,
      rangeX: { from: null, to: null },
      rangeY: { from: null, to: 5 },
    })
    expect(graphs).toEqual(before)
  })
})

describe('in a narrow window', () => {
  it('things to put in and settings come in sheets over the page', async () => {
    await page.setViewportSize({ width: 390, height: 844 })
    const before = await editor().locator('.graph-picture').count()
    await page.getByRole('button', { name: 'Put in', exact: true }).click()
    await button(/^Velocity along y/).click()
    await expect.poll(() => editor().locator('.graph-picture').count()).toBe(before + 1)
    await button('Velocity along y').waitFor({ state: 'detached' })
    await editor().locator('.graph-picture').last().click()
    await button('Settings').click()
    await page.getByText('with its fits').click()
    await expect
      .poll(async () =>
        Object.values((await documentNow()).report.blocks).some(
          (block) => block.kind === 'graph' && !block.fits,
        ),
      )
      .toBe(true)
    await page.keyboard.press('Escape')
    await page.setViewportSize({ width: 1280, height: 800 })
  })
})

describe('a template of one’s own', () => {
  it('is kept with its questions, linked to another investigation, deleted and brought back', async () => {
    await openPrepared(given.server, page, 'net-float', fittedFloat(), 'report')
    await button(/^Blank page/).click()
    await editor().locator('p').first().click()
    await typeAcceleration(page, 'Ours falls with ')
    await page.keyboard.press('Enter')
    await page.keyboard.type('/question')
    await page.keyboard.press('Enter')
    await page.keyboard.type('What slowed it?')
    await page.keyboard.press('Enter')
    await page.keyboard.type('The air.')
    await button('Keep as a template …').click()
    await page.getByLabel('Name of the template').fill('Short report of 10b')
    await page.keyboard.press('Enter')
    await page.getByText(/^Kept\. It is offered/).waitFor()

    await openPrepared(given.server, page, 'net-float', fittedFloat(), 'report')
    await button('Delete the template Short report of 10b').click()
    await button(/^Short report of 10b/).waitFor({ state: 'detached' })
    await button('Undo').last().click()
    await button(/^Short report of 10b/).click()
    await editor().getByText('Ours falls with').waitFor()
    expect(plain((await paperOf(page).textContent())!)).toContain(
      `Ours falls with ${accelerationIn(await documentNow())}`,
    )
    const question = Object.values((await documentNow()).report.blocks).find(
      ({ kind }) => kind === 'question',
    )
    expect(question).toMatchObject({ question: 'What slowed it?', answer: [] })
  })
})
