import { describeAtLength, IS_SLOW } from '@apokinema/core/testing/extent'
import pg from 'pg'
import { type Browser, type BrowserContext, chromium, type Page } from 'playwright-core'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { newWindow } from './browser.ts'
import type {} from './globalSetup.ts'
import { ServerProcess } from './serverProcess.ts'
import { idOf, investigationOf, openPrepared } from './work.ts'

const EDITS = IS_SLOW ? 200 : 10

let browser: Browser
let server: ServerProcess

beforeAll(async () => {
  server = await ServerProcess.start()
  browser = await chromium.connect(inject('browserUrl'))
})
afterAll(async () => {
  await browser?.close()
  await server?.stop()
})

async function openSample(context: BrowserContext): Promise<{ page: Page; id: string }> {
  const page = await context.newPage()
  await openPrepared(server, page, 'net-float')
  return { page, id: idOf(page) }
}

/** Renames as fast as keys go: an edit each. */
async function makeEdits(page: Page, from: number, to: number): Promise<void> {
  for (let n = from; n < to; n++) {
    await page.getByLabel('Title of the investigation').fill(`Throw ${n}`)
    await page.getByLabel('Title of the investigation').press('Enter')
  }
}

async function revisionsOf(id: string): Promise<string[]> {
  const client = new pg.Client({ connectionString: server.databaseUrl })
  await client.connect()
  const { rows } = await client.query(
    'select patch from revisions where investigation_id = $1 order by version',
    [id],
  )
  await client.end()
  return rows.map(({ patch }) => patch[0].value as string)
}

/** What is killed, how, and what brings it back. */
type Kill = [string, () => Promise<void>, () => Promise<void>]
const POSTGRES: Kill = ['PostgreSQL', () => server.killDatabase(), () => server.reviveDatabase()]

describe.each<Kill>([
  ['the server', () => server.killServer(), () => server.startServer()],
  ...(IS_SLOW ? [POSTGRES] : []),
])('when %s is killed in the midst of rapid edits', (_, kill, revive) => {
  it('no edit is lost and none is applied twice; the page delivers the rest by itself', async () => {
    const context = await newWindow(browser)
    const { page, id } = await openSample(context)
    const expected = Array.from({ length: EDITS }, (_, n) => `Throw ${n}`)
    await makeEdits(page, 0, 0.3 * EDITS)
    const killed = kill()
    await makeEdits(page, 0.3 * EDITS, 0.7 * EDITS)
    await killed
    await page.locator('[data-save="offline"]').waitFor()
    await revive()
    await makeEdits(page, 0.7 * EDITS, EDITS)
    await page.locator('[data-save="saved"]').waitFor()

    expect(await revisionsOf(id)).toEqual(expected)
    const { document, version } = await investigationOf(server, id)
    expect(document.title).toBe(`Throw ${EDITS - 1}`)
    expect(version).toBe(EDITS + 1)
    await context.close()
  })
})

describeAtLength('when the page is closed while the server is away', () => {
  it('what was edited is delivered at the next visit', async () => {
    const context = await newWindow(browser)
    const { page, id } = await openSample(context)
    await server.killServer()
    await makeEdits(page, 0, 5)
    await page.locator('[data-save="offline"]').waitFor()
    await page.close()
    await server.startServer()
    const again = await context.newPage()
    await again.goto(`${server.origin}/investigations/${id}`)
    await again.locator('[data-save="saved"]').waitFor()
    expect(await again.getByLabel('Title of the investigation').inputValue()).toBe('Throw 4')
    expect(await revisionsOf(id)).toHaveLength(5)
    await context.close()
  })
})
