import { edits, type ModelId, type Mutator } from '@apokinema/core/investigation'
import type { Browser, Page } from 'playwright-core'
import { newWindow } from './browser.ts'
import { openSample, stagePlace, waitForFrame, waitForSaved } from './page.ts'
import type { ServerProcess } from './serverProcess.ts'
import { documentOf, viewAddress, workOn } from './work.ts'

/** How fast graphs are, for `npm run bench -- graphs`. */

type Note = (what: string, value: string) => void
type Spread = (values: number[]) => string

/** Screens that are counted in a drag. */
const SCREENS = 90

/** Returns an investigation of the lantern whose one body has so many marks, with three graphs; more than it has frames are left out. */
async function openMarked(browser: Browser, server: ServerProcess, marks: number): Promise<Page> {
  const page = await (await newWindow(browser)).newPage()
  await page.addInitScript('globalThis.__name = (f) => f')
  await page.goto(server.origin)
  await openSample(page, 'Paper lantern')
  const [id, position, velocity, third] = Array.from({ length: 4 }, () => crypto.randomUUID())
  const marked: Mutator = (draft) => {
    edits.addBody(id, { position, velocity }, 'Lantern')(draft)
    edits.addGraph(third, id, 'ay')(draft)
    // The footage is told to be longer than it is: graphs don't look at it.
    draft.footage!.ticks = { first: 0, runs: [[256, marks - 1]] }
    edits.setSpan({ first: 0, last: marks - 1, every: 1 })(draft)
    for (let frame = 0; frame < marks; frame++)
      draft.bodies[id].marks[frame] = {
        x: 400 + 200 * Math.sin(frame / 40),
        y: 300 + 100 * Math.cos(frame / 23),
        by: 'hand',
      }
  }
  await workOn(server, page, marked)
  await page.goto(viewAddress(page, 'graphs'))
  await page.locator('[data-graph]').nth(2).waitFor()
  await page.waitForTimeout(1500)
  return page
}

/** Returns the milliseconds from screen to screen while an axis of the first graph is dragged, and what of them is spent in the page. */
function timePan(page: Page, direction: 'x' | 'y'): Promise<{ screens: number[]; work: number[] }> {
  return page.evaluate(
    async ([way, count]) => {
      const handle = document.querySelector<HTMLElement>(`[data-axis-handle=${way}]`)!
      const { left, top, width, height } = handle.getBoundingClientRect()
      const [x, y] = [left + width / 2, top + height / 2]
      const send = (type: string, by: number) =>
        handle.dispatchEvent(
          new PointerEvent(type, {
            bubbles: true,
            pointerId: 1,
            button: 0,
            isPrimary: true,
            clientX: x + (way === 'x' ? by : 0),
            clientY: y + (way === 'y' ? by : 0),
          }),
        )
      handle.setPointerCapture = () => {}
      send('pointerdown', 0)
      const screens: number[] = []
      const work: number[] = []
      let last = await new Promise<number>(requestAnimationFrame)
      for (let i = 1; i <= count; i++) {
        const began = performance.now()
        send('pointermove', 2 * i)
        const now = await new Promise<number>((resolve) => {
          requestAnimationFrame((at) => resolve(at))
        })
        work.push(performance.now() - began)
        screens.push(now - last)
        last = now
      }
      send('pointerup', 2 * count)
      return { screens, work }
    },
    [direction, SCREENS] as const,
  )
}

/** Returns the milliseconds from screen to screen while the mark of the current frame is dragged on the stage, beside the strip's graph. */
async function timeMarkDrag(page: Page): Promise<number[]> {
  await page.goto(viewAddress(page, 'measure'))
  await waitForFrame(page, 0)
  const { x, y } = (await stagePlace(page, { width: 540, height: 720 }))({ x: 400, y: 400 })
  await page.mouse.move(x, y)
  await page.mouse.down()
  await page.mouse.move(x + 8, y)
  const screens = await page.evaluate(
    async ([left, top, count]) => {
      const stage = document.elementFromPoint(left, top)!
      const move = (by: number) =>
        stage.dispatchEvent(
          new PointerEvent('pointermove', {
            bubbles: true,
            pointerId: 1,
            buttons: 1,
            isPrimary: true,
            pointerType: 'mouse',
            clientX: left + by,
            clientY: top,
          }),
        )
      const took: number[] = []
      let last = await new Promise<number>(requestAnimationFrame)
      for (let i = 1; i <= count; i++) {
        move(i)
        const now = await new Promise<number>(requestAnimationFrame)
        took.push(now - last)
        last = now
      }
      return took
    },
    [x, y, SCREENS] as const,
  )
  await page.mouse.up()
  return screens
}

/** Returns the milliseconds from screen to screen while the end of a stretch with a fit is dragged along a graph. */
async function timeStretchDrag(
  page: Page,
  server: ServerProcess,
  model: ModelId,
  marks: number,
): Promise<number[]> {
  const { graphs } = (await documentOf(server, page)).document
  const [graph] = Object.entries(graphs).find(([, { quantity }]) => quantity === 'y')!
  const stretch = crypto.randomUUID()
  await workOn(
    server,
    page,
    edits.addStretch(stretch, graph, Math.round(0.1 * marks), Math.round(0.7 * marks)),
    edits.addFit(crypto.randomUUID(), stretch, model),
  )
  await page.reload()
  await page.locator('[data-reading]').first().waitFor()
  const screens = await page.evaluate(
    async ([end, whole, count]) => {
      const area = document.querySelector<HTMLElement>('[data-graph=y] [data-x-limits]')!
      const box = area.getBoundingClientRect()
      const [from, to] = area.dataset.xLimits!.split(' ').map(Number)
      // Where the chart leaves room for its scales; times go from 0 to the last point.
      const [left, right] = [box.left + 64, box.right - 18]
      const time = (to - from - 2 * 0.03 * ((to - from) / 1.06)) * (end / whole)
      const x = left + ((time - from) / (to - from)) * (right - left)
      const send = (type: string, by: number) =>
        area.dispatchEvent(
          new PointerEvent(type, {
            bubbles: true,
            pointerId: 1,
            button: 0,
            buttons: 1,
            isPrimary: true,
            pointerType: 'mouse',
            clientX: x + by,
            clientY: box.top + box.height / 2,
          }),
        )
      area.setPointerCapture = () => {}
      send('pointerdown', 0)
      const took: number[] = []
      let last = await new Promise<number>(requestAnimationFrame)
      for (let i = 1; i <= count; i++) {
        send('pointermove', -i)
        const now = await new Promise<number>(requestAnimationFrame)
        took.push(now - last)
        last = now
      }
      send('pointerup', -count)
      return took
    },
    [Math.round(0.7 * marks), marks - 1, SCREENS] as const,
  )
  await waitForSaved(page)
  const { stretches } = (await documentOf(server, page)).document
  if (stretches[stretch].to === Math.round(0.7 * marks))
    throw new Error('The end of the stretch was not taken hold of.')
  return screens
}

export async function benchGraphs(
  browser: Browser,
  server: ServerProcess,
  note: Note,
  spread: Spread,
): Promise<void> {
  for (const marks of [1000, 10_000]) {
    const page = await openMarked(browser, server, marks)
    for (const direction of ['x', 'y'] as const) {
      const { screens } = await timePan(page, direction)
      note(
        `three graphs of ${marks} points, ${direction === 'x' ? 'times' : 'one scale'} dragged: screen to screen`,
        spread(screens),
      )
    }
    if (marks === 1000)
      note(`a mark of ${marks} dragged on the stage: screen to screen`, spread(await timeMarkDrag(page)))
    await page.context().close()
  }
  for (const model of ['uniform-acceleration', 'damped-swing'] as const) {
    const page = await openMarked(browser, server, 2000)
    const screens = await timeStretchDrag(page, server, model, 2000)
    note(`a stretch’s end dragged, ${model} through up to 2000 points: screen to screen`, spread(screens))
    await page.context().close()
  }
}
