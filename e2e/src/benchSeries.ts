import { API } from '@apokinema/core/api'
import { edits } from '@apokinema/core/investigation'
import { PLANK, plankSeries, plankTrial, trialId } from '@apokinema/core/testing/plankSeries'
import type { Browser } from 'playwright-core'
import { newWindow } from './browser.ts'
import type { ServerProcess } from './serverProcess.ts'
import { applyTo, post } from './work.ts'

const TRIALS = 100
const MARKS = 200
/** Milliseconds after which the page has kept the numbers that it shows. */
const UNTIL_KEPT = 4000
/** How often it is opened in each way. */
const OPENINGS = 7
/** Milliseconds for which a card is pointed at before it is pressed. */
const POINTED = 300

/** How fast a series of a hundred trials is, for `npm run bench -- series`. */
export async function benchSeries(
  browser: Browser,
  { origin }: ServerProcess,
  note: (what: string, value: string) => void,
  spread: (values: number[]) => string,
): Promise<void> {
  const angles = Array.from({ length: TRIALS }, (_, i) => 5 + 0.1 * i)
  const ids = angles.map(() => crypto.randomUUID())
  for (const [i, id] of ids.entries())
    await post({ origin }, API.investigations, {
      id,
      title: `Plank ${i + 1}`,
      document: { ...plankTrial(angles[i], i, { frames: MARKS }), title: `Plank ${i + 1}` },
    })
  const series = crypto.randomUUID()
  const text = ids.reduce((all, id, i) => all.replaceAll(trialId(i), id), JSON.stringify(plankSeries(angles)))
  await post({ origin }, API.allSeries, { id: series, document: JSON.parse(text) })

  const page = await (await newWindow(browser)).newPage()
  const timed = async (act: () => Promise<unknown>, isDone: () => Promise<unknown>) => {
    const began = performance.now()
    await act()
    await isDone()
    return Math.round(performance.now() - began)
  }
  const isWhole = () =>
    page.waitForFunction(
      (count) => document.querySelectorAll('[data-trial] [data-value]').length >= count,
      2 * TRIALS,
      { polling: 20 },
    )
  await page.goto(origin)
  const what = `${TRIALS} trials of ${MARKS} marks`
  const rows = page.locator('[data-trial]')
  let untilRows = 0
  const first = await timed(async () => {
    untilRows = await timed(
      () => page.goto(`${origin}/series/${series}`),
      () => rows.nth(TRIALS - 1).waitFor(),
    )
  }, isWhole)
  note(`opening ${what} for the first time, until the table stands there`, `${untilRows} ms`)
  note('… until all numbers are computed', `${first} ms`)
  const card = page.locator(`[data-series-card] a[href="/series/${series}"]`).first()
  /** Times openings from the first page. */
  const again = async (prepare: () => Promise<unknown>, open: () => Promise<unknown>) => {
    const took: number[] = []
    for (let n = 0; n < OPENINGS; n++) {
      await page.waitForTimeout(UNTIL_KEPT)
      await page.goto(origin)
      await prepare()
      took.push(await timed(open, isWhole))
    }
    return spread(took)
  }
  const byClick = await again(
    async () => {
      // Who presses a card has pointed at it before.
      await card.hover()
      await page.waitForTimeout(POINTED)
    },
    () => card.click(),
  )
  note('… again, by a click on the first page', byClick)
  const atAddress = await again(
    () => card.waitFor(),
    () => page.goto(`${origin}/series/${series}`),
  )
  note('… again, at its address, with the start of the application', atAddress)
  await page.waitForTimeout(UNTIL_KEPT)
  await applyTo({ origin }, ids[0], [edits.changeFit(PLANK.fit, { model: 'changing-acceleration' })])
  await page.evaluate(() => window.dispatchEvent(new Event('focus')))
  const button = page.getByRole('button', { name: 'Make all alike' })
  await button.waitFor()
  const before = await page
    .locator('[data-trial]')
    .last()
    .locator('[data-value]')
    .first()
    .getAttribute('data-value')
  note(
    `changing the model of all ${TRIALS} trials, until all numbers stand there`,
    `${await timed(
      () => button.click(),
      () =>
        page.waitForFunction(
          ([value, count]) => {
            const cells = [...document.querySelectorAll('[data-trial]')].map((row) =>
              row.querySelector('[data-value]'),
            )
            const last = cells[cells.length - 1]?.getAttribute('data-value')
            return cells.length === count && cells.every(Boolean) && last !== value
          },
          [before, TRIALS] as const,
          { polling: 20 },
        ),
    )} ms`,
  )
  await page.close()
}
