import { spawn, spawnSync } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { edits } from '@apokinema/core/investigation'
import { fitPolynomial } from '@apokinema/core/regression'
import { itAtLength } from '@apokinema/core/testing/extent'
import { readTruth } from '@apokinema/demo'
import type { Page } from 'playwright-core'
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { launchBrowser, newWindow } from './browser.ts'
import { goToFrame, openRow, waitForFrame, waitForSaved, waitForTime } from './page.ts'
import { pageTests } from './pageTests.ts'
import { documentOf, go, openFile, openPrepared } from './work.ts'

/** What a person finds out about footage, and what they decide about its times, from the page to the numbers. */

const given = pageTests()
let page: Page
let folder: string

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'apokinema-footage-test-'))
})
afterAll(() => {
  rmSync(folder, { recursive: true, force: true })
})
beforeEach(() => {
  page = given.page
})

/** Opens a sample at its graphs, its body marked where it truly is in some frames, with scale, axes, a stretch and a fit along y. */
async function openMeasured(sample: string, frames: number[]): Promise<void> {
  const truth = readTruth(sample)
  const [a, b] = truth.reference.ends
  const ids = Array.from({ length: 7 }, () => crypto.randomUUID())
  const marks = frames.map((frame) => {
    const { x, y } = truth.bodies[0].frames[frame]
    return edits.setMark(ids[1], frame, { x, y })
  })
  const mutators = [
    edits.addReference(ids[0], [
      { ...a, frame: 0 },
      { ...b, frame: 0 },
    ]),
    edits.changeReference(ids[0], { length: truth.reference.length }),
    edits.setAxes({ origin: { ...truth.origin, frame: 0 } }),
    edits.addBody(ids[1], { position: ids[2], velocity: ids[3] }, truth.bodies[0].name),
    ...marks,
    edits.addStretch(ids[4], ids[2], frames[0], frames.at(-1)!),
    edits.addFit(ids[5], ids[4], 'uniform-acceleration'),
  ]
  await openPrepared(given.server, page, sample, mutators, 'graphs')
  await page.locator('[data-reading]').first().waitFor()
}

const reading = async () => Number(await page.locator('[data-reading]').first().getAttribute('data-value'))

describe('slow motion', () => {
  const falling = Array.from({ length: 26 }, (_, i) => 36 + 5 * i)

  it('is proposed where the file tells, and its times follow at once', async () => {
    await openPrepared(given.server, page, 'crane-pebble')
    await page.getByText('The camera noted 240').waitFor()
    await page.getByRole('button', { name: 'Use 240 /s' }).click()
    await goToFrame(page, 120)
    await waitForTime(page, 0.5)
    await page.keyboard.press('Control+z')
    await waitForTime(page, 4)
  })

  it('taken for normal speed gives g/64 and a hint; with its capture rate g', async () => {
    await openMeasured('crane-pebble', falling)
    expect(Math.abs(await reading())).toBeCloseTo(9.81 / 64, 2)
    await page.locator('[data-hint="slow-motion"]').waitFor()
    await page.getByRole('button', { name: 'Captured at 240 /s' }).click()
    await expect.poll(async () => Math.abs(await reading())).toBeGreaterThan(9.81 * 0.99)
    expect(Math.abs(await reading())).toBeLessThan(9.81 * 1.01)
    expect(await page.locator('[data-hint]').count()).toBe(0)
  })

  it('can hold for some frames only, and be told by a known time', async () => {
    await openPrepared(given.server, page, 'crane-pebble')
    await openRow(page, /Capture rate/)
    await page.getByRole('button', { name: 'A known time' }).click()
    await page.getByLabel('Really, s').fill('0.7625')
    await page.getByLabel('Really, s').press('Enter')
    // 183 intervals in 0.7625 s are 240 a second.
    await goToFrame(page, 120)
    await waitForTime(page, 0.5)
    await page.getByRole('button', { name: 'Take the known time away' }).click()
    await page.getByRole('button', { name: 'Only some frames' }).click()
    await page.getByLabel('From', { exact: true }).fill('60')
    await page.getByLabel('From', { exact: true }).press('Enter')
    // Two seconds as played up to frame 60, then 60 frames at 240 a second.
    await waitForTime(page, 2.25)
  })
})

describe('frame times', () => {
  /** Returns the net float with frames left out, their neighbours at their own times. */
  const dropped = () => {
    const path = join(folder, 'dropped.mp4')
    const made = spawnSync('ffmpeg', [
      ...`-v error -y -i ${join(import.meta.dirname, '../../demo/samples/net-float/footage.mp4')} -vf select=not(eq(n\\,40)+eq(n\\,55)) -fps_mode passthrough -enc_time_base 1:15360 -video_track_timescale 15360 -c:v libx264 -preset ultrafast -crf 18 -bf 0 ${path}`.split(
        ' ',
      ),
    ])
    expect(String(made.stderr)).toBe('')
    return path
  }

  it('that stand out have flags on the strip, which can be jumped to', async () => {
    await openFile(given.server, page, dropped())
    await page.locator('[data-flag="40"]').waitFor({ state: 'attached' })
    await page.locator('[data-flag="54"]').waitFor({ state: 'attached' })
    await openRow(page, /Frame times/)
    await page.getByText('2 come early or late').waitFor()
    await page.getByRole('button', { name: 'Next flagged frame' }).click()
    await waitForFrame(page, 40)
    // Frame 41 of the original stands at its own time, not at 40 sixtieths.
    await waitForTime(page, 41 / 60)
  })

  it('can be replaced by a constant rate, which says how far it moves the last frame', async () => {
    await openPrepared(given.server, page, 'net-float')
    await openRow(page, /Frame times/)
    await page.getByLabel('Constant rate, /s').fill('59.5')
    await page.getByLabel('Constant rate, /s').press('Enter')
    // 119/59.5 − 119/60 s = 16.667 ms.
    await page.getByText(/moves the last frame 16\.667\sms later/).waitFor()
    await goToFrame(page, 119)
    await waitForTime(page, 2)
  })

  it('are counted from any frame', async () => {
    await openPrepared(given.server, page, 'net-float')
    await goToFrame(page, 30)
    await openRow(page, /Time zero/)
    await page.getByRole('button', { name: 'This frame' }).click()
    await waitForTime(page, 0)
    await goToFrame(page, 0)
    await waitForTime(page, -0.5)
    // A time can be typed, too.
    await page.getByLabel('Current frame').fill('0.25 s')
    await page.getByLabel('Current frame').press('Enter')
    await waitForFrame(page, 45)
  })
})

describe('what a survey of the clip finds', () => {
  beforeEach(async () => {
    page = await (await newWindow(given.browser)).newPage()
  })
  afterEach(() => page.context().close())

  describe('repeated frames', () => {
    it('of a recording saved at another rate are found, shown, and put back to their own rate', async () => {
      const path = join(folder, 'pulled-up.mp4')
      const source = join(import.meta.dirname, '../../demo/samples/swing-boat/footage.mp4')
      // 30 frames a second saved at 50: two in five repeat.
      spawnSync('ffmpeg', [
        ...`-v error -y -i ${source} -t 4 -vf fps=50 -c:v libx264 -preset veryfast -crf 20 ${path}`.split(
          ' ',
        ),
      ])
      await openFile(given.server, page, path)
      await page.getByRole('button', { name: /Repeated frames/ }).click()
      await page.getByText(/recorded at 30(\.00)?\s\/s and saved at another rate/).waitFor()
      expect(await page.locator('[data-repeat]').count()).toBeGreaterThan(60)
      await page.getByRole('button', { name: /^Use 30/ }).click()
      await page.getByText(/put back to their original rate/).waitFor()
      await waitForSaved(page)
      const { document } = await documentOf(given.server, page)
      expect(document.timing.repeats?.originalRate).toBe(30)
      // A step leads over a repeat.
      const repeats = new Set(document.timing.repeats!.frames)
      await page.locator('[data-stage]').click({ position: { x: 4, y: 4 } })
      let frame = 0
      for (let step = 0; step < 8; step++) {
        do frame++
        while (repeats.has(frame))
        await page.keyboard.press('>')
        await waitForFrame(page, frame)
      }
      expect(repeats.size).toBeGreaterThan(60)
    })

    itAtLength('are none in a clip that has none', async () => {
      await openPrepared(given.server, page, 'swing-boat')
      await page
        .getByRole('button', { name: /Will it do\?/ })
        .getByText(/yes/)
        .waitFor()
      expect(await page.getByRole('button', { name: /Repeated frames/ }).count()).toBe(0)
    })
  })

  describe('the span', () => {
    it('is proposed where it moves, and one click takes it', async () => {
      await openPrepared(given.server, page, 'crane-pebble')
      const band = page.locator('[data-proposed-span]')
      await band.waitFor()
      const [first, last] = (await band.getAttribute('data-proposed-span'))!.split('-').map(Number)
      const phases = readTruth('crane-pebble').bodies[0].frames
      const falls = phases.filter(({ phase }) => phase === 'falling').map(({ frame }) => frame)
      expect(Math.abs(first - falls[0])).toBeLessThanOrEqual(2)
      expect(Math.abs(last - falls.at(-1)!)).toBeLessThanOrEqual(2)
      await band.click()
      await page.locator(`[data-span="${first} – ${last} of 183"]`).waitFor()
      expect(await band.count()).toBe(0)
      await page.keyboard.press('Control+z')
      await band.waitFor()
    })
  })

  itAtLength('tells what limits a dark, shaken clip', async () => {
    const path = join(folder, 'dark.mp4')
    const source = join(import.meta.dirname, '../../demo/samples/barrel-on-plank/footage.mp4')
    spawnSync('ffmpeg', [
      ...`-v error -y -i ${source} -vf crop=900:500:30+12*sin(n*0.9):20+8*cos(n*0.7),eq=brightness=-0.42 -c:v libx264 -preset veryfast -crf 20 ${path}`.split(
        ' ',
      ),
    ])
    await openFile(given.server, page, path)
    await page.getByRole('button', { name: /Will it do\?.*mind/ }).click()
    await page
      .locator('[data-finding]', { hasText: 'Light' })
      .getByText(/nearly black/)
      .waitFor()
    await page
      .locator('[data-findings]')
      .getByText(/background moves by/)
      .waitFor()
  })
})

describe('a picture turned by hand', () => {
  it('takes its marks along, and no number changes', async () => {
    await openMeasured('crane-pebble', [40, 70, 100, 130, 160])
    const before = await reading()
    await page.getByRole('link', { name: 'Measure' }).click()
    await openRow(page, /crane-pebble\.mp4/)
    await page.getByRole('button', { name: 'Turn the picture right' }).click()
    await waitForSaved(page)
    const { document } = await documentOf(given.server, page)
    expect(document.orientation.quarterTurns).toBe(1)
    await page.getByRole('link', { name: 'Graphs', exact: true }).click()
    await page.locator('[data-reading]').first().waitFor()
    expect(await reading()).toBeCloseTo(before, 9)
  })
})

describe('recording', () => {
  it('with the practice camera goes the whole way to a motion that falls with g', async () => {
    await go(given.server, page, '/')
    await page.getByRole('link', { name: 'Record' }).click()
    await page.locator('[data-checks]').waitFor()
    await page.getByRole('button', { name: 'Record' }).click()
    await page.getByRole('timer').waitFor()
    await expect
      .poll(async () => Number.parseFloat((await page.getByRole('timer').textContent())!))
      // Four falls: a busy machine records few frames of each.
      .toBeGreaterThan(13.4)
    await page.getByRole('button', { name: 'Stop' }).click()
    await page.getByRole('button', { name: 'Keep' }).click()
    await waitForFrame(page, 0)
    await waitForSaved(page)
    const { document } = await documentOf(given.server, page)
    expect(document.footage).toMatchObject({ width: 360, height: 640, converted: false })
    const g = await measuredFall()
    expect(g).toBeGreaterThan(9.81 * 0.95)
    expect(g).toBeLessThan(9.81 * 1.05)
  })

  itAtLength('can be taken once more', async () => {
    await go(given.server, page, '/record')
    await page.locator('[data-checks]').waitFor()
    await page.getByRole('button', { name: 'Record' }).click()
    await page.getByRole('button', { name: 'Cancel' }).click()
    await page.getByRole('button', { name: 'Record' }).click()
    await page.getByRole('timer').waitFor()
    await expect
      .poll(async () => Number.parseFloat((await page.getByRole('timer').textContent())!))
      .toBeGreaterThan(0.6)
    await page.getByRole('button', { name: 'Stop' }).click()
    await page.getByRole('button', { name: 'Retake' }).click()
    await page.locator('[data-checks]').waitFor()
  })

  /** Finds the pebble in every frame of one fall by its brightness against the still background, and fits its fall. */
  async function measuredFall(): Promise<number> {
    const { id, document } = await documentOf(given.server, page)
    await expect
      .poll(
        async () =>
          (
            await fetch(`${given.server.origin}/api/investigations/${id}/footage/${document.footage!.id}`, {
              method: 'HEAD',
            })
          ).status,
      )
      .toBe(200)
    const path = join(folder, 'recorded.mp4')
    const answer = await fetch(
      `${given.server.origin}/api/investigations/${id}/footage/${document.footage!.id}`,
    )
    writeFileSync(path, Buffer.from(await answer.arrayBuffer()))
    const child = spawn('ffmpeg', [
      ...`-v error -i ${path} -fps_mode passthrough -vf crop=40:560:147:67 -pix_fmt gray -f rawvideo -`.split(
        ' ',
      ),
    ])
    const parts: Buffer[] = []
    child.stdout.on('data', (part) => parts.push(part))
    await once(child, 'close')
    const pixels = Buffer.concat(parts)
    const size = 40 * 560
    const frames = Math.floor(pixels.length / size)
    const { denominator } = document.footage!.timeBase
    const ticks = [document.footage!.ticks.first]
    for (const [step, count] of document.footage!.ticks.runs)
      for (let k = 0; k < count; k++) ticks.push(ticks.at(-1)! + step)
    // The background is what a pixel shows most of the time.
    const background = Uint8Array.from({ length: size }, (_, at) => {
      const values = Array.from({ length: frames }, (_, frame) => pixels[frame * size + at]).sort(
        (a, b) => a - b,
      )
      return values[frames >> 1]
    })
    const points: { t: number; y: number }[] = []
    for (let frame = 0; frame < frames; frame++) {
      let weight = 0
      let y = 0
      let first = Number.POSITIVE_INFINITY
      let last = 0
      // Below the gripper and above the ground.
      const [top, bottom] = [60, 487]
      for (let row = top; row < bottom; row++)
        for (let column = 6; column < 34; column++) {
          const at = row * 40 + column
          const change = Math.abs(pixels[frame * size + at] - background[at]) - 25
          if (change <= 0) continue
          weight += change
          y += change * (row + 0.5)
          first = Math.min(first, row)
          last = row
        }
      // A pebble that is only partly within these rows has its middle elsewhere than what is seen of it.
      if (weight > 900 && first > top && last < bottom - 1)
        points.push({ t: ticks[frame] / denominator, y: y / weight })
    }
    // A fall: points that follow each other and go down.
    const falls: (typeof points)[] = []
    for (const point of points) {
      const last = falls.at(-1)?.at(-1)
      if (last && point.t - last.t < 0.2 && point.y > last.y) falls.at(-1)!.push(point)
      else falls.push([point])
    }
    const told = falls.filter((fall) => fall.length >= 4)
    expect(told.flat().length).toBeGreaterThan(4)
    // The variance of a quadratic coefficient goes with 1 / (n T⁴).
    const weights = told.map((fall) => fall.length * (fall.at(-1)!.t - fall[0].t) ** 4)
    const each = told.map((fall) => {
      const fit = fitPolynomial(
        fall.map(({ t }) => t - fall[0].t),
        fall.map(({ y }) => y),
        2,
      )
      return (2 * fit.coefficients[2]) / 280
    })
    const sum = (values: number[]) => values.reduce((total, value) => total + value, 0)
    return sum(each.map((g, i) => g * weights[i])) / sum(weights)
  }
})

describe('a camera', () => {
  /** Returns a browser with a simulated device, which asks for permission like a real one. */
  const withDevice = (...flags: string[]) => launchBrowser('--use-fake-device-for-media-stream', ...flags)

  it('that may not be used says so, and the practice camera is there', async () => {
    const other = await withDevice('--deny-permission-prompts')
    const denied = await (await newWindow(other)).newPage()
    await denied.goto(`${given.server.origin}/record`)
    // Before it is allowed a camera has no name.
    await denied.getByLabel('Camera').selectOption({ label: 'Camera 1' })
    await denied.getByRole('alert').filter({ hasText: 'may not be used' }).waitFor()
    await denied.getByLabel('Camera').selectOption('practice')
    await denied.locator('[data-checks]').waitFor()
    expect(await denied.getByRole('alert').count()).toBe(0)
    await other.close()
  })

  itAtLength('is chosen by name and recorded; unplugged on the way, what was recorded is kept', async () => {
    const other = await withDevice('--use-fake-ui-for-media-stream')
    const live = await (await newWindow(other, { permissions: ['camera'] })).newPage()
    await live.goto(`${given.server.origin}/record`)
    await live.getByLabel('Camera').getByText(/fake/i).first().waitFor({ state: 'attached' })
    await live.getByLabel('Camera').selectOption({ index: 1 })
    await live.locator('[data-checks]').waitFor()
    await live.getByRole('button', { name: 'Record' }).click()
    await live.getByRole('timer').waitFor()
    await expect
      .poll(async () => Number.parseFloat((await live.getByRole('timer').textContent())!))
      .toBeGreaterThan(1)
    // What a browser does when the plug is pulled: the track ends by itself.
    await live.evaluate(() => {
      const video = document.querySelector('video')!
      const [track] = (video.srcObject as MediaStream).getVideoTracks()
      track.stop()
      track.dispatchEvent(new Event('ended'))
    })
    await live.getByText(/unplugged or taken away/).waitFor()
    await live.getByRole('button', { name: 'Keep' }).click()
    await waitForFrame(live, 0)
    await other.close()
  })
})

it('how to film well is one click away wherever footage is chosen', async () => {
  await go(given.server, page, '/')
  await page.getByRole('link', { name: 'Film it well' }).click()
  await page.getByRole('heading', { name: /A minute of care/ }).waitFor()
  await page.getByRole('link', { name: 'Record' }).click()
  await page.getByRole('link', { name: 'Film it well' }).click()
  await page.getByRole('heading', { name: 'Look at it square on' }).waitFor()
})
