import { edits, type ModelId } from '@apokinema/core/investigation'
import { measuredSample, readTruth, sampleIds } from '@apokinema/demo'
import type { Page } from 'playwright-core'
import { beforeEach, describe, expect, it } from 'vitest'
import { pageTests } from './pageTests.ts'
import { numberIn, readingsOf, seriesOf } from './seriesPage.ts'
import { applyTo, go } from './work.ts'

/** Series of samples are measured in one go, and give what is known of them. */

const given = pageTests()
let page: Page
beforeEach(() => {
  page = given.page
})

/** Opens a series of samples from the first page, measures its first trial, and has the others set up and measured like it. */
async function measureSampleSeries(
  title: string,
  first: { sample: string; quantity: string; model: ModelId; stretch: [number, number] },
): Promise<void> {
  await go(given.server, page, '/')
  await page.getByRole('button', { name: `Series: ${title}` }).click()
  await page.getByRole('link', { name: /^Measure / }).waitFor()
  const id = new URL(page.url()).pathname.split('/')[2]
  const [trial] = (await seriesOf(given.server, id)).trials
  const ids = sampleIds(first.sample, 'series')
  const [{ position }] = ids.bodies
  const stretch = crypto.randomUUID()
  await applyTo(given.server, trial.id, [
    ...measuredSample(first.sample, ids, 5, 0, 'series'),
    edits.changeGraph(position, { quantity: first.quantity }),
    edits.addStretch(stretch, position, ...first.stretch),
    edits.addFit(crypto.randomUUID(), stretch, first.model),
  ])
  await page.reload()
  await page.getByRole('button', { name: /^Set up and measure the other/ }).click()
  await page.locator('[data-queue]').waitFor()
}

const everythingIsMeasured = () => page.locator('[data-queue]').waitFor({ state: 'detached' })

const LANTERNS = [
  'Lanterns with one to five leads',
  {
    sample: 'lantern-with-1',
    quantity: 'y',
    model: 'uniform',
    stretch: [45, 100],
  },
] as const satisfies Parameters<typeof measureSampleSeries>

/** Holds the terminal speeds of the first trials against the truth. */
async function expectTerminalSpeeds(count: number): Promise<void> {
  for (const [i, { value, error }] of (await readingsOf(page, count)).entries()) {
    const { terminalSpeed } = readTruth(`lantern-with-${i + 1}`, 'series').constants
    expect(Math.abs(-value - terminalSpeed), `${i + 1} leads`).toBeLessThan(
      Math.min(3.5 * error, 0.01 * terminalSpeed),
    )
  }
}

describe('a series of samples', () => {
  it('gives the terminal speeds of lanterns with one to five leads', async () => {
    await measureSampleSeries(...LANTERNS)
    await everythingIsMeasured()
    await expectTerminalSpeeds(5)
  })

  it('gives the same g in five throws of the net float', async () => {
    const flying = readTruth('net-float-1', 'series').bodies[0].frames.filter(
      ({ phase }) => phase === 'flying',
    )
    await measureSampleSeries('Net float, five throws', {
      sample: 'net-float-1',
      quantity: 'y',
      model: 'uniform-acceleration',
      stretch: [flying[1].frame, flying[flying.length - 2].frame],
    })
    await everythingIsMeasured()
    for (const { value, error } of await readingsOf(page, 5))
      expect(Math.abs(value + 9.81)).toBeLessThan(Math.min(3.5 * error, 0.01 * 9.81))
    const mean = await numberIn(page.locator('[data-mean]'))
    expect(Math.abs(mean.value + 9.81)).toBeLessThan(3 * mean.error)
    await page.getByText('The trials scatter as their own errors promise.').waitFor()
  })

  it('gives the angular frequency of the swing boat on ropes of four lengths', async () => {
    await measureSampleSeries('Swing boat at four rope lengths', {
      sample: 'swing-boat-at-120',
      quantity: 'x',
      model: 'damped-swing',
      stretch: [14, 239],
    })
    await everythingIsMeasured()
    for (const [i, { value, error }] of (await readingsOf(page, 4)).entries()) {
      const { g, length, amplitude } = readTruth(
        `swing-boat-at-${[120, 160, 200, 225][i]}`,
        'series',
      ).constants
      // It swings with less than its first amplitude, which makes it slower by θ²/16 at most.
      const [slowest, fastest] = [1 - amplitude ** 2 / 16, 1].map((factor) => factor * Math.sqrt(g / length))
      expect(value).toBeGreaterThan(slowest - 3.5 * error)
      expect(value).toBeLessThan(fastest + 3.5 * error)
    }
  })
})
