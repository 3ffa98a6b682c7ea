import type { Page, Route } from 'playwright-core'
import { beforeEach, describe, expect, it } from 'vitest'
import { waitForSaved } from './page.ts'
import { pageTests } from './pageTests.ts'
import { documentOf, openPrepared } from './work.ts'

/** What happens to changes that can't be saved: they are kept, and the person is told. */

const given = pageTests()
let page: Page

beforeEach(async () => {
  page = given.page
  await openPrepared(given.server, page, 'net-float')
})

const title = async (text: string) => {
  await page.getByLabel('Title of the investigation').fill(text)
  await page.getByLabel('Title of the investigation').press('Enter')
}
const stored = async () => (await documentOf(given.server, page)).document
const inPlaceOfTheServer = (answer: (route: Route) => Promise<void>) => page.route('**/edits', answer)
const serverIsBack = () => page.unroute('**/edits')
const save = (state: string) => page.locator(`[data-save="${state}"]`).waitFor()

describe('while a page to sign in at answers in the server’s place', () => {
  it('changes wait, it is said why, and they are saved afterwards', async () => {
    let asked = 0
    await inPlaceOfTheServer((route) => {
      asked++
      return route.fulfill({ status: 403, contentType: 'text/html', body: '<title>Sign in</title>' })
    })
    await title('Held')
    await save('held')
    await page.locator('[data-save-notice="held"]').waitFor()
    await title('Held twice')
    // They are kept in this browser.
    await page.reload()
    await save('held')
    expect(await page.getByLabel('Title of the investigation').inputValue()).toBe('Held twice')
    const before = asked
    await page.getByRole('button', { name: 'Try now' }).click()
    await expect.poll(() => asked).toBeGreaterThan(before)
    // Then by themselves.
    await serverIsBack()
    await waitForSaved(page)
    expect((await stored()).title).toBe('Held twice')
    expect(await page.locator('[data-save-notice]').count()).toBe(0)
  })
})

describe('a change that the server refuses', () => {
  it('is set aside by its name, the others are saved, and it can be tried again', async () => {
    await inPlaceOfTheServer((route) =>
      route.request().postData()!.includes('Refused')
        ? route.fulfill({
            status: 422,
            contentType: 'application/problem+json',
            body: JSON.stringify({ status: 422, code: 'edit-refused', detail: 'This change was refused.' }),
          })
        : route.continue(),
    )
    await title('Refused')
    const aside = page.locator('[data-save-notice="aside"] [data-aside]')
    await aside.waitFor()
    await waitForSaved(page)
    expect(await page.getByLabel('Title of the investigation').inputValue()).toBe('Net float')
    await page.locator('body').press('m')
    await page.locator('[data-band]').waitFor()
    await page.locator('body').press('Escape')
    await waitForSaved(page)
    expect(Object.keys((await stored()).bodies)).toHaveLength(1)
    await serverIsBack()
    await aside.getByRole('button', { name: 'Try again' }).click()
    await aside.waitFor({ state: 'detached' })
    await waitForSaved(page)
    expect((await stored()).title).toBe('Refused')
  })
})
