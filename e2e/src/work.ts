import { API, type OpenedInvestigation } from '@apokinema/core/api'
import { edit, type Investigation, type Mutator } from '@apokinema/core/investigation'
import type { Page } from 'playwright-core'
import { waitForFrame, waitForSaved } from './page.ts'

/** What an investigation is reached through. */
export interface Served {
  origin: string
}

/** Id of the investigation that a page shows. */
export const idOf = (page: Page) => /investigations\/([^/?]+)/.exec(page.url())![1]

/** Views of the workbench. */
export type View = 'measure' | 'graphs' | 'report'

/** Returns the address of a view of the investigation that a page shows. */
export const viewAddress = (page: Page, view: View) =>
  `${new URL(page.url()).origin}/investigations/${idOf(page)}/${view}`

/** Returns the investigation that a page shows, as the server has it. */
export async function documentOf(server: Served, page: Page): Promise<OpenedInvestigation> {
  return investigationOf(server, idOf(page))
}

/** Returns the document of the investigation that a page shows, once everything is saved. */
export async function savedDocument(server: Served, page: Page): Promise<Investigation> {
  await waitForSaved(page)
  return (await documentOf(server, page)).document
}

/** Returns an investigation as the server has it. */
export async function investigationOf({ origin }: Served, id: string): Promise<OpenedInvestigation> {
  return (await (await fetch(origin + API.investigation(id))).json()) as OpenedInvestigation
}

/** Posts to the server, which has to take it. */
export async function post({ origin }: Served, path: string, body: object): Promise<void> {
  const answer = await fetch(origin + path, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', Origin: origin },
    body: JSON.stringify(body),
  })
  if (!answer.ok) throw new Error(`POST ${path} was answered with ${answer.status}: ${await answer.text()}`)
}

/** Applies mutators to an investigation as one edit. */
export async function applyTo(server: Served, id: string, mutators: Mutator[]): Promise<void> {
  const { version, document } = await investigationOf(server, id)
  const { patch } = edit(document, (draft) => {
    for (const mutator of mutators) mutator(draft)
  })
  // What is so already is no edit.
  if (patch.length > 0) await post(server, API.edits(id), { key: crypto.randomUUID(), base: version, patch })
}

/** Edits the investigation that a page shows over the API, as another machine would. */
export async function workOn(server: Served, page: Page, ...mutators: Mutator[]): Promise<void> {
  await waitForSaved(page)
  await applyTo(server, idOf(page), mutators)
}

/** Returns the title of a sample by its id: "Net float" for net-float. */
const titleOf = (sample: string) => sample[0].toUpperCase() + sample.slice(1).replaceAll('-', ' ')

/** Waits until a view shows what it has. */
async function waitForView(page: Page, view: View): Promise<void> {
  if (view === 'measure') await waitForFrame(page, 0)
  else
    await page
      .locator(view === 'graphs' ? '[data-graph] canvas' : '[data-report]')
      .first()
      .waitFor()
}

/** Makes an investigation from a sample over the API, works on it, and opens it at one of its views. */
export async function openPrepared(
  server: Served,
  page: Page,
  sample: string,
  mutators: Mutator[] = [],
  view: View = 'measure',
): Promise<void> {
  const id = crypto.randomUUID()
  await post(server, API.investigations, { id, title: titleOf(sample), sample })
  await applyTo(server, id, mutators)
  await go(server, page, `/investigations/${id}${view === 'measure' ? '' : `/${view}`}`)
  await waitForView(page, view)
}

/** Goes to a path: within the application where the page shows it, which takes a fraction of loading it anew. */
export async function go({ origin }: Served, page: Page, path: string): Promise<void> {
  if (!page.url().startsWith(origin)) {
    await page.goto(origin + path)
    return
  }
  const step = (to: string) =>
    page.evaluate((to) => {
      history.pushState(null, '', to)
      dispatchEvent(new PopStateEvent('popstate'))
    }, to)
  // By way of a page that shows nothing, so that nothing of the investigation before is taken for this one's.
  await step('/nothing-here')
  await page.getByRole('link', { name: 'To the investigations' }).waitFor()
  await step(path)
}

/** Chooses a video on the list's page and waits for its first frame. */
export async function openFile(server: Served, page: Page, path: string): Promise<void> {
  await go(server, page, '/')
  await page.getByLabel('Video file').setInputFiles(path)
  await waitForFrame(page, 0)
}

/** Loads the graphs of the investigation that a page shows. */
export async function openGraphs(page: Page): Promise<void> {
  await page.goto(viewAddress(page, 'graphs'))
  await waitForView(page, 'graphs')
}
