import { axesOf } from '@apokinema/core/investigation'
import { fill } from '@apokinema/demo'
import { LOCAL_PERSON } from '@apokinema/server/people'
import { clientOf, uuid } from '@apokinema/server/testing/client'
import type { Page } from 'playwright-core'
import { beforeAll, describe, expect, it } from 'vitest'
import { boxOf, drag, goToFrame, stagePlace, waitForFrame, waitForSaved } from './page.ts'
import { pageTests } from './pageTests.ts'
import { investigationOf } from './work.ts'

const PICTURE = { width: 1280, height: 720 }
const DEMO = 'de300000-0000-4000-8000-000000001000'
const given = pageTests()
let page: Page

beforeAll(async () => {
  await fill(given.server.origin)
  page = await given.window.newPage()
})

async function stored() {
  await waitForSaved(page)
  return (await investigationOf(given.server, DEMO)).document
}
const marksOf = async () => Object.values((await stored()).bodies)[0].marks
const undo = () => page.getByRole('button', { name: 'Undo', exact: true }).click()

describe('on the stage', () => {
  beforeAll(async () => {
    await page.goto(`${given.server.origin}/investigations/${DEMO}`)
    await waitForFrame(page, 27)
  })

  it('a mark is selected, dragged, nudged by a quarter pixel, deleted, and all of it undone', async () => {
    const before = await marksOf()
    await goToFrame(page, 47)
    const place = await stagePlace(page, PICTURE)
    const start = place(before[47])
    const zoom = place({ x: 1, y: 0 }).x - place({ x: 0, y: 0 }).x
    await drag(page, start, { x: start.x + 30, y: start.y - 12 })
    const moved = (await marksOf())[47]
    expect(moved.x - before[47].x).toBeCloseTo(30 / zoom, 0)
    expect(moved.y - before[47].y).toBeCloseTo(-12 / zoom, 0)

    await page.locator('body').press('ArrowRight')
    await page.locator('body').press('Shift+ArrowDown')
    const nudged = (await marksOf())[47]
    expect(nudged.x - moved.x).toBeCloseTo(0.25, 9)
    expect(nudged.y - moved.y).toBeCloseTo(2.5, 9)

    await page.locator('body').press('Delete')
    expect((await marksOf())[47]).toBeUndefined()
    for (let n = 0; n < 4; n++) await undo()
    expect(await marksOf()).toEqual(before)
  })

  it('an end of the reference, the origin and the tilt are dragged; marks stay as they are', async () => {
    const before = await stored()
    const place = await stagePlace(page, PICTURE)
    const [reference] = Object.values(before.references)
    const end = place(reference.ends[1])
    await drag(page, end, { x: end.x + 20, y: end.y + 20 })
    const origin = place(axesOf(before).origin)
    await drag(page, origin, { x: origin.x - 15, y: origin.y - 25 })
    const after = await stored()
    expect(Object.values(after.references)[0].ends[1].x).toBeGreaterThan(reference.ends[1].x + 10)
    expect(axesOf(after).origin.y).toBeLessThan(axesOf(before).origin.y - 10)
    expect(after.bodies).toEqual(before.bodies)
    await undo()
    await undo()
    expect(await stored()).toEqual(before)
  })

  it('the picture is zoomed to 1600 %, moved, and a mark set there is where it was clicked', async () => {
    const before = (await marksOf())[47]
    await goToFrame(page, 47)
    const place = await stagePlace(page, PICTURE)
    // A mouse points at whole pixels of the window; this is the one at the mark, and what of the picture lies there.
    const [corner, unit, near] = [place({ x: 0, y: 0 }), place({ x: 1, y: 1 }), place(before)]
    const spot = { x: Math.round(near.x), y: Math.round(near.y) }
    const under = {
      x: (spot.x - corner.x) / (unit.x - corner.x),
      y: (spot.y - corner.y) / (unit.y - corner.y),
    }
    await page.mouse.move(spot.x, spot.y)
    for (let n = 0; n < 14; n++) await page.mouse.wheel(0, -100)
    await page.locator('[data-zoom="1600"]').waitFor()
    // The point under the pointer stays under it.
    await page.getByRole('button', { name: 'Mark Net float' }).click()
    await goToFrame(page, 47)
    await page.mouse.click(spot.x + 40, spot.y + 24)
    const set = (await marksOf())[47]
    expect(set.x - under.x).toBeCloseTo(2.5, 1)
    expect(set.y - under.y).toBeCloseTo(1.5, 1)
    await page.locator('body').press('Escape')
    await undo()
    await drag(page, { x: spot.x - 100, y: spot.y - 60 }, { x: spot.x + 60, y: spot.y })
    await page.locator('body').press('0')
    await page.locator(`[data-zoom="${Math.round(100 * (unit.x - corner.x))}"]`).waitFor()
  })

  it('the ends of the span are dragged on the strip, and moved by keys', async () => {
    const strip = await boxOf(page.locator('[data-strip]'))
    const last = await boxOf(page.locator('[data-span-end="last"]'))
    await drag(page, { x: last.x + 4, y: last.y + 20 }, { x: last.x - 0.1 * strip.width, y: last.y + 20 })
    const dragged = (await stored()).span
    expect(dragged.last).toBeGreaterThan(52)
    expect(dragged.last).toBeLessThan(68)
    await page.locator('[data-span-end="last"]').press('ArrowRight')
    expect((await stored()).span.last).toBe(dragged.last + 1)
    await undo()
    await undo()
    expect((await stored()).span.last).toBe(73)
  })
})

describe('on the graphs', () => {
  beforeAll(async () => {
    await page.goto(`${given.server.origin}/investigations/${DEMO}/graphs`)
    await page.locator('[data-reading]').first().waitFor()
  })
  const graphBox = async () => await boxOf(page.locator('[data-graph="y"] canvas'))

  it('a click on a graph shows its frame on the film', async () => {
    const box = await graphBox()
    await page.mouse.click(box.x + 64 + (box.width - 82) / 2, box.y + 120)
    await page.waitForFunction(() => {
      const frame = Number(document.querySelector<HTMLCanvasElement>('canvas[data-frame]')?.dataset.frame)
      return frame >= 45 && frame <= 55
    })
  })

  it('two fingers on a graph zoom its times, and keep under them what was there', async () => {
    const box = await graphBox()
    const [y, left, right] = [box.y + 120, box.x + 300, box.x + 360]
    const fingers = await page.context().newCDPSession(page)
    const touch = (type: 'touchStart' | 'touchMove' | 'touchEnd', ...places: number[]) =>
      fingers.send('Input.dispatchTouchEvent', { type, touchPoints: places.map((x, id) => ({ x, y, id })) })
    const edges = () =>
      page
        .locator('[data-graph="y"] [data-x-limits]')
        .evaluate((plot: HTMLElement) => plot.dataset.xLimits!.split(' ').map(Number))
    /** Time at a place on the screen. */
    const timeAt = ([from, to]: number[], x: number) =>
      from + ((x - box.x - 64) / (box.width - 82)) * (to - from)
    const before = await edges()
    await touch('touchStart', left)
    await touch('touchStart', left, right)
    await touch('touchMove', left - 50, right + 70)
    await touch('touchMove', left - 100, right + 140)
    await touch('touchEnd')
    const after = await edges()
    expect(after[1] - after[0]).toBeCloseTo(((before[1] - before[0]) * 60) / 300, 2)
    expect(timeAt(after, left - 100)).toBeCloseTo(timeAt(before, left), 2)
    expect(timeAt(after, right + 140)).toBeCloseTo(timeAt(before, right), 2)
    await page.locator('[data-graph="y"] [data-axis-handle="x"]').dblclick()
    expect(await edges()).toEqual(before)
    // No stretch was drawn by them.
    expect(await page.locator('[data-stretch]').count()).toBe(Object.keys((await stored()).stretches).length)
  })

  it('an edge of a stretch is dragged and the fit follows', async () => {
    const before = await page.locator('[data-reading]').first().textContent()
    const box = await graphBox()
    const right = box.x + box.width - 18 - ((box.width - 82) * 0.03) / 1.06
    await drag(page, { x: right, y: box.y + 150 }, { x: right - 200, y: box.y + 150 })
    await page
      .locator('[data-stretch="1"]')
      .getByText(/^1[0-9] points$/)
      .waitFor()
    expect(await page.locator('[data-reading]').first().textContent()).not.toBe(before)
    await undo()
    await page.locator('[data-stretch="1"]').getByText('24 points').waitFor()
    expect(await page.locator('[data-reading]').first().textContent()).toBe(before)
  })

  it('the plain coefficients are shown on request: half the acceleration, the same reading', async () => {
    const reading = Number(await page.locator('[data-reading]').first().getAttribute('data-value'))
    await page.getByRole('button', { name: 'Show plain coefficients' }).first().click()
    const text = (await page.locator('[data-fit]').first().textContent())!
    expect(text).toContain((reading / 2).toFixed(3).replace('-', '−'))
    await undo()
  })

  it('a quantity is shown and hidden', async () => {
    const quantity = page.getByLabel('Film and quantities').getByRole('button', { name: /velocity along x/ })
    await quantity.click()
    await page.locator('[data-graph="vx"] canvas').waitFor()
    await quantity.click()
    await page.locator('[data-graph="vx"]').waitFor({ state: 'detached' })
  })
})

describe('by keyboard alone', () => {
  it('a graph is fitted and its stretch made shorter', async () => {
    await page.goto(`${given.server.origin}/investigations/${DEMO.replace('1000', '2000')}/graphs`)
    const fit = page.locator('[data-graph="y"]').getByRole('button', { name: 'Fit all…' })
    await fit.press('Enter')
    await page.getByRole('menuitem', { name: /Uniform motion/ }).waitFor()
    const chosen = page.locator('[role="menuitem"][data-highlighted]')
    for (let k = 0; k < 10 && !(await chosen.textContent())?.startsWith('Uniform acceleration'); k++)
      await page.keyboard.press('ArrowDown')
    await page.keyboard.press('Enter')
    await page
      .locator('[data-reading]')
      .getByText(/^Acceleration −9\./)
      .waitFor()
    await page.locator('[data-fit] [data-points="14"]').waitFor()
    await page.getByLabel('Last frame of stretch 1').fill('45')
    await page.getByLabel('Last frame of stretch 1').press('Enter')
    await page.locator('[data-fit] [data-points="10"]').waitFor()
  })
})

describe('in the list', () => {
  beforeAll(async () => {
    await page.goto(given.server.origin)
    await page.locator('[data-card]').nth(2).waitFor()
  })
  const more = async (title: string, what: string) => {
    await page.getByRole('button', { name: `More about ${title}`, exact: true }).click()
    await page.getByRole('menuitem', { name: what }).click()
  }
  const link = (title: string) => page.getByRole('link', { name: `Open ${title}`, exact: true })

  it('an investigation is renamed, duplicated, deleted and brought back', async () => {
    await more('Net float, third throw', 'Rename')
    await page.getByLabel('Title', { exact: true }).fill('Net float, in the wind')
    await page.getByLabel('Title', { exact: true }).press('Enter')
    await link('Net float, in the wind').waitFor()
    await more('Net float, in the wind', 'Duplicate')
    await link('Net float, in the wind, copy').waitFor()
    await more('Net float, in the wind, copy', 'Delete')
    await link('Net float, in the wind, copy').waitFor({ state: 'detached' })
    await page.getByRole('button', { name: 'Undo', exact: true }).click()
    await link('Net float, in the wind, copy').waitFor()
    await more('Net float, in the wind, copy', 'Delete')
    await page.getByRole('button', { name: /1 deleted investigation/ }).click()
    await page.getByRole('button', { name: 'Bring back' }).click()
    await link('Net float, in the wind, copy').waitFor()
  })

  it('a menu behind three dots opens by keys at its first or last choice, and gives the focus back', async () => {
    const button = page.getByRole('button', { name: 'More about Net float, in the wind', exact: true })
    const highlighted = page.locator('[role=menuitem][data-highlighted]')
    // At first only the button stands there; the menu that it became is to behave alike.
    for (const [key, choice] of [
      ['Enter', 'Rename'],
      ['ArrowUp', 'Delete'],
    ] as const) {
      await button.press(key)
      await highlighted.filter({ hasText: choice }).waitFor()
      await page.keyboard.press('Escape')
      await highlighted.waitFor({ state: 'detached' })
      await expect
        .poll(() => page.evaluate(() => document.activeElement?.ariaLabel))
        .toBe('More about Net float, in the wind')
    }
    await page.reload()
    await button.press('ArrowUp')
    await highlighted.filter({ hasText: 'Delete' }).waitFor()
    await page.keyboard.press('Escape')
    await highlighted.waitFor({ state: 'detached' })
  })

  it('a message is passed by Tab, and gives the focus back when it is closed', async () => {
    await more('Net float, in the wind, copy', 'Delete')
    const close = page.getByRole('status').getByRole('button', { name: 'Close' }).last()
    const focused = () => page.evaluate(() => document.activeElement?.ariaLabel ?? '')
    const before = link('Net float, in the wind')
    await before.focus()
    await close.focus()
    await page.keyboard.press('Tab')
    // The messages are the last things of a page: the next one is the first.
    await page.keyboard.press('Tab')
    await expect.poll(focused).toBe('Apokinema, to the investigations')
    await before.focus()
    await close.focus()
    await page.keyboard.press('Enter')
    await expect.poll(focused).toBe('Open Net float, in the wind')
  })

  it('one that can’t be read says so and hides no other; its last readable state is copied', async () => {
    const { database, investigations } = given.server.services
    const { id } = await clientOf(given.server).make()
    // As a fault of ours would leave it behind.
    await database('revisions').insert({
      investigation_id: id,
      version: 2,
      key: uuid(),
      author_id: LOCAL_PERSON.id,
      patch: JSON.stringify([{ op: 'replace', path: '/bodies', value: 7 }]),
    })
    const changed = { version: 2, summary: null, title: 'Unreadable', updated_at: new Date() }
    await database('investigations').where({ id }).update(changed)
    await page.reload()
    const card = page.locator('[data-card]').filter({ has: link('Unreadable') })
    await card.getByText('can’t be read here').waitFor()
    await link('Net float, in the wind').waitFor()
    await more('Unreadable', 'Copy its last readable state')
    await link('Net float, copy').waitFor()
    await link('Unreadable').click()
    await page.getByText(/can’t be read as it is stored/).waitFor()
    await page.getByRole('button', { name: 'Open its last readable state' }).click()
    await page.getByLabel('Title of the investigation').waitFor()
    await page.goto(given.server.origin)
    await more('Unreadable', 'Delete')
    await link('Unreadable').waitFor({ state: 'detached' })
    expect((await investigations.list(LOCAL_PERSON)).investigations.some((one) => one.id === id)).toBe(false)
  })

  it('more than a page of them are shown when they are asked for', async () => {
    const before = await page.locator('[data-card]').count()
    for (let n = before; n < 65; n++) await clientOf(given.server).make()
    await page.reload()
    await expect.poll(() => page.locator('[data-card]').count()).toBe(60)
    await page.getByRole('button', { name: 'Show more' }).click()
    await expect.poll(() => page.locator('[data-card]').count()).toBeGreaterThan(64)
    await page.getByRole('button', { name: 'Show more' }).waitFor({ state: 'detached' })
  })
})
