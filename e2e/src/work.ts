import { API, type OpenedInvestigation } from '@apokinema/core/api'
import { edit, type Investigation, type Recipe } from '@apokinema/core/investigation'
import type { Page } from 'playwright-core'
import { waitForSaved } from './page.ts'
import type { World } from './world.ts'

/** Id of the investigation that a page shows. */
export const idOf = (page: Page) => /investigations\/([^/]+)/.exec(page.url())![1]

/** The investigation that a page shows, as the server has it. */
export async function documentOf(world: World, page: Page): Promise<OpenedInvestigation> {
  return (await (await fetch(world.origin + API.investigation(idOf(page)))).json()) as OpenedInvestigation
}

/** Edits the investigation that a page shows over the API, as another machine would. */
export async function workOn(world: World, page: Page, ...recipes: Recipe[]): Promise<void> {
  await waitForSaved(page)
  const { id, version, document } = await documentOf(world, page)
  let at: Investigation = document
  let base = version
  for (const recipe of recipes) {
    const { document: next, patch } = edit(at, recipe)
    // What is so already is no edit.
    if (patch.length === 0) continue
    const answer = await fetch(world.origin + API.edits(id), {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', Origin: world.origin },
      body: JSON.stringify({ key: crypto.randomUUID(), base, patch }),
    })
    if (answer.status !== 200)
      throw new Error(`The edit was answered with ${answer.status}: ${await answer.text()}`)
    base = ((await answer.json()) as { version: number }).version
    at = next
  }
}
