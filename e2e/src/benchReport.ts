import { AS_MEASURED, type BlockContent, edits, plainText } from '@apokinema/core/investigation'
import { graphBlock } from '@apokinema/core/testing/built'
import { measuredSample, readTruth, sampleIds } from '@apokinema/demo'
import type { Browser, Page } from 'playwright-core'
import { newWindow } from './browser.ts'
import { workForKeys } from './mainThreadWork.ts'
import { goToFrame, openSample, stagePlace, waitForSaved } from './page.ts'
import type { ServerProcess } from './serverProcess.ts'
import { viewAddress, workOn } from './work.ts'

/** How fast a long report is, for `npm run bench -- report`: 60 blocks, 20 of them graphs with a fit. */

const GRAPHS = 20
const KEYS = 200
const PICTURE = { width: 1280, height: 720 }

/** Returns the blocks: two paragraphs, one with live values, to each graph. */
function blocks(graph: string, fit: string): [string, BlockContent][] {
  const paragraph = (live: boolean): BlockContent => ({
    kind: 'text',
    style: 'paragraph',
    indent: 0,
    inlines: [
      plainText('The net float flies from the hand to the net, and falls with '),
      ...(live
        ? [
            {
              kind: 'value' as const,
              source: { of: 'reading' as const, fit, reading: 'acceleration' },
              format: AS_MEASURED,
            },
          ]
        : []),
      plainText(' along y, as everything does that is thrown at the harbour fair.'),
    ],
  })
  const figure = { ...graphBlock(graph), ratio: 0.55 }
  return Array.from({ length: GRAPHS }, () => [paragraph(true), figure, paragraph(false)])
    .flat()
    .map((content) => [crypto.randomUUID(), content])
}

/** Opens the report at its address, and returns the milliseconds until its blocks are there and those in view are drawn. */
async function timeOpening(page: Page): Promise<number> {
  await page.goto(viewAddress(page, 'report'))
  await page.waitForFunction((count) => {
    const isDrawn = (picture: Element) => picture.querySelector('.drawing text') !== null
    const all = [...document.querySelectorAll('.tiptap .graph-picture')]
    // Asked for in every frame, the places would have the page laid out more often than it is.
    if (all.length !== count || !isDrawn(all[0])) return false
    return all.filter((picture) => picture.getBoundingClientRect().top < innerHeight).every(isDrawn)
  }, GRAPHS)
  return page.evaluate(() => performance.now())
}

/** Types into the first paragraph, and returns the page's work for each key. */
async function timeTyping(page: Page): ReturnType<typeof workForKeys> {
  await page.locator('.tiptap p').first().click()
  return workForKeys(page, () => page.keyboard.type('a quick word '.repeat(KEYS / 13), { delay: 40 }))
}

/** Marks a frame anew at Measure, undoes it at the report, and returns the milliseconds until a visible graph is painted anew. */
async function timeCorrection(page: Page, frame: number, place: { x: number; y: number }): Promise<number> {
  await page.getByRole('link', { name: 'Measure' }).click()
  await page.locator('[data-stage] canvas[data-frame]').waitFor()
  await goToFrame(page, frame)
  await page.locator('body').press('m')
  const { x, y } = (await stagePlace(page, PICTURE))(place)
  await page.mouse.click(x, y)
  await waitForSaved(page)
  await page.locator('body').press('Escape')
  await page.getByRole('link', { name: 'Report' }).click()
  await page.locator('.graph-picture .drawing text').first().waitFor()
  return page.evaluate(
    () =>
      new Promise<number>((resolve) => {
        const drawing = document.querySelector('.graph-picture .drawing')!
        const start = performance.now()
        new MutationObserver((_, observer) => {
          if (!drawing.querySelector('text')) return
          observer.disconnect()
          // A task after a frame began runs when that frame has been painted.
          requestAnimationFrame(() => setTimeout(() => resolve(performance.now() - start)))
        }).observe(drawing, { childList: true })
        const undo = document.querySelector<HTMLButtonElement>('button[aria-label="Undo"]')!
        undo.click()
      }),
  )
}

export async function benchReport(
  browser: Browser,
  server: ServerProcess,
  note: (what: string, value: string) => void,
  spread: (values: number[]) => string,
): Promise<void> {
  const page = await (await newWindow(browser)).newPage()
  // What is evaluated in the page was compiled to keep the names of functions, by a helper that is not there.
  await page.addInitScript('globalThis.__name = (f) => f')
  await page.goto(server.origin)
  await openSample(page, 'Net float')
  const ids = sampleIds('net-float')
  const { position } = ids.bodies[0]
  const flying = readTruth('net-float').bodies[0].frames.filter(({ phase }) => phase === 'flying')
  const [stretch, fit] = [crypto.randomUUID(), crypto.randomUUID()]
  await workOn(
    server,
    page,
    ...measuredSample('net-float', ids, 11),
    edits.changeGraph(position, { quantity: 'y' }),
    edits.addStretch(stretch, position, flying[0].frame, flying[flying.length - 1].frame),
    edits.addFit(fit, stretch, 'uniform-acceleration'),
    edits.appendBlocks(blocks(position, fit)),
  )
  const opening: number[] = []
  for (let n = 0; n < 5; n++) opening.push(await timeOpening(page))
  note('report of 60 blocks, 20 graphs: opened', spread(opening))
  const keys = await timeTyping(page)
  note('… work for a key typed', spread(keys.map(({ passed }) => passed)))
  note('… of it on the processor', spread(keys.map(({ busy }) => busy)))
  const corrections: number[] = []
  for (let n = 0; n < 5; n++)
    corrections.push(
      await timeCorrection(page, flying[10 + n].frame, { x: flying[10 + n].x + 4, y: flying[10 + n].y + 4 }),
    )
  note('… a mark corrected to the graph drawn anew', spread(corrections))
  await page.close()
}
