import { API, type OpenedInvestigation } from '@apokinema/core/api'
import pg from 'pg'
import type { BrowserContext, Page } from 'playwright-core'
import { describe, expect, it } from 'vitest'
import { newWindow } from './browser.ts'
import { waitForFrame } from './page.ts'
import { testWorld } from './testWorld.ts'

const EDITS = 200

const given = testWorld()

async function openSample(context: BrowserContext): Promise<{ page: Page; id: string }> {
  const page = await context.newPage()
  await page.goto(given.world.origin)
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
  const client = new pg.Client({ connectionString: given.world.databaseUrl })
  await client.connect()
  const { rows } = await client.query(
    'select patch from revisions where investigation_id = $1 order by version',
    [id],
  )
  await client.end()
  return rows.map(({ patch }) => patch[0].value as string)
}

describe.each<[string, () => Promise<void>, () => Promise<void>]>([
  ['the server', () => given.world.killServer(), () => given.world.startServer()],
  ['PostgreSQL', () => given.world.killDatabase(), () => given.world.reviveDatabase()],
])('when %s is killed in the midst of rapid edits', (_, kill, revive) => {
  it('no edit is lost and none is applied twice; the page delivers the rest by itself', async () => {
    const context = await newWindow(given.browser)
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
    const answer = await fetch(given.world.origin + API.investigation(id))
    const { document, version } = (await answer.json()) as OpenedInvestigation
    expect(document.title).toBe(`Throw ${EDITS - 1}`)
    expect(version).toBe(EDITS + 1)
    await context.close()
  })
})

describe('when the page is closed while the server is away', () => {
  it('what was edited is delivered at the next visit', async () => {
    const context = await newWindow(given.browser)
    const { page, id } = await openSample(context)
    await given.world.killServer()
    await makeEdits(page, 0, 5)
    await page.locator('[data-save="offline"]').waitFor()
    await page.close()
    await given.world.startServer()
    const again = await context.newPage()
    await again.goto(`${given.world.origin}/investigations/${id}`)
    await again.locator('[data-save="saved"]').waitFor()
    expect(await again.getByLabel('Title of the investigation').inputValue()).toBe('Throw 4')
    expect(await revisionsOf(id)).toHaveLength(5)
    await context.close()
  })
})
