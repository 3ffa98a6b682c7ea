import type { Body } from '@apokinema/core/investigation'
import { describeAtLength, itAtLength } from '@apokinema/core/testing/extent'
import { readTruth } from '@apokinema/demo'
import type { Page } from 'playwright-core'
import { beforeEach, describe, expect, it } from 'vitest'
import { waitForFrame, waitForSaved } from './page.ts'
import { pageTests } from './pageTests.ts'
import { documentOf, openPrepared, savedDocument } from './work.ts'

/** What the computer finds to move, and a person takes or refuses. */

const given = pageTests({ background: ['survey'] })
let page: Page

beforeEach(() => {
  page = given.page
})

const proposed = () => page.locator('[data-proposed-body]')
const ghosts = () => page.locator('[data-ghost]')
const button = (name: string | RegExp) => page.getByRole('button', { name })
const followed = () => page.locator('[data-follow]').waitFor({ state: 'detached', timeout: 120_000 })

async function storedBodies(): Promise<Body[]> {
  const { bodies } = await savedDocument(given.server, page)
  return Object.values(bodies).sort((a, b) => a.order - b.order)
}

/** Returns the distance of each mark of a body from the truth, in frames of a phase, without the mean of all. */
function scatter({ marks }: Body, sample: string, phase: string, index = 0): number[] {
  const off = readTruth(sample)
    .bodies[index].frames.filter((one) => one.phase === phase && marks[one.frame])
    .map(({ frame, x, y }) => ({ x: marks[frame].x - x, y: marks[frame].y - y }))
  const mean = (axis: 'x' | 'y') => off.reduce((sum, one) => sum + one[axis], 0) / off.length
  return off.map(({ x, y }) => Math.hypot(x - mean('x'), y - mean('y')))
}

const rms = (values: number[]) =>
  Math.sqrt(values.reduce((sum, value) => sum + value * value, 0) / values.length)

describe('the net float', () => {
  it('is found, followed by one click and undone by one step; then it is proposed again', async () => {
    await openPrepared(given.server, page, 'net-float')
    await proposed().waitFor()
    expect(await ghosts().count()).toBe(1)
    await button('Follow this?').click()
    await followed()
    const [body, ...others] = await storedBodies()
    expect(others).toEqual([])
    expect(body).toMatchObject({ name: 'body 1', colour: 'coral' })
    expect(Object.values(body.marks).every(({ by }) => by === 'follow')).toBe(true)
    const flying = readTruth('net-float').bodies[0].frames.filter(({ phase }) => phase === 'flying')
    const off = scatter(body, 'net-float', 'flying')
    expect(off.length).toBeGreaterThan(0.95 * flying.length)
    expect(rms(off)).toBeLessThan(0.6)
    expect(Math.max(...off)).toBeLessThan(2.5)
    expect(await proposed().count()).toBe(0)

    for (const redo of ['Control+Shift+z', 'Control+y']) {
      await page.keyboard.press('Control+z')
      await proposed().waitFor()
      await expect.poll(storedBodies).toEqual([])
      await page.keyboard.press(redo)
      await proposed().waitFor({ state: 'detached' })
      await expect.poll(storedBodies).toEqual([body])
    }
  })

  itAtLength(
    'is not proposed any more once it is refused, also after the page is loaded anew, until that is undone',
    async () => {
      await openPrepared(given.server, page, 'net-float')
      await proposed().waitFor()
      await page.locator('[data-ghost-chip]').getByRole('button', { name: 'No' }).click()
      await proposed().waitFor({ state: 'detached' })
      await waitForSaved(page)
      await page.reload()
      // What moves is known at once the second time.
      await page.locator('[data-proposed-span]').waitFor()
      expect(await proposed().count()).toBe(0)
      await button(/^Undo/).click()
      await proposed().waitFor()
      expect((await documentOf(given.server, page)).document.bodies).toEqual({})
    },
  )

  itAtLength('is hidden by Esc and shown again, and followed by the keyboard alone', async () => {
    await openPrepared(given.server, page, 'net-float')
    await page.locator('[data-proposal-band]').waitFor()
    await page.keyboard.press('Escape')
    await ghosts().waitFor({ state: 'detached' })
    expect(await proposed().count()).toBe(1)
    await page.keyboard.press('Escape')
    await ghosts().waitFor()
    await button(/^Follow what moves in frames/).focus()
    await page.keyboard.press('Enter')
    await followed()
    expect(await storedBodies()).toHaveLength(1)
  })

  itAtLength('can be marked by hand from where it begins to move', async () => {
    await openPrepared(given.server, page, 'net-float')
    await proposed().waitFor()
    const first = Number((await proposed().getAttribute('data-proposed-body'))!.split('-')[0])
    await proposed().getByRole('button', { name: /^More/ }).click()
    await page.getByRole('menuitem', { name: 'Mark it by hand' }).click()
    await page.locator('[data-band]').getByText('Marking').waitFor()
    await waitForFrame(page, first)
    await page.keyboard.press('Escape')
  })
})

describe('when the net float flies', () => {
  it('is proposed once it is followed, taken as the span by one click, and refused for good', async () => {
    await openPrepared(given.server, page, 'net-float')
    await button('Follow this?').click()
    await followed()
    const stretch = page.locator('[data-proposed-stretch]')
    await stretch.waitFor()
    const [from, to] = (await stretch.getAttribute('data-proposed-stretch'))!.split('-').map(Number)
    const flying = readTruth('net-float').bodies[0].frames.filter(({ phase }) => phase === 'flying')
    const [first, last] = [flying[0].frame, flying[flying.length - 1].frame]
    // No more than a frame beyond the hand and the basket, and most of what is between.
    expect(from).toBeGreaterThanOrEqual(first - 1)
    expect(to).toBeLessThanOrEqual(last + 1)
    expect(to - from).toBeGreaterThan(0.8 * (last - first))
    await stretch.getByText('constant acceleration').waitFor()

    await button(`Take frames ${from} to ${to}`).click()
    await stretch.waitFor({ state: 'detached' })
    expect((await savedDocument(given.server, page)).span).toEqual({ first: from, last: to, every: 1 })
    await button(/^Undo/).click()
    await stretch.waitFor()
    await button(`No, not frames ${from} to ${to}`).click()
    await stretch.waitFor({ state: 'detached' })
    await waitForSaved(page)
    await page.reload()
    await page.locator('[data-proposed-span]').waitFor()
    expect(await stretch.count()).toBe(0)
  })
})

describe('the fit of the net float', () => {
  it('is proposed in Graphs, also where marking was not left, taken in one step and refused', async () => {
    await openPrepared(given.server, page, 'net-float')
    await button('Follow this?').click()
    await followed()
    await page.locator('[data-proposed-stretch]').waitFor()
    await page.locator('body').press('m')
    await page.locator('[data-band]').waitFor()
    await page.getByRole('link', { name: 'Graphs', exact: true }).click()
    const reading = page.locator('[data-proposed-reading]')
    await reading.waitFor()
    const value = Number(await reading.getAttribute('data-value'))
    await button(/^Take the fit/).click()
    await page.locator('[data-reading]').first().waitFor()
    // What is read then is what was proposed.
    expect(Number(await page.locator('[data-reading]').first().getAttribute('data-value'))).toBe(value)
    expect(await reading.count()).toBe(0)
    await page.keyboard.press('Control+z')
    await reading.waitFor()
    const { stretches, fits } = await savedDocument(given.server, page)
    expect([stretches, fits]).toEqual([{}, {}])
    await button(/^No, not the fit/).click()
    await reading.waitFor({ state: 'detached' })
  })
})

describeAtLength('where the camera moves', () => {
  it('that is asked first, with landmarks; then the lantern is found, and followed with them', async () => {
    await openPrepared(given.server, page, 'hoisted-lantern')
    const take = button('Take what the camera did')
    await take.waitFor()
    expect(await proposed().count()).toBe(0)
    await take.click()
    await button('Follow this?').click()
    await followed()
    const { camera, bodies } = await savedDocument(given.server, page)
    expect(camera.motion).toBe('zoomed')
    const landmarks = Object.values(camera.landmarks)
    expect(landmarks.length).toBeGreaterThanOrEqual(3)
    for (const { marks } of landmarks) expect(Object.keys(marks).length).toBeGreaterThan(100)
    const [{ marks }] = Object.values(bodies)
    const truth = readTruth('hoisted-lantern').bodies[0].frames
    for (const [frame, { x, y }] of Object.entries(marks))
      expect(Math.hypot(x - truth[Number(frame)].x, y - truth[Number(frame)].y)).toBeLessThan(12)
  })
})

itAtLength(
  'two ice blocks are both found, and followed through their collision by one click each',
  async () => {
    await openPrepared(given.server, page, 'ice-blocks')
    await proposed().nth(1).waitFor()
    await button('Follow this?').click()
    await followed()
    await button('Follow this?').click()
    await followed()
    const bodies = await storedBodies()
    expect(bodies).toHaveLength(2)
    const { frames } = readTruth('ice-blocks').bodies[0]
    for (const { marks } of bodies) expect(Object.keys(marks).length).toBeGreaterThan(0.95 * frames.length)
    expect(await proposed().count()).toBe(0)
  },
)
