import { fileURLToPath } from 'node:url'
import { fill } from '@apokinema/demo'
import type { Page } from 'playwright-core'
import { launchBrowser, newWindow } from './browser.ts'
import { stagePlace, waitForFrame, waitForSaved } from './page.ts'
import { World } from './world.ts'

/** `npm run screenshots`: takes the pictures in docs/screenshots anew, from the demo data. */

const folder = fileURLToPath(new URL('../../docs/screenshots', import.meta.url))
const demo = (number: number) => `/investigations/de300000-0000-4000-8000-00000000${number}000`

const world = await World.start()
await fill(world.origin)
const browser = await launchBrowser()
const page = await (await newWindow(browser)).newPage()

/** Lets the film on the strip come in before a picture is taken. */
async function filmIsIn(page: Page): Promise<void> {
  await page.waitForFunction(() => {
    const film = [...document.querySelectorAll<HTMLCanvasElement>('[data-strip] canvas')].at(0)
    if (!film || film.width < 20) return false
    const { data } = film.getContext('2d')!.getImageData(film.width - 20, film.height >> 1, 1, 1)
    return data[3] > 0
  })
}

await page.goto(world.origin)
await page.locator('[data-card] img').nth(2).waitFor()
await page.waitForLoadState('networkidle')
await page.screenshot({ path: `${folder}/investigations.png` })

await page.goto(world.origin + demo(2))
await waitForFrame(page, 27)
await filmIsIn(page)
await page.getByRole('button', { name: 'Mark Net float' }).click()
await waitForFrame(page, 55)
const place = await stagePlace(page, { width: 1280, height: 720 })
const float = place({ x: 681, y: 270 })
await page.mouse.move(float.x, float.y)
await page.locator('[data-loupe]').waitFor()
await page.screenshot({ path: `${folder}/measure.png` })

await page.goto(`${world.origin}${demo(1)}/graphs`)
await page.locator('[data-reading]').nth(1).waitFor()
await page.locator('canvas[data-frame]').waitFor()
const graph = (await page.locator('[data-graph="y"] canvas').boundingBox())!
await page.mouse.click(graph.x + graph.width * 0.6, graph.y + graph.height / 2)
await page.mouse.move(2, 790)
await waitForSaved(page)
await page.waitForLoadState('networkidle')
await page.screenshot({ path: `${folder}/graphs.png` })

await browser.close()
await world.stop()
