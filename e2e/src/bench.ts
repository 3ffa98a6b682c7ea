import { spawn, spawnSync } from 'node:child_process'
import { createHash, randomUUID } from 'node:crypto'
import { once } from 'node:events'
import {
  createReadStream,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  truncateSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Readable } from 'node:stream'
import { gzipSync } from 'node:zlib'
import { API } from '@apokinema/core/api'
import { freePort } from '@apokinema/server/cluster'
import type { Browser, Page } from 'playwright-core'
import { buildPages } from '../../scripts/build.ts'
import { ROOT } from '../../scripts/folders.ts'
import { launchBrowser, newWindow } from './browser.ts'
import { waitForFrame } from './page.ts'
import { World } from './world.ts'

/** `npm run bench`: how fast the product is on this machine, as a table. Nothing passes or fails here. */

const rows: [string, string][] = []
const note = (what: string, value: string) => {
  rows.push([what, value])
  console.log(`${what}: ${value}`)
}
const milliseconds = (value: number) => `${value.toFixed(value < 10 ? 1 : 0)} ms`
const quantile = (values: number[], q: number) =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(q * values.length))]
const spread = (values: number[]) =>
  `median ${milliseconds(quantile(values, 0.5))}, p95 ${milliseconds(quantile(values, 0.95))}`

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

/** Times frames inside the page, from asking to the picture on the stage. A string is a key, a number a frame to jump to. */
function timeFrames(page: Page, asks: { key?: string; frame: number }[]): Promise<number[]> {
  return page.evaluate(async (wanted) => {
    const setValue = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')!.set!
    const field = [...document.querySelectorAll('label')].find(
      (label) => label.textContent === 'Current frame',
    )!.control as HTMLInputElement
    const took: number[] = []
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
      while (canvas.dataset.frame !== String(frame))
        await new Promise((resolve) => {
          channel.port1.onmessage = resolve
          channel.port2.postMessage(null)
        })
      took.push(performance.now() - began)
    }
    return took
  }, asks)
}

/** A clip of ten seconds with a group of pictures of 250, from the sample. */
function makeClip(height: number): string | null {
  const path = join(tmpdir(), `apokinema-bench-${height}.mp4`)
  const source = join(ROOT, 'demo/samples/net-float/footage.mp4')
  const made = spawnSync('ffmpeg', [
    ...`-loglevel error -y -stream_loop 4 -i ${source} -vf scale=-2:${height} -c:v libx264 -preset fast -crf 20 -g 250 -keyint_min 250 -sc_threshold 0 -bf 2 ${path}`.split(
      ' ',
    ),
  ])
  return made.status === 0 ? path : null
}

/** Waits until no more pictures arrive, and gives the bytes of those that are kept. */
async function settledBytes(page: Page): Promise<number> {
  const kept = async () => Number(await page.locator('[data-kept]').getAttribute('data-kept'))
  for (let before = -1, now = await kept(); ; before = now, now = await kept()) {
    if (now > 0 && now === before) return now
    await page.waitForTimeout(1500)
  }
}

async function benchStage(browser: Browser, world: World, height: number): Promise<void> {
  const size = `${Math.round((height * 16) / 9)}x${height}`
  const path = makeClip(height)
  if (!path) {
    note(`stage, ${size}`, 'not measured: needs ffmpeg for its clip')
    return
  }
  const page = await (await newWindow(browser)).newPage()
  await page.goto(world.origin)
  await page.getByLabel('Video file').setInputFiles(path)
  await waitForFrame(page, 0)
  await page.locator('[data-save="saved"]').waitFor()
  const began = performance.now()
  await page.reload()
  await waitForFrame(page, 0)
  note(`page open to first frame, ${size}`, milliseconds(performance.now() - began))

  // Into the middle of the clip, until everything around it lies ready.
  await page.getByLabel('Current frame').fill('300')
  await page.getByLabel('Current frame').press('Enter')
  await waitForFrame(page, 300)
  const near = await settledBytes(page)
  note(`pictures kept around the current frame, ${size}`, `${(near / 1e6).toFixed(0)} MB`)
  const steps = Math.min(40, Math.floor(near / (4 * height * Math.round((height * 16) / 9)) / 3))
  const on = Array.from({ length: steps }, (_, i) => ({ key: '.', frame: 301 + i }))
  const back = Array.from({ length: 2 * steps }, (_, i) => ({ key: ',', frame: 300 + steps - 1 - i }))
  note(`step to the next frame, ${size}`, spread(await timeFrames(page, on)))
  note(`step to the frame before, ${size}`, spread(await timeFrames(page, back)))
  let seed = 7
  const jumps = Array.from({ length: 60 }, () => {
    seed = (seed * 1103515245 + 12345) % 2147483648
    return { frame: (seed >> 8) % 600 }
  }).filter(({ frame }, i, all) => i === 0 || frame !== all[i - 1].frame)
  note(`jump to a random frame, ${size}`, spread(await timeFrames(page, jumps)))
  await page.close()
  rmSync(path, { force: true })
}

/** Uploads a file of a gigabyte by the tus protocol and makes it footage; tells the server's largest memory. */
async function benchUpload(world: World): Promise<void> {
  const size = 1_000_000_000
  const path = join(tmpdir(), 'apokinema-bench-upload.mp4')
  const head = Buffer.concat([Buffer.from([0, 0, 0, 16]), Buffer.from('ftypisom'), Buffer.alloc(4)])
  writeFileSync(path, head)
  truncateSync(path, size)
  const memory = () =>
    Number(/VmHWM:\s+(\d+) kB/.exec(readFileSync(`/proc/${world.serverPid}/status`, 'utf8'))![1]) / 1024
  const hash = createHash('sha256')
  for await (const part of createReadStream(path)) hash.update(part as Buffer)
  const sha256 = hash.digest('hex')
  const headers = { Origin: world.origin, 'Tus-Resumable': '1.0.0' }
  const id = randomUUID()
  await fetch(world.origin + API.investigations, {
    method: 'POST',
    headers: { ...headers, 'Content-Type': 'application/json' },
    body: JSON.stringify({ id, title: 'Large' }),
  })
  const before = memory()
  const began = performance.now()
  const begun = await fetch(world.origin + API.uploads, {
    method: 'POST',
    headers: { ...headers, 'Upload-Length': String(size) },
  })
  const address = begun.headers.get('location')!
  await fetch(world.origin + address, {
    method: 'PATCH',
    headers: { ...headers, 'Upload-Offset': '0', 'Content-Type': 'application/offset+octet-stream' },
    body: Readable.toWeb(createReadStream(path)) as ReadableStream,
    duplex: 'half',
  } as RequestInit)
  const arrived = performance.now()
  const taken = await fetch(world.origin + API.footage(id, randomUUID()), {
    method: 'PUT',
    headers: { ...headers, 'Content-Type': 'application/json' },
    body: JSON.stringify({ upload: address.split('/').at(-1), sha256, name: 'large.mp4', kind: 'as-it-is' }),
  })
  if (taken.status !== 201) throw new Error(`The large file was refused: ${await taken.text()}`)
  const seconds = (milliseconds: number) => `${(milliseconds / 1000).toFixed(1)} s`
  note('upload of 1 GB on loopback', seconds(arrived - began))
  note('… summed up and taken in', seconds(performance.now() - arrived))
  note(
    'largest memory of the server, before and after it',
    `${before.toFixed(0)} MB, ${memory().toFixed(0)} MB`,
  )
  rmSync(path)
}

/** Times edits from the request to the acknowledged answer, as the browser sees it. */
async function benchEdits(browser: Browser, world: World): Promise<void> {
  const page = await (await newWindow(browser)).newPage()
  await page.goto(world.origin)
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

await benchStarts()
buildPages(console.log)
benchSize()
const world = await World.start()
const browser = await launchBrowser()
for (const height of [720, 1080]) await benchStage(browser, world, height)
await benchEdits(browser, world)
await benchUpload(world)
await browser.close()
await world.stop()

const width = Math.max(...rows.map(([what]) => what.length))
console.log(`\n${rows.map(([what, value]) => `${what.padEnd(width)}  ${value}`).join('\n')}`)
