import { spawn, spawnSync } from 'node:child_process'
import { once } from 'node:events'
import {
  appendFileSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  truncateSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { freePort } from '@apokinema/server/cluster'
import type { Browser, Page } from 'playwright-core'
import { buildAll } from '../../scripts/build.ts'
import { ROOT } from '../../scripts/folders.ts'
import { asShipped } from './asShipped.ts'
import { machineTime, milliseconds, spread } from './benchFigures.ts'
import { benchGraphs } from './benchGraphs.ts'
import { benchLoad } from './benchLoad.ts'
import { benchLong } from './benchLong.ts'
import { benchFollowing, benchMarking } from './benchMarking.ts'
import { benchMeasuring } from './benchMeasuring.ts'
import { benchReading } from './benchReading.ts'
import { benchReport } from './benchReport.ts'
import { benchSeries } from './benchSeries.ts'
import { benchUpload } from './benchUpload.ts'
import { launchBrowser, newWindow } from './browser.ts'
import { reopen, waitForFrame } from './page.ts'
import { ServerProcess } from './serverProcess.ts'

/** `npm run bench`: how fast the product is on this machine, as a table. Nothing passes or fails here. */

const rows: [string, string][] = []
const note = (what: string, value: string) => {
  rows.push([what, value])
  console.log(`${what}: ${value}`)
}

/** Time from `npm start` to the line with its address; then it is ended as by Ctrl-C. */
async function timeStart(data: string): Promise<number> {
  const began = performance.now()
  const env = { ...process.env, DATA_DIR: data, PORT: String(await freePort()) }
  const child = spawn('npm', ['start'], {
    cwd: ROOT,
    env,
    stdio: ['ignore', 'pipe', 'inherit'],
    detached: true,
  })
  let said = ''
  const ready = new Promise<void>((resolve) => {
    child.stdout.on('data', (part) => {
      said += part
      if (said.includes('Ctrl-C stops it')) resolve()
    })
  })
  await ready
  const took = performance.now() - began
  const gone = once(child, 'exit')
  process.kill(-child.pid!, 'SIGINT')
  await gone
  return took
}

async function benchStarts(): Promise<void> {
  const data = mkdtempSync(join(tmpdir(), 'apokinema-bench-'))
  rmSync(join(ROOT, 'web/dist'), { recursive: true, force: true })
  note(
    'first start (packages installed; makes the database, builds, loads the demo)',
    milliseconds(await timeStart(data)),
  )
  note('second start', milliseconds(await timeStart(data)))
  rmSync(data, { recursive: true, force: true })
}

/** Compressed size of the script that the first page loads, before the workbench is opened. */
function benchSize(): void {
  const page = readFileSync(join(ROOT, 'web/dist/index.html'), 'utf8')
  const assets = join(ROOT, 'web/dist/assets')
  const first = readdirSync(assets).filter((name) => name.endsWith('.js') && page.includes(name))
  const bytes = first.reduce((sum, name) => sum + gzipSync(readFileSync(join(assets, name))).length, 0)
  note('first JavaScript load, gzipped', `${(bytes / 1000).toFixed(0)} kB`)
}

/**
 * Times frames inside the page, from asking to the picture on the stage: any, or only one that was decoded
 * and is no still that stands in for it. A string is a key, a number a frame to jump to.
 */
function timeFrames(
  page: Page,
  asks: { key?: string; frame: number }[],
): Promise<{ shown: number[]; exact: number[] }> {
  return page.evaluate(async (wanted) => {
    const setValue = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')!.set!
    const field = [...document.querySelectorAll('label')].find(
      (label) => label.textContent === 'Current frame',
    )!.control as HTMLInputElement
    const took = { shown: [] as number[], exact: [] as number[] }
    for (const { key, frame } of wanted) {
      const began = performance.now()
      if (key) window.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }))
      else {
        setValue.call(field, String(frame))
        field.dispatchEvent(new Event('input', { bubbles: true }))
        field.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }))
      }
      const canvas = document.querySelector<HTMLCanvasElement>('[data-stage] canvas[data-picture]')!
      // A message to itself yields to the page without waiting for a screen refresh, which would add up to 16 ms.
      const channel = new MessageChannel()
      for (const kind of ['shown', 'exact'] as const) {
        while (
          canvas.dataset.frame !== String(frame) ||
          (kind === 'exact' && canvas.dataset.exact !== 'true')
        )
          await new Promise((resolve) => {
            channel.port1.onmessage = resolve
            channel.port2.postMessage(null)
          })
        took[kind].push(performance.now() - began)
      }
    }
    return took
  }, asks)
}

/** Returns a clip from the sample, ten seconds long unless told otherwise, with a group of pictures of 250. */
function makeClip(height: number, loops = 4): string | null {
  const path = join(tmpdir(), `apokinema-bench-${height}-${loops}.mp4`)
  const source = join(ROOT, 'demo/samples/net-float/footage.mp4')
  const made = spawnSync('ffmpeg', [
    ...`-loglevel error -y -stream_loop ${loops} -i ${source} -vf scale=-2:${height} -c:v libx264 -preset fast -crf 20 -g 250 -keyint_min 250 -sc_threshold 0 -bf 2 ${path}`.split(
      ' ',
    ),
  ])
  return made.status === 0 ? path : null
}

/** Returns a clip played so many times more. */
function repeated(path: string, times: number): string {
  const long = path.replace('.mp4', '-long.mp4')
  spawnSync('ffmpeg', `-loglevel error -y -stream_loop ${times} -i ${path} -c copy ${long}`.split(' '))
  rmSync(path)
  return long
}

/** Returns what the page tells of the pictures that it keeps. */
async function kept(page: Page): Promise<{ bytes: number; stills: number }> {
  const told = page.locator('[data-kept]')
  const [bytes, stills] = await Promise.all([
    told.getAttribute('data-kept'),
    told.getAttribute('data-stills'),
  ])
  return { bytes: Number(bytes), stills: Number(stills) }
}

/** Waits until no more pictures and stills arrive, and gives the bytes of the pictures that are kept. */
async function settledBytes(page: Page): Promise<number> {
  for (
    let before = { bytes: -1, stills: -1 }, now = await kept(page);
    ;
    before = now, now = await kept(page)
  ) {
    if (now.bytes > 0 && now.bytes === before.bytes && now.stills === before.stills) return now.bytes
    await page.waitForTimeout(2500)
  }
}

/** Returns the frames that are not in order, the same in every run. */
function randomFrames(count: number, frames: number): { frame: number }[] {
  let seed = 7
  return Array.from({ length: count }, () => {
    seed = (seed * 1103515245 + 12345) % 2147483648
    return { frame: (seed >> 8) % frames }
  }).filter(({ frame }, i, all) => i === 0 || frame !== all[i - 1].frame)
}

/**
 * Opens a clip from the list of investigations, and gives the time from choosing the file to the painted
 * first frame. Read off in the page: from outside it could only be asked for now and then.
 */
async function openClip(page: Page, server: ServerProcess, path: string): Promise<number> {
  await page.goto(server.origin)
  const input = page.getByLabel('Video file')
  await input.waitFor({ state: 'attached' })
  const took = page.evaluate(
    () =>
      new Promise<number>((resolve) => {
        let chosen = 0
        addEventListener('change', () => (chosen = performance.now()), { capture: true, once: true })
        const watch = new MutationObserver(() => {
          if (!document.querySelector('[data-stage] canvas[data-picture][data-frame="0"]')) return
          watch.disconnect()
          // A task after the next refresh of the screen runs once the picture is painted.
          requestAnimationFrame(() => setTimeout(() => resolve(performance.now() - chosen)))
        })
        watch.observe(document, { subtree: true, childList: true, attributeFilter: ['data-frame'] })
      }),
  )
  await input.setInputFiles(path)
  return took
}

async function benchStage(browser: Browser, server: ServerProcess, height: number): Promise<void> {
  const size = `${Math.round((height * 16) / 9)}x${height}`
  const path = makeClip(height)
  if (!path) {
    note(`stage, ${size}`, 'not measured: needs ffmpeg for its clip')
    return
  }
  const page = await (await newWindow(browser)).newPage()
  await openClip(page, server, path)
  await page.locator('[data-save="saved"]').waitFor()
  const began = performance.now()
  await reopen(page)
  note(`page open to first frame, ${size}`, milliseconds(performance.now() - began))
  const early = await timeFrames(page, randomFrames(12, 600))
  note(`jump to a random frame while the clip is still looked through, ${size}`, spread(early.shown))

  // Into the middle of the clip, until everything around it lies ready.
  const looked = performance.now()
  await page.getByLabel('Current frame').fill('300')
  await page.getByLabel('Current frame').press('Enter')
  await waitForFrame(page, 300)
  const near = await settledBytes(page)
  note(`all looked through and ready after, ${size}`, milliseconds(performance.now() - looked))
  note(`pictures kept around the current frame, ${size}`, `${(near / 1e6).toFixed(0)} MB`)
  const on = Array.from({ length: 40 }, (_, i) => ({ key: '.', frame: 301 + i }))
  // Once there and back beforehand, so that the page's code is compiled.
  await timeFrames(page, [...on, ...Array.from({ length: 40 }, (_, i) => ({ key: ',', frame: 339 - i }))])
  await settledBytes(page)
  const back = Array.from({ length: 80 }, (_, i) => ({ key: ',', frame: 339 - i }))
  note(`step to the next frame, ${size}`, spread((await timeFrames(page, on)).exact))
  note(`step to the frame before, ${size}`, spread((await timeFrames(page, back)).exact))
  const jumps = await timeFrames(page, randomFrames(60, 600))
  note(`jump to a random frame, ${size}`, spread(jumps.shown))
  note(`… until it is decoded anew and sharp, ${size}`, spread(jumps.exact))
  await page.close()
  rmSync(path, { force: true })
}

/** Large clips: every picture of 3840x2160, ten minutes of film, a local file of a gigabyte. */
async function benchLarge(browser: Browser, server: ServerProcess): Promise<void> {
  const [tall, short] = [makeClip(2160, 0), makeClip(360)]
  if (!tall || !short) {
    note('large clips', 'not measured: needs ffmpeg for its clips')
    return
  }
  const long = repeated(short, 59)
  const page = await (await newWindow(browser)).newPage()
  note('first frame of a new file, 3840x2160', milliseconds(await openClip(page, server, tall)))
  await settledBytes(page)
  const steps = [...Array(40).keys()].map((i) => ({ key: '.', frame: i + 1 }))
  await timeFrames(page, steps)
  await settledBytes(page)
  const back = [...Array(40).keys()].map((i) => ({ key: ',', frame: 39 - i }))
  note('step to the frame before, 3840x2160', spread((await timeFrames(page, back)).exact))
  note('step to the next frame, 3840x2160', spread((await timeFrames(page, steps)).exact))
  note('pictures kept, 3840x2160', `${((await kept(page)).bytes / 1e6).toFixed(0)} MB`)

  note('first frame of a new file, ten minutes', milliseconds(await openClip(page, server, long)))
  await settledBytes(page)
  const last = Number(await page.locator('[data-span-end=last]').getAttribute('aria-valuenow'))
  let most = 0
  for (let part = 0; part < 20; part++) {
    await timeFrames(page, [{ frame: Math.round((part / 19) * last) }])
    most = Math.max(most, (await kept(page)).bytes)
  }
  note(`most bytes of pictures in going through ${last + 1} frames`, `${(most / 1e6).toFixed(0)} MB`)
  rmSync(tall)

  const minute = repeated(makeClip(720)!, 5)
  for (const [film, name] of [
    [minute, 'one minute of 1280x720'],
    [long, 'ten minutes of 640x360'],
  ]) {
    const padded = toGigabyte(film)
    note(`first frame of a new file, 1 GB, ${name}`, milliseconds(await openClip(page, server, padded)))
    rmSync(padded)
    rmSync(film)
  }
  await page.close()
}

/** Returns a film padded to a gigabyte by a box that players pass over, after its index. */
function toGigabyte(film: string): string {
  const size = 1_000_000_000
  const padding = Buffer.alloc(16)
  padding.writeUInt32BE(1, 0)
  padding.write('free', 4)
  const bytes = readFileSync(film)
  padding.writeBigUInt64BE(BigInt(size - bytes.length), 8)
  const padded = film.replace('.mp4', '-padded.mp4')
  writeFileSync(padded, bytes)
  appendFileSync(padded, padding)
  truncateSync(padded, size)
  return padded
}

/** Times edits from the request to the acknowledged answer, as the browser sees it. */
async function benchEdits(browser: Browser, server: ServerProcess): Promise<void> {
  const page = await (await newWindow(browser)).newPage()
  await page.goto(server.origin)
  await page.getByRole('button', { name: /Sample: Net float/ }).click()
  await waitForFrame(page, 0)
  await page.getByRole('button', { name: 'Add a body', exact: true }).first().click()
  await page.getByLabel('Name of the body').press('Escape')
  await page.locator('body').press('m')
  for (let mark = 0; mark < 100; mark++) {
    await waitForFrame(page, mark)
    await page.locator('body').press(mark % 2 ? 'ArrowLeft' : 'ArrowRight')
    await page.locator('body').press('Enter')
  }
  await page.locator('[data-save="saved"]').waitFor()
  const took = await page.evaluate(() =>
    performance
      .getEntriesByType('resource')
      .filter(({ name }) => name.endsWith('/edits'))
      .map(({ duration }) => duration),
  )
  note('edit to acknowledged', spread(took))
  await page.close()
}

/** `npm run bench -- stage upload` runs these alone; without names all are run. */
const chosen = process.argv.slice(2)
const runs = (name: string) => chosen.length === 0 || chosen.includes(name)

/** A file of this folder as its users would get it. */
const shipped = <T>(file: string) => asShipped<T>(join(import.meta.dirname, file))
note('5e7 square roots, to compare machines by', milliseconds(machineTime()))
if (runs('core')) (await shipped<typeof import('./benchCore.ts')>('benchCore.ts')).benchCore(note)
if (runs('fits')) (await shipped<typeof import('./benchFits.ts')>('benchFits.ts')).benchFits(note)
if (runs('start')) await benchStarts()
buildAll(console.log)
if (runs('size')) benchSize()
const server = await ServerProcess.start()
const browser = await launchBrowser()
if (runs('stage')) for (const height of [720, 1080]) await benchStage(browser, server, height)
if (runs('large')) await benchLarge(browser, server)
if (runs('edits')) await benchEdits(browser, server)
if (runs('marking')) await benchMarking(browser, server, note, spread)
if (runs('following')) await benchFollowing(browser, server, note)
if (runs('long')) await benchLong(browser, server, note, spread)
if (runs('graphs')) await benchGraphs(browser, server, note, spread)
if (runs('measuring')) await benchMeasuring(browser, server, note)
if (runs('reading')) await benchReading(browser, server, note, spread)
if (runs('report')) await benchReport(browser, server, note, spread)
if (runs('series')) await benchSeries(browser, server, note, spread)
if (runs('upload')) await benchUpload(server, note)
if (runs('load')) await benchLoad(server, note)
await browser.close()
await server.stop()

const width = Math.max(...rows.map(([what]) => what.length))
console.log(`\n${rows.map(([what, value]) => `${what.padEnd(width)}  ${value}`).join('\n')}`)
