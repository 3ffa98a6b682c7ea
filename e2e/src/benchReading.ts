import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { edits } from '@apokinema/core/investigation'
import type { Browser } from 'playwright-core'
import { ROOT } from '../../scripts/folders.ts'
import { timeClicks } from './benchMarking.ts'
import { newWindow } from './browser.ts'
import { reopen } from './page.ts'
import type { ServerProcess } from './serverProcess.ts'
import { openFile, workOn } from './work.ts'

/** How long reading a clip takes, and whether hands are slowed by it, for `npm run bench -- reading`. */
export async function benchReading(
  browser: Browser,
  server: ServerProcess,
  note: (what: string, value: string) => void,
  spread: (values: number[]) => string,
): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'apokinema-bench-'))
  const clip = join(folder, 'ten-seconds.mp4')
  const ffmpeg = (...words: string[]) => execFileSync('ffmpeg', ['-loglevel', 'error', ...words])
  const sample = join(ROOT, 'demo/samples/net-float/footage.mp4')
  ffmpeg('-stream_loop', '4', '-i', sample, '-t', '10', '-c', 'copy', clip)
  const began = performance.now()
  ffmpeg('-threads', '1', '-i', clip, '-f', 'null', '-')
  note('decoding 10 s of 1280x720 once, by ffmpeg on one core', `${Math.round(performance.now() - began)} ms`)

  const page = await (await newWindow(browser)).newPage()
  await page.addInitScript('globalThis.__name = (f) => f')
  await page.goto(server.origin)
  const body = crypto.randomUUID()
  await openFile(server, page, clip)
  await workOn(
    server,
    page,
    edits.addBody(body, { position: crypto.randomUUID(), velocity: crypto.randomUUID() }, 'Net float'),
  )
  await reopen(page)
  const isRead = () => page.getByText(/^looking, \d+ %$/).count()
  const early = await timeClicks(page, 0, 30)
  const share = await page
    .getByText(/^looking, \d+ %$/)
    .textContent()
    .catch(() => 'read')
  note(`click to the next frame shown, while the clip is read (then at “${share}”)`, spread(early))
  const rested = performance.now()
  while (await isRead()) await page.waitForTimeout(50)
  note('… until the rest of it is read, hands off', `${Math.round(performance.now() - rested)} ms`)
  note('click to the next frame shown, once it is read', spread(await timeClicks(page, 40, 30)))
  const address = page.url()
  await page.close()
  // In a browser that has not read it.
  const fresh = await (await newWindow(browser)).newPage()
  await fresh.goto(address)
  const looking = fresh.getByText(/^looking, \d+ %$/)
  await looking.waitFor()
  const opened = performance.now()
  while (await looking.count()) await fresh.waitForTimeout(50)
  note('10 s of 1280x720 read from its opening, hands off', `${Math.round(performance.now() - opened)} ms`)
  await fresh.close()
  rmSync(folder, { recursive: true })
}
