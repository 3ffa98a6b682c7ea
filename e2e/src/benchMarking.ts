import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { edits, type Mutator } from '@apokinema/core/investigation'
import { readTruth } from '@apokinema/demo'
import type { Browser, Page } from 'playwright-core'
import { ROOT } from '../../scripts/folders.ts'
import { newWindow } from './browser.ts'
import { goToFrame, openSample, reopen, stagePlace, waitForFrame, waitForSaved } from './page.ts'
import type { ServerProcess } from './serverProcess.ts'
import { workOn } from './work.ts'

/** How fast marking and following are, for `npm run bench -- marking following`. */

type Note = (what: string, value: string) => void
type Spread = (values: number[]) => string

async function openFloat(browser: Browser, server: ServerProcess): Promise<Page> {
  const page = await (await newWindow(browser)).newPage()
  // What is evaluated in the page was compiled to keep the names of functions, by a helper that is not there.
  await page.addInitScript('globalThis.__name = (f) => f')
  await page.goto(server.origin)
  await openSample(page, 'Net float')
  return page
}

const body = (id: string, name: string) =>
  edits.addBody(id, { position: crypto.randomUUID(), velocity: crypto.randomUUID() }, name)

/** Milliseconds between two clicks of somebody who is in a hurry. */
const BETWEEN = 200

/**
 * Returns the milliseconds from each of some clicks on the stage to the screen that shows the next frame, loupe and all, as
 * the browser itself tells them (Event Timing), to the next 8 ms. From a frame on that none is marked in.
 */
export async function timeClicks(
  page: Page,
  from: number,
  count: number,
  picture = { width: 1280, height: 720 },
): Promise<number[]> {
  const place = await stagePlace(page, picture)
  await goToFrame(page, from)
  await page.locator('body').press('m')
  await page.evaluate(() => {
    const record = window as unknown as { took: number[]; stop: () => void }
    record.took = []
    const canvas = document.querySelector('[data-stage] canvas[data-picture]')!
    const onUp = () => {
      const before = canvas.getAttribute('data-frame')
      requestAnimationFrame(() => {
        // A frame that comes later than the screen after the click is not in what the browser tells.
        if (canvas.getAttribute('data-frame') === before) record.took.push(Number.POSITIVE_INFINITY)
      })
    }
    window.addEventListener('pointerup', onUp, { capture: true })
    const observer = new PerformanceObserver((list) => {
      for (const { name, duration } of list.getEntries()) if (name === 'pointerup') record.took.push(duration)
    })
    observer.observe({ type: 'event', durationThreshold: 16 } as PerformanceObserverInit)
    record.stop = () => {
      window.removeEventListener('pointerup', onUp, { capture: true })
      observer.disconnect()
    }
  })
  for (let frame = from; frame < from + count; frame++) {
    const { x, y } = place({ x: 300 + 4 * (frame % 80), y: 250 + (frame % 80) })
    await page.mouse.move(x, y)
    await page.mouse.down()
    await page.mouse.up()
    await waitForFrame(page, frame + 1)
    await page.waitForTimeout(BETWEEN)
  }
  await page.locator('body').press('Escape')
  return page.evaluate(() => {
    const { took, stop } = window as unknown as { took: number[]; stop: () => void }
    stop()
    return took
  })
}

/** Notes the longest task on the main thread since it was asked to listen, in milliseconds. */
export const listen = (page: Page) =>
  page.evaluate(() => {
    const record = window as unknown as { longest: number }
    record.longest = 0
    new PerformanceObserver((list) => {
      for (const { duration } of list.getEntries()) record.longest = Math.max(record.longest, duration)
    }).observe({ type: 'longtask' })
  })
export const longest = (page: Page) => page.evaluate(() => (window as unknown as { longest: number }).longest)

export async function benchMarking(
  browser: Browser,
  server: ServerProcess,
  note: Note,
  spread: Spread,
): Promise<void> {
  const page = await openFloat(browser, server)
  const one = crypto.randomUUID()
  await workOn(server, page, body(one, 'Net float'))
  await reopen(page)
  await timeClicks(page, 0, 5)
  note('click to the next frame shown, 1280x720', spread(await timeClicks(page, 10, 60)))

  const many: Mutator = (draft) => {
    for (let i = 0; i < 19; i++) {
      const id = crypto.randomUUID()
      body(id, `body ${i + 2}`)(draft)
      for (let frame = 0; frame < 52; frame++)
        edits.setMark(id, 2 * frame, { x: 60 * i + frame, y: 100 + 3 * frame })(draft)
    }
  }
  await workOn(server, page, many)
  await reopen(page)
  await timeClicks(page, 72, 5)
  note('… with 1000 marks on 20 bodies', spread(await timeClicks(page, 80, 36)))
  await page.close()
}

/** The frame in which the float is first clicked: it flies freely. */
const FIRST = 34
/** What of the sample's picture is shown four times in one of the same size: all of the float's flight. */
const PART = { x: 300, y: 120, width: 640, height: 360 }

/** Footage as large as the sample's in which four floats fly. */
function fourFloats(): Buffer {
  const folder = mkdtempSync(join(tmpdir(), 'apokinema-bench-'))
  const made = join(folder, 'four.mp4')
  const { x, y, width, height } = PART
  const tiles = `crop=${width}:${height}:${x}:${y},split=4[a][b][c][d];[a][b]hstack[e];[c][d]hstack[f];[e][f]vstack`
  execFileSync('ffmpeg', [
    '-loglevel',
    'error',
    '-i',
    join(ROOT, 'demo/samples/net-float/footage.mp4'),
    '-filter_complex',
    tiles,
    '-c:v',
    'libx264',
    '-pix_fmt',
    'yuv420p',
    made,
  ])
  const bytes = readFileSync(made)
  rmSync(folder, { recursive: true })
  return bytes
}

const tileOf = ({ x, y }: { x: number; y: number }, tile: number) => ({
  x: x - PART.x + PART.width * (tile % 2),
  y: y - PART.y + PART.height * Math.floor(tile / 2),
})

/** Calls the worker that follows as the page does, without the page: its messages are Comlink's. Over 80 lines since what runs in the page has to be one function. */
async function inWorker(
  page: Page,
  places: { x: number; y: number }[],
): Promise<{ bare: number; followed: number }> {
  const address = await page.evaluate(
    () =>
      performance
        .getEntriesByType('resource')
        .map(({ name }) => name)
        .find((name) => /follow\.worker.*\.js$/.test(name))!,
  )
  const footage = await page.evaluate(
    () =>
      performance
        .getEntriesByType('resource')
        .map(({ name }) => name)
        .find((name) => /\/footage\/[0-9a-f-]+$/.test(name))!,
  )
  return page.evaluate(
    async ([address, footage, start, places]) => {
      const worker = new Worker(address, { type: 'module' })
      let number = 0
      const call = <T>(name: string, ...given: unknown[]) => {
        const id = `bench${++number}`
        const transfer: MessagePort[] = []
        const argumentList = given.map((value) => {
          if (typeof value !== 'function') return { type: 'RAW', value }
          const { port1, port2 } = new MessageChannel()
          port1.onmessage = ({ data }) => port1.postMessage({ id: data.id, type: 'RAW', value: undefined })
          transfer.push(port2)
          return { type: 'HANDLER', name: 'proxy', value: port2 }
        })
        return new Promise<T>((resolve) => {
          const take = ({ data }: MessageEvent) => {
            if (data.id !== id) return
            worker.removeEventListener('message', take)
            resolve(data.value as T)
          }
          worker.addEventListener('message', take)
          worker.postMessage({ id, type: 'APPLY', path: [name], argumentList }, transfer)
        })
      }
      const frames = Array.from({ length: 34 }, (_, i) => start + 1 + i)
      const orientation = { mirrored: false, quarterTurns: 0 }
      const seconds = Float64Array.from({ length: 120 }, (_, i) => i / 60)
      const [{ x, y }] = places
      const rect = { x: Math.round(x) - 96, y: Math.round(y) - 96, width: 192, height: 192 }
      const still = Array.from({ length: 21 }, (_, i) => 26 + 2 * i)
      const bodies = []
      for (const at of places) {
        const outline = await call<object>('outline', footage, start, at, still, orientation, () => {})
        bodies.push({ id: `b${bodies.length}`, at, outline, before: [] })
      }
      const task = {
        start,
        frames,
        seconds,
        orientation,
        still,
        patience: 15,
        frameSeconds: 1 / 60,
        picture: { width: 1280, height: 720 },
        settings: { persistence: 1, change: 'slowly' },
        bodies,
      }
      const rate = async (name: string, ...given: unknown[]) => {
        const began = performance.now()
        await call(name, ...given)
        return (1000 * frames.length) / (performance.now() - began)
      }
      await call('bare', footage, frames, orientation, rect)
      const best = { bare: 0, followed: 0 }
      for (let repeat = 0; repeat < 5; repeat++) {
        best.bare = Math.max(best.bare, await rate('bare', footage, frames, orientation, rect))
        best.followed = Math.max(best.followed, await rate('follow', footage, task, () => {}))
      }
      worker.terminate()
      return best
    },
    [address, footage, FIRST, places] as const,
  )
}

/** Has what is outlined followed until it is asked for or the run has ended, within so many milliseconds. */
export async function followOn(page: Page, timeout = 90_000): Promise<void> {
  await page.locator('body').press('Enter')
  await page.locator('[data-follow="running"], [data-follow="asking"]').first().waitFor()
  await page
    .locator('[data-follow="asking"]')
    .or(page.locator('[data-stage]:not(:has([data-follow]))'))
    .first()
    .waitFor({ timeout })
}

export async function benchFollowing(browser: Browser, server: ServerProcess, note: Note): Promise<void> {
  const page = await openFloat(browser, server)
  const { x, y } = readTruth('net-float').bodies[0].frames[FIRST]
  const four = [0, 1, 2, 3].map((tile) => tileOf({ x, y }, tile))
  const told = async (places: { x: number; y: number }[]) => {
    await goToFrame(page, FIRST)
    await page.locator('body').press('f')
    const place = (await stagePlace(page, { width: 1280, height: 720 }))(places[0])
    await page.mouse.click(place.x, place.y)
    await page.locator('[data-follow="ready"]').waitFor()
    const { bare, followed } = await inWorker(page, places)
    note(
      `${places.length === 1 ? 'one body' : `${places.length} bodies`} followed in 1280x720, against bare decoding`,
      `${followed.toFixed(0)} of ${bare.toFixed(0)} frames/s, ${(followed / bare).toFixed(2)}`,
    )
  }
  await told([{ x, y }])
  await listen(page)
  await followOn(page)
  note('longest task on the main thread meanwhile', `${(await longest(page)).toFixed(0)} ms`)
  await page.goto(server.origin)
  await page
    .getByLabel('Video file')
    .setInputFiles({ name: 'four.mp4', mimeType: 'video/mp4', buffer: fourFloats() })
  await waitForFrame(page, 0)
  await waitForSaved(page)
  await told(four)
  await page.close()
}
