import { API, type OpenedSeries } from '@apokinema/core/api'
import type { Locator, Page } from 'playwright-core'
import type { Served } from './work.ts'

/** What page tests of series share. */

/** The series of the demo data. */
export const CART_SERIES = 'de300000-0000-4000-8000-000000010000'

/** Returns a series as the server has it. */
export const seriesOf = async ({ origin }: Served, id: string) =>
  (await (await fetch(origin + API.series(id))).json()) as OpenedSeries

/** Returns the rows of the table of trials. */
export const rowsOf = (page: Page) => page.locator('[data-trial]')

/** Returns the value and the error that an element has. */
export async function numberIn(locator: Locator): Promise<{ value: number; error: number }> {
  const [value, error] = await Promise.all(
    ['data-value', 'data-error'].map((name) => locator.getAttribute(name)),
  )
  return { value: Number(value), error: Number(error) }
}

/** Returns the first reading of each trial, in order. */
export async function readingsOf(page: Page, count: number) {
  const all = []
  for (let i = 0; i < count; i++)
    all.push(await numberIn(rowsOf(page).nth(i).locator('[data-value]').first()))
  return all
}
