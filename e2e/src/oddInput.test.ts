import { createHash } from 'node:crypto'
import { once } from 'node:events'
import {
  appendFileSync,
  createReadStream,
  readFileSync,
  statSync,
  truncateSync,
  writeFileSync,
} from 'node:fs'
import { type AddressInfo, connect, createServer, type Socket } from 'node:net'
import { join } from 'node:path'
import { describeAtLength, IS_SLOW, itAtLength } from '@apokinema/core/testing/extent'
import { Movies } from '@apokinema/server/testing/movies'
import { zip } from '@apokinema/server/testing/zips'
import { type Browser, chromium, type Page } from 'playwright-core'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { HEADLESS_SHELL, newWindow } from './browser.ts'
import { goToFrame, openRow, reopen, waitForFrame } from './page.ts'
import { pageTests } from './pageTests.ts'
import { ServerProcess } from './serverProcess.ts'
import { go, idOf, viewAddress } from './work.ts'

/** Files that nobody should have, and that somebody has all the same, through the page. */

const given = pageTests()
let page: Page
const movies = new Movies()

afterAll(() => movies.remove())
beforeEach(async () => {
  page = given.page
  await go(given.server, page, '/')
})

/** Makes a film from a moving test picture of a size, at 25 pictures a second. */
function film(name: string, size: string, frames: number, output: string): string {
  return movies.make(name, `-frames:v ${frames} ${output}`, `-f lavfi -i testsrc2=size=${size}:rate=25`)
}

/**
 * Damages pictures of an H.264 film from one to before another: what it holds are units with their lengths before them, whose
 * kinds are made unknown.
 */
function damagePictures(path: string, first: number, end: number): void {
  const bytes = readFileSync(path)
  let at = bytes.indexOf('mdat') + 4
  for (let picture = 0; picture < end; ) {
    const kind = bytes[at + 4] & 31
    const isPicture = kind === 1 || kind === 5
    if (picture >= first) bytes[at + 4] |= 31
    if (isPicture) picture++
    at += 4 + bytes.readUInt32BE(at)
  }
  writeFileSync(path, bytes)
}

const choose = (file: string | string[]) => page.getByLabel('Video file').setInputFiles(file)
const refusal = (says: RegExp) => page.getByRole('alert').filter({ hasText: says }).waitFor()

describe('an odd film', () => {
  it.each([
    ['as it is', 'one.mp4', '-c:v libx264 -pix_fmt yuv420p'],
    ['converted', 'one.avi', '-c:v mjpeg -pix_fmt yuvj420p'],
  ])('of a single frame opens, %s, and says so', async (_, name, output) => {
    await choose(film(name, '160x120', 1, output))
    await waitForFrame(page, 0)
    await page.locator('[data-span="0 – 0 of 0"]').waitFor()
    await page.getByText('a single frame', { exact: true }).waitFor()
  })

  it('of odd width and height shows its whole picture', async () => {
    await choose(film('odd.mp4', '320x240', 5, '-vf scale=161:121 -c:v libx264 -pix_fmt yuv444p'))
    await goToFrame(page, 4)
    await openRow(page, /odd\.mp4/)
    await page.getByText(/161 × 121/).waitFor()
  })

  itAtLength(
    'whose first picture is damaged is converted from the frame on that can be decoded',
    async () => {
      const path = film('damaged.mp4', '320x240', 24, '-c:v libx264 -pix_fmt yuv420p -g 8 -bf 0')
      damagePictures(path, 0, 8)
      await choose(path)
      await waitForFrame(page, 0)
      await page.locator('[data-span="0 – 15 of 15"]').waitFor()
    },
  )

  it('with damage in its middle is used up to there, and repaired in a new investigation', async () => {
    const path = film('middle.mp4', '320x240', 48, '-c:v libx264 -pix_fmt yuv420p -g 24 -bf 0')
    damagePictures(path, 28, 31)
    await choose(path)
    await goToFrame(page, 20)
    const address = viewAddress(page, 'measure')
    const field = page.getByLabel('Current frame')
    await field.fill('40')
    await field.press('Enter')
    await refusal(/Frame 40 can’t be decoded in this browser/)
    await page.getByRole('button', { name: 'Repair it in a new investigation' }).click()
    await page.locator('input[value="Middle, repaired"]').waitFor()
    await waitForFrame(page, 0)
    await goToFrame(page, 40)
    await page.goto(address)
    await goToFrame(page, 20)
  })

  itAtLength('whose header says 0 frames a second opens with times that go on', async () => {
    const path = film('still-rate.avi', '160x120', 10, '-c:v mjpeg -pix_fmt yuvj420p')
    const bytes = readFileSync(path)
    bytes.writeUInt32LE(0, bytes.indexOf('avih') + 8)
    const stream = bytes.indexOf('strh') + 8
    bytes.writeUInt32LE(0, stream + 24)
    writeFileSync(path, bytes)
    await choose(path)
    await goToFrame(page, 9)
    const shown = await page
      .getByText(/^t [\d.]+/)
      .first()
      .textContent()
    expect(Number(/[\d.]+/.exec(shown!)![0])).toBeGreaterThan(0)
  })

  itAtLength('16000 px wide is refused with what is the most', async () => {
    await choose(film('wide.avi', '16000x16', 1, '-c:v mjpeg -pix_fmt yuvj420p'))
    await refusal(/16000 × 16 px; at most 8192/)
  })

  itAtLength('of 5000 small pictures opens whole', async () => {
    await choose(film('many.gif', '32x32', 5000, '-r 50'))
    await waitForFrame(page, 0)
    await goToFrame(page, 4999)
  })
})

describe('a ZIP', () => {
  const png = () => readFileSync(film('red.png', '64x48', 1, '-update 1'))
  const packed = (name: string, entries: Parameters<typeof zip>[0]) => {
    writeFileSync(movies.path(name), zip(entries))
    return movies.path(name)
  }
  const makeFilm = async (path: string) => {
    await choose(path)
    await page.getByLabel('How many were taken a second?').fill('30')
    await page.getByRole('button', { name: 'Make the film' }).click()
  }

  itAtLength('that would unpack to more than there may be is not unpacked', async () => {
    const entries = Array.from({ length: 3 }, (_, i) => ({
      name: `${i}.png`,
      body: Buffer.alloc(1_000_000),
      claims: 4_000_000_000,
    }))
    await makeFilm(packed('bomb.zip', entries))
    await refusal(/would unpack to more than 8 GB/)
  })

  it('with names that lead out of it is refused', async () => {
    await makeFilm(packed('leads-out.zip', [{ name: '../../1.png', body: png() }]))
    await refusal(/lead out of it/)
  })

  itAtLength('of stills of unequal size says which sizes', async () => {
    const small = readFileSync(film('small.png', '32x32', 1, '-update 1'))
    await makeFilm(
      packed('unequal.zip', [
        { name: '1.png', body: png() },
        { name: '2.png', body: small },
      ]),
    )
    await refusal(/not all of one size.*64 × 48.*32 × 32/)
  })
})

it('a full disk is told, the film stays usable, and it arrives once there is room', async () => {
  let full = true
  await page.route('**/uploads/*', async (route) => {
    if (full && route.request().method() === 'PATCH')
      await route.fulfill({
        status: 507,
        body: 'The disk of the server is full. What has arrived is kept; make room and try again.',
      })
    else await route.continue()
  })
  await choose(film('quay.mp4', '160x120', 20, '-c:v libx264 -pix_fmt yuv420p'))
  await waitForFrame(page, 0)
  await page
    .getByText(/The disk of the server is full/)
    .first()
    .waitFor()
  await goToFrame(page, 7)
  full = false
  await reopen(page)
  const id = idOf(page)
  await expect.poll(() => isStored(id), { timeout: 30_000 }).toBe(true)
})

async function isStored(id: string, origin = given.server.origin): Promise<boolean> {
  const answer = await fetch(`${origin}/api/investigations/${id}`)
  return ((await answer.json()) as { footageStored: boolean }).footageStored
}

describeAtLength('a connection that breaks', () => {
  const SIZE = IS_SLOW ? 2_000_000_000 : 64_000_000
  /** In a process of its own, whose memory can be told. */
  let server: ServerProcess
  /** Started from here: one that is reached over a connection is sent the files that are chosen. */
  let browser: Browser

  beforeAll(async () => {
    server = await ServerProcess.start()
    browser = await chromium.launch(HEADLESS_SHELL)
  })
  beforeEach(async () => {
    page = await (await newWindow(browser)).newPage()
  })
  afterAll(async () => {
    await browser?.close()
    await server?.stop()
  })

  /** Returns a film that is as large as asked, most of it empty. */
  function largeFilm(name: string, size: number): string {
    const path = film(name, '160x120', 30, '-c:v libx264 -pix_fmt yuv420p')
    const held = readFileSync(path).length
    const box = Buffer.alloc(16)
    box.writeUInt32BE(1, 0)
    box.write('free', 4)
    box.writeBigUInt64BE(BigInt(size - held), 8)
    appendFileSync(path, box)
    truncateSync(path, size)
    return path
  }

  /** Returns a line to the server that breaks after so many bytes each time, so often: it is cut, or it only goes silent. */
  async function brittleLine(every: number, times: number, breaks: (from: Socket) => void) {
    let cuts = 0
    let uploads = 0
    const line = createServer((from) => {
      const to = connect(server.port, '127.0.0.1')
      let passed = 0
      from.on('error', () => to.destroy())
      to.on('error', () => from.destroy())
      from.on('close', () => to.destroy())
      // Once the server has hung up nothing more can be sent.
      to.on('close', () => from.destroy())
      to.pipe(from)
      from.pipe(to)
      from.on('data', (part) => {
        if (part.subarray(0, 6).toString() === 'PATCH ') uploads++
        passed += part.length
        if (passed < every || cuts >= times) return
        cuts++
        passed = 0
        breaks(from)
      })
    })
    line.listen(0, '127.0.0.1')
    await once(line, 'listening')
    return {
      line,
      origin: `http://127.0.0.1:${(line.address() as AddressInfo).port}`,
      cuts: () => cuts,
      uploads: () => uploads,
    }
  }

  it('five times on the way: a large file arrives whole, by its sum, and the server’s memory stays small', async () => {
    const path = largeFilm('long.mp4', SIZE)
    const { line, origin, cuts } = await brittleLine(0.15 * SIZE, 5, (from) => from.destroy())
    await page.goto(origin)
    await choose(path)
    await waitForFrame(page, 0)
    const id = idOf(page)
    // Worked on meanwhile.
    await goToFrame(page, 29)
    await expect.poll(() => isStored(id, server.origin), { timeout: 500_000, interval: 200 }).toBe(true)
    expect(cuts()).toBe(5)
    const sum = createHash('sha256')
    for await (const part of createReadStream(path)) sum.update(part as Buffer)
    const digest = sum.digest('hex')
    expect(statSync(join(server.footageFolder, digest.slice(0, 2), digest)).size).toBe(SIZE)
    const most = Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${server.serverPid}/status`, 'utf8'))![1])
    expect(most / 1024).toBeLessThan(300)
    line.close()
  })

  it('by going silent: after a minute without a sign the upload goes on over another connection', async () => {
    const { line, origin, cuts, uploads } = await brittleLine(20_000_000, 1, (from) => from.unpipe().pause())
    await page.clock.install()
    await page.goto(origin)
    await choose(largeFilm('silent.mp4', 60_000_000))
    await waitForFrame(page, 0)
    await expect.poll(cuts).toBe(1)
    const id = idOf(page)
    // What lies in buffers is still told as sent for a while: the minute begins after it.
    const again = async () => {
      if (uploads() === 1) await page.clock.fastForward(61_000)
      return uploads()
    }
    await expect.poll(again, { interval: 3000 }).toBe(2)
    await expect.poll(() => isStored(id, server.origin)).toBe(true)
    line.close()
  })
})
