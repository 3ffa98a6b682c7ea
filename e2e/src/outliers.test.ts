import { edits, type Mutator } from '@apokinema/core/investigation'
import { itAtLength } from '@apokinema/core/testing/extent'
import { readTruth } from '@apokinema/demo'
import type { Page } from 'playwright-core'
import { beforeEach, describe, expect, it } from 'vitest'
import { drag, stagePlace, waitForFrame, waitForSaved } from './page.ts'
import { pageTests } from './pageTests.ts'
import { documentOf, openPrepared } from './work.ts'

/** Outliers among the marks are found, looked at, and corrected. */

const given = pageTests()
const truth = readTruth('net-float')
const flight = truth.bodies[0].frames.filter(({ phase }) => phase === 'flying')
const body = crypto.randomUUID()
let page: Page

/** Returns the float where it truly is in every frame of its flight, but for one mark that slipped to the staff. */
function slipped(frame: number): Mutator[] {
  return [
    edits.addBody(body, { position: crypto.randomUUID(), velocity: crypto.randomUUID() }, 'Net float'),
    (draft) => {
      for (const place of flight) edits.setMark(body, place.frame, place)(draft)
      edits.setMark(body, frame, { x: 640, y: 420 })(draft)
    },
  ]
}

/** Followed marks of the float that from one frame on lie on something else, which goes beside it. */
function goneOver(frame: number): Mutator[] {
  const places = flight.map(({ frame: at, x, y }) => [at, { x, y: y + (at < frame ? 0 : 40), certainty: 1 }])
  return [slipped(frame)[0], edits.setFollowed(body, Object.fromEntries(places), true)]
}

const marks = async () => {
  await waitForSaved(page)
  return (await documentOf(given.server, page)).document.bodies[body].marks
}

describe('an outlier', () => {
  beforeEach(async () => {
    page = given.page
    await openPrepared(given.server, page, 'net-float', slipped(48))
  })

  it('is flagged in its lane, and dragged to where it belongs', async () => {
    await page.getByRole('button', { name: '1 outlier' }).click()
    await waitForFrame(page, 48)
    await page.locator('[data-stray="48"]').waitFor()
    const place = await stagePlace(page, truth)
    await drag(page, place({ x: 640, y: 420 }), place(truth.bodies[0].frames[48]))
    await page.locator('[data-stray]').waitFor({ state: 'detached' })
    expect(await page.getByRole('button', { name: '1 outlier' }).count()).toBe(0)
    const { x, y } = (await marks())[48]
    expect(Math.hypot(x - truth.bodies[0].frames[48].x, y - truth.bodies[0].frames[48].y)).toBeLessThan(2)
  })

  itAtLength('is flagged in the table, and a click there shows it on the stage', async () => {
    await page.getByRole('link', { name: 'Graphs', exact: true }).click()
    await page.getByRole('button', { name: 'Table' }).click()
    await page.getByRole('button', { name: '1 outlier' }).click()
    await page.locator('[data-stray-row="48"]').waitFor()
    expect(await page.locator('[data-stray-row]').count()).toBe(1)
    await page.locator('[data-stray-row="48"]').click()
    await page.locator('canvas[data-frame="48"]').waitFor()
    await page.getByRole('link', { name: 'Measure' }).click()
    await waitForFrame(page, 48)
    await page.locator('[data-stray="48"]').waitFor()
  })

  it('is right where somebody says so, which can be undone', async () => {
    await page.getByRole('button', { name: '1 outlier' }).click()
    await page.getByRole('button', { name: 'It is correct' }).click()
    await page.locator('[data-stray]').waitFor({ state: 'detached' })
    expect((await marks())[48].right).toBe(true)
    await page.getByRole('button', { name: 'Undo', exact: true }).click()
    await page.locator('[data-stray="48"]').waitFor()
  })

  it('is deleted, and only it', async () => {
    await page.getByRole('button', { name: '1 outlier' }).click()
    await page.getByRole('button', { name: 'Delete it' }).click()
    await page.locator('[data-stray]').waitFor({ state: 'detached' })
    expect(Object.keys(await marks())).toHaveLength(flight.length - 1)
  })
})

describe('a jump of followed marks', () => {
  beforeEach(async () => {
    page = given.page
    await openPrepared(given.server, page, 'net-float', goneOver(50))
    await page.getByRole('button', { name: '1 jump', exact: true }).click()
    await waitForFrame(page, 50)
    await page.locator('[data-jump="50"]').waitFor()
  })

  it('is told with its length, and right where somebody says so', async () => {
    expect(await page.locator('[data-jump-asked]').count()).toBe(1)
    expect(await page.locator('[data-break-asked]').count()).toBe(0)
    expect(await page.locator('[data-jump]').textContent()).toMatch(/jumps by (3|4)\d px/)
    await page.getByRole('button', { name: 'It is correct' }).click()
    await page.locator('[data-jump]').waitFor({ state: 'detached' })
    expect(await page.locator('[data-jump-asked]').count()).toBe(0)
    await page.getByRole('button', { name: 'Undo', exact: true }).click()
    await page.locator('[data-jump="50"]').waitFor()
  })

  it('leads to following from there, once the body is shown', async () => {
    await page.getByRole('button', { name: 'Show it here' }).click()
    const place = await stagePlace(page, truth)
    const at = place(truth.bodies[0].frames[50])
    await page.mouse.click(at.x, at.y)
    await page
      .getByRole('button', { name: /^Follow/ })
      .first()
      .waitFor()
    await expect.poll(async () => (await marks())[50].by).toBe('hand')
    const { x, y } = (await marks())[50]
    expect(Math.hypot(x - truth.bodies[0].frames[50].x, y - truth.bodies[0].frames[50].y)).toBeLessThan(2)
  })
})
