import { spawnSync } from 'node:child_process'
import { rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { edits, type Mutator } from '@apokinema/core/investigation'
import type { Browser, Page } from 'playwright-core'
import { milliseconds } from './benchFigures.ts'
import { followOn, listen, longest, timeClicks } from './benchMarking.ts'
import { newWindow } from './browser.ts'
import { goToFrame, reopen, stagePlace, waitForSaved } from './page.ts'
import type { ServerProcess } from './serverProcess.ts'
import { openFile, workOn } from './work.ts'

/** How ten minutes of a pendulum are worked with, for `npm run bench -- long`. */

type Note = (what: string, value: string) => void
type Spread = (values: number[]) => string

const PICTURE = { width: 640, height: 360 }
const RATE = 30
const FRAMES = 18_000
/** Seconds of a swing, and how far the bob swings to either side in pixels. */
const [PERIOD, AMPLITUDE] = [1.7, 200]
/** Frames at the end that are left to mark by hand. */
const LEFT = 120

const bobAt = (frame: number) => ({
  x: 320 + AMPLITUDE * Math.sin((2 * Math.PI * frame) / (RATE * PERIOD)),
  y: 240 - 40 * Math.sin((2 * Math.PI * frame) / (RATE * PERIOD)) ** 2,
})

/** Returns a film of a bob that swings in front of a patterned wall; null where there is no ffmpeg. */
function pendulumFilm(): string | null {
  const path = join(tmpdir(), 'apokinema-bench-pendulum.mp4')
  const { width, height } = PICTURE
  // The first picture is laid down as the one with the number 1.
  const swing = `sin(2*PI*(n-1)/${RATE * PERIOD})`
  const wall = `nullsrc=s=${width}x${height}:r=${RATE}:d=0.04,geq=lum='110+30*sin(X/9)*cos(Y/13)+12*sin(X*Y/900)':cb=120:cr=130,loop=-1:1`
  const bob = `color=black:s=24x24:r=${RATE},format=yuva420p,geq=lum='70+3*X':cb=90:cr=190:a='255*clip(11.5-hypot(X-11.5,Y-11.5),0,1)'`
  const made = spawnSync('ffmpeg', [
    '-loglevel',
    'error',
    '-y',
    '-filter_complex',
    `${wall}[w];${bob}[b];[w][b]overlay=x='308.5+${AMPLITUDE}*${swing}':y='228.5-40*${swing}*${swing}'`,
    ...`-frames:v ${FRAMES} -c:v libx264 -preset veryfast -crf 23 -pix_fmt yuv420p ${path}`.split(' '),
  ])
  return made.status === 0 ? path : null
}

/** Returns the milliseconds of each key press until its change is on the screen, as the browser tells them. */
async function timeKeys(page: Page, key: string, count: number): Promise<number[]> {
  await page.evaluate(() => {
    const record = window as unknown as { keys: number[] }
    record.keys = []
    new PerformanceObserver((list) => {
      for (const { name, duration } of list.getEntries()) if (name === 'keydown') record.keys.push(duration)
    }).observe({ type: 'event', durationThreshold: 16 } as PerformanceObserverInit)
  })
  for (let press = 0; press < count; press++) {
    await page.locator('body').press(key)
    await page.waitForTimeout(400)
  }
  const all = await page.evaluate(() => (window as unknown as { keys: number[] }).keys)
  // The modifier's own key is told as well, and takes no time worth telling.
  return all.filter((took) => took > 16).slice(0, count)
}

export async function benchLong(
  browser: Browser,
  server: ServerProcess,
  note: Note,
  spread: Spread,
): Promise<void> {
  const film = pendulumFilm()
  if (!film) {
    note('ten minutes of film', 'not measured: needs ffmpeg for its clip')
    return
  }
  const page = await (await newWindow(browser)).newPage()
  await page.addInitScript('globalThis.__name = (f) => f')
  await openFile(server, page, film)
  await waitForSaved(page)
  const [id, position, velocity, stretch, fit] = Array.from({ length: 5 }, () => crypto.randomUUID())
  const marked: Mutator = (draft) => {
    edits.addBody(id, { position, velocity }, 'Bob')(draft)
    for (let frame = 0; frame < FRAMES - LEFT; frame++)
      draft.bodies[id].marks[frame] = { ...bobAt(frame), by: 'hand' }
    edits.addStretch(stretch, position, 0, FRAMES - LEFT - 1)(draft)
    edits.addFit(fit, stretch, 'damped-swing')(draft)
  }
  await workOn(server, page, marked)

  const began = performance.now()
  await reopen(page)
  note('18,000 marks: opened to the first frame', milliseconds(performance.now() - began))
  await listen(page)
  const marks = await timeClicks(page, FRAMES - LEFT, 40, PICTURE)
  note('18,000 marks: a mark by hand', spread(marks))
  note('18,000 marks: undo', spread(await timeKeys(page, 'Control+z', 20)))
  note('18,000 marks: longest task meanwhile', milliseconds(await longest(page)))

  const graphs = performance.now()
  await page.getByRole('link', { name: 'Graphs', exact: true }).click()
  await page.locator('[data-reading]').first().waitFor()
  note('18,000 marks: graphs with a fit', milliseconds(performance.now() - graphs))
  await page.getByRole('link', { name: 'Measure' }).click()

  await workOn(server, page, edits.removeBody(id))
  await page.reload()
  await goToFrame(page, 0)
  await page.locator('body').press('f')
  const place = await stagePlace(page, PICTURE)
  const at = place(bobAt(0))
  const asked = performance.now()
  await page.mouse.click(at.x, at.y)
  await page.locator('[data-follow="ready"]').waitFor()
  note('ten minutes at 640x360: outline after the click', milliseconds(performance.now() - asked))
  await listen(page)
  const started = performance.now()
  await followOn(page, 900_000)
  const seconds = (performance.now() - started) / 1000
  await waitForSaved(page)
  const frame = Number(await page.getByLabel('Current frame').inputValue())
  note('followed, ended or asked in frame', `${frame}, ${(frame / seconds).toFixed(0)} frames/s`)
  note('longest task on the main thread meanwhile', milliseconds(await longest(page)))
  await page.close()
  rmSync(film)
}
