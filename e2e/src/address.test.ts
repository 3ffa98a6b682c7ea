import { edits, type Mutator } from '@apokinema/core/investigation'
import { readTruth } from '@apokinema/demo'
import type { Page } from 'playwright-core'
import { beforeEach, describe, expect, it } from 'vitest'
import { goToFrame, waitForFrame } from './page.ts'
import { pageTests } from './pageTests.ts'
import { openPrepared } from './work.ts'

/** What is seen stands in the page's address. */

const given = pageTests()
let page: Page
const truth = readTruth('ice-blocks')
const bodies = truth.bodies.map(() => crypto.randomUUID())
const graphs = truth.bodies.map(() => crypto.randomUUID())
const stretches = [crypto.randomUUID(), crypto.randomUUID()]

const marked: Mutator = (draft) => {
  for (const [i, id] of bodies.entries()) {
    edits.addBody(id, { position: graphs[i], velocity: crypto.randomUUID() }, truth.bodies[i].name)(draft)
    for (const { frame, x, y } of truth.bodies[i].frames) draft.bodies[id].marks[frame] = { x, y, by: 'hand' }
  }
  edits.addStretch(stretches[0], graphs[1], 2, 20)(draft)
  edits.addStretch(stretches[1], graphs[1], 40, 60)(draft)
}

beforeEach(() => {
  page = given.page
})

const said = () => Object.fromEntries(new URL(page.url()).searchParams)
const chosenBody = () => page.getByLabel('Body', { exact: true }).inputValue()

describe('the address', () => {
  it('says frame, body and stretch, opens them elsewhere, and Back leads through them', async () => {
    await openPrepared(given.server, page, 'ice-blocks', [marked])
    expect(said()).toEqual({})
    await goToFrame(page, 24)
    await expect.poll(said).toEqual({ frame: '24' })
    await page.getByRole('link', { name: 'Graphs', exact: true }).click()
    await page.locator('[data-graph] canvas').first().waitFor()
    await expect.poll(said).toEqual({ frame: '24' })
    await page.getByLabel('Body', { exact: true }).selectOption({ label: truth.bodies[1].name })
    await page.locator('[data-stretch="1"]').click({ position: { x: 200, y: 12 } })
    await expect.poll(said).toMatchObject({ body: bodies[1], stretch: stretches[0] })
    await page.locator('[data-stretch="2"]').click({ position: { x: 200, y: 12 } })
    await expect.poll(said).toMatchObject({ body: bodies[1], stretch: stretches[1] })
    const link = page.url()

    await page.goBack()
    await expect.poll(said).toMatchObject({ stretch: stretches[0] })
    await page.locator('[data-stretch="1"][data-chosen]').waitFor()

    // As somebody else who has got the link.
    await page.goto(link)
    await page.locator('[data-stretch="2"][data-chosen]').waitFor()
    expect(await chosenBody()).toBe(bodies[1])
    await page.getByRole('link', { name: 'Measure' }).click()
    await waitForFrame(page, 24)
  })

  it('that means nothing here opens the investigation all the same', async () => {
    await openPrepared(given.server, page, 'ice-blocks', [marked])
    await page.goto(`${page.url()}?frame=99999&body=nobody&stretch=__proto__`)
    await waitForFrame(page, 0)
    await expect.poll(said).toEqual({})
  })
})
