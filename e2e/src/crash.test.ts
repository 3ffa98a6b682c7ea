import { API, type OpenedInvestigation } from '@apokinema/core/api'
import pg from 'pg'
import type { Browser, BrowserContext, Page } from 'playwright-core'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { launchBrowser, newWindow } from './browser.ts'
import { waitForFrame } from './page.ts'
import { World } from './world.ts'

const EDITS = 200

let world: World
let browser: Browser

beforeAll(async () => {
  world = await World.start()
  browser = await launchBrowser()
})
afterAll(async () => {
  await browser?.close()
  await world?.stop()
})

async function openSample(context: BrowserContext): Promise<{ page: Page; id: string }> {
  const page = await context.newPage()
  await page.goto(world.origin)
  await page.getByRole('button', { name: /Sample: Net float/ }).click()
  await waitForFrame(page, 0)
  return { page, id: page.url().split('/').at(-1)! }
}

/** Renames as fast as keys go: an edit each. */
async function makeEdits(page: Page, from: number, to: number): Promise<void> {
  for (let n = from; n < to; n++) {
    await page.getByLabel('Title of the investigation').fill(`Throw ${n}`)
    await page.getByLabel('Title of the investigation').press('Enter')
  }
}

async function revisionsOf(id: string): Promise<string[]> {
  const client = new pg.Client({ connectionString: world.databaseUrl })
  await client.connect()
  const { rows } = await client.query(
    'select patch from revisions where investigation_id = $1 order by version',
    [id],
  )
  await client.end()
  return rows.map(({ patch }) => patch[0].value as string)
}

describe.each<[string, () => Promise<void>, () => Promise<void>]>([
  ['the server', () => world.killServer(), () => world.startServer()],
  ['PostgreSQL', () => world.killDatabase(), () => world.reviveDatabase()],
])('when %s is killed in the midst of rapid edits', (_, kill, revive) => {
  it('no edit is lost and none is applied twice; the page delivers the rest by itself', async () => {
    const context = await newWindow(browser)
    const { page, id } = await openSample(context)
    const expected = Array.from({ length: EDITS }, (_, n) => `Throw ${n}`)
    await makeEdits(page, 0, 60)
    const killed = kill()
    await makeEdits(page, 60, 140)
    await killed
    await page.locator('[data-save="offline"]').waitFor()
    await revive()
    await makeEdits(page, 140, EDITS)
    await page.locator('[data-save="saved"]').waitFor()

    expect(await revisionsOf(id)).toEqual(expected)
    const answer = await fetch(world.origin + API.investigation(id))
    const { document, version } = (await answer.json()) as OpenedInvestigation
    expect(document.title).toBe(`Throw ${EDITS - 1}`)
    expect(version).toBe(EDITS + 1)
    await context.close()
  })
})

describe('when the page is closed while the server is away', () => {
  it('what was edited is delivered at the next visit', async () => {
    const context = await newWindow(browser)
    const { page, id } = await openSample(context)
    await world.killServer()
    await makeEdits(page, 0, 5)
    await page.locator('[data-save="offline"]').waitFor()
    await page.close()
    await world.startServer()
    const again = await context.newPage()
    await again.goto(`${world.origin}/investigations/${id}`)
    await again.locator('[data-save="saved"]').waitFor()
    expect(await again.getByLabel('Title of the investigation').inputValue()).toBe('Throw 4')
    expect(await revisionsOf(id)).toHaveLength(5)
    await context.close()
  })
})
