import { analyse } from '@apokinema/core/analysis'
import { edits, type Mutator } from '@apokinema/core/investigation'
import { itAtLength } from '@apokinema/core/testing/extent'
import { measuredSample, readTruth, sampleIds } from '@apokinema/demo'
import type { Page } from 'playwright-core'
import { beforeEach, describe, expect, it } from 'vitest'
import { boxOf, waitForSaved } from './page.ts'
import { pageTests } from './pageTests.ts'
import { documentOf, openGraphs, openPrepared } from './work.ts'

/** From points to physics through the page: models, readings, comparisons, suggestions, calculations. */

const given = pageTests()
let page: Page

beforeEach(() => {
  page = given.page
})

type Ids = ReturnType<typeof sampleIds>
const STRETCH = crypto.randomUUID()
const FORM = crypto.randomUUID()

/** Returns the frames of a sample's first body in some phase. */
function phase(sample: string, name: string): [number, number] {
  const frames = readTruth(sample)
    .bodies[0].frames.filter((one) => one.phase === name)
    .map(({ frame }) => frame)
  return [frames[0], frames[frames.length - 1]]
}

/** Opens a sample that a careful hand has measured, at its graphs. */
async function measured(
  sample: string,
  more: (ids: Ids) => Mutator[],
  { tilt = 0, isTimed = true } = {},
): Promise<Ids> {
  const ids = sampleIds(sample)
  const { captureRate, rate } = readTruth(sample)
  const timed =
    isTimed && captureRate !== rate
      ? [edits.setCaptureRate(crypto.randomUUID(), { from: null, to: null, rate: captureRate, known: null })]
      : []
  const mutators = [...timed, ...measuredSample(sample, ids, 11, tilt), ...more(ids)]
  await openPrepared(given.server, page, sample, mutators, 'graphs')
  return ids
}

/** A stretch over a graph that shows a quantity. */
const stretched =
  (quantity: string, [from, to]: [number, number], across?: string) =>
  ({ bodies: [{ position }] }: Ids): Mutator[] => [
    edits.changeGraph(position, { quantity, ...(across && { xQuantity: across }) }),
    edits.addStretch(STRETCH, position, from, to),
  ]

/** Chooses a model in the menu of a graph. */
async function fit(quantity: string, model: string | RegExp): Promise<void> {
  await page.locator(`[data-graph="${quantity}"]`).getByRole('button', { name: 'Fit…' }).first().click()
  await page.getByRole('menuitem', { name: model }).click()
  await page.locator('[data-reading]').first().waitFor()
}

async function reading(key: string): Promise<{ value: number; error: number }> {
  const shown = page.locator(`[data-reading="${key}"]`).first()
  await shown.waitFor()
  return {
    value: Number(await shown.getAttribute('data-value')),
    error: Number(await shown.getAttribute('data-error')),
  }
}

/** Within three combined standard errors of the truth, and within a share of it. */
async function expectReading(key: string, truth: number, share = 0.01): Promise<void> {
  const { value, error } = await reading(key)
  expect(Math.abs(value - truth)).toBeLessThan(3 * error)
  expect(Math.abs(value / truth - 1)).toBeLessThan(share)
}

// All samples are read off in demo/src/readings.test.ts; here are four ways through the page.
describe('read off the samples', () => {
  it('g and the launch, from the net float’s throw with x and y together', async () => {
    await measured('net-float', stretched('y', phase('net-float', 'flying')))
    await fit('y', /^Throw/)
    await expectReading('acceleration', -9.81)
    const { launchX, launchY, g, releaseTime } = readTruth('net-float').constants
    // The first mark in flight comes a little after the release.
    const upwards = launchY - g * (phase('net-float', 'flying')[0] / 60 - releaseTime)
    await expectReading('throw-speed', Math.hypot(launchX, upwards))
    await expectReading('throw-apex', upwards ** 2 / (2 * g))
    await page.getByText('Path, in m').waitFor()
    await page.getByRole('button', { name: 'g, 9.81' }).click()
    await page.getByText(/agrees/).waitFor()
  })

  it('the acceleration of the barrel, which an expression foretells', async () => {
    const { slope, acceleration } = readTruth('barrel-on-plank').constants
    const constants = [
      edits.setConstant(crypto.randomUUID(), { name: 'slope', value: slope, error: 0.002, unit: 'rad' }),
    ]
    await measured(
      'barrel-on-plank',
      (ids) => [...stretched('x', phase('barrel-on-plank', 'rolling'))(ids), ...constants],
      { tilt: -slope },
    )
    await fit('x', /^Uniform acceleration/)
    await expectReading('acceleration', acceleration)
    await page.getByLabel('Expected, m/s²').fill('2/3*g*sin(slope)')
    await page.getByLabel('Expected, m/s²').press('Enter')
    await page.getByText(/agrees .*It gives 1\.2\d/).waitFor()
    await page.getByLabel('Expected, m/s²').fill('g*angle')
    await page.getByLabel('Expected, m/s²').press('Enter')
    await page.getByText('There is nothing called “angle”.').waitFor()
  })

  itAtLength('the frequency of the swing boat, from its phase plot', async () => {
    const [from] = phase('swing-boat', 'swinging')
    await measured('swing-boat', stretched('omega', [from, from + 48], 'theta'), {
      tilt: -Math.PI / 2,
    })
    await fit('omega', /^Pendulum’s loop/)
    const { g, length } = readTruth('swing-boat').constants
    await expectReading('omega', Math.sqrt(g / length))
  })

  it('momentum before and after of the ice blocks, as calculations', async () => {
    const { massLarge, massSmall, velocityLargeBefore, velocitySmallBefore } =
      readTruth('ice-blocks').constants
    await measured('ice-blocks', ({ bodies }) => [
      ...bodies.map(({ body }, i) =>
        edits.changeBody(body, { mass: { value: [massLarge, massSmall][i], error: 0.002 } }),
      ),
      ...[phase('ice-blocks', 'before'), phase('ice-blocks', 'after')].flatMap(([from, to]) =>
        bodies.flatMap(({ position }) => {
          const stretch = crypto.randomUUID()
          return [
            edits.changeGraph(position, { quantity: 'x' }),
            edits.addStretch(stretch, position, from, to),
            edits.addFit(crypto.randomUUID(), stretch, 'uniform-acceleration'),
          ]
        }),
      ),
    ])
    for (const [symbol, formula] of [
      ['before', 'm_large_block*v_end_1 + m_small_block*v_end_2'],
      ['after', 'm_large_block*v_start_3 + m_small_block*v_start_4'],
      ['lost', 'before - after'],
    ]) {
      await page.getByRole('button', { name: 'Calculate something' }).click()
      await page.getByLabel('Symbol').fill(symbol)
      await page.getByLabel('Formula').fill(formula)
      await page.getByRole('button', { name: 'Keep it' }).click()
      await page.locator(`[data-calculation="${symbol}"] [data-result]`).waitFor()
    }
    const momentum = massLarge * velocityLargeBefore + massSmall * velocitySmallBefore
    for (const symbol of ['before', 'after']) {
      const result = page.locator(`[data-calculation="${symbol}"] [data-result]`)
      expect(Math.abs(Number(await result.getAttribute('data-value')) / momentum - 1)).toBeLessThan(0.01)
    }
    const lost = page.locator('[data-calculation="lost"] [data-result]')
    const [value, error] = [await lost.getAttribute('data-value'), await lost.getAttribute('data-error')]
    expect(Math.abs(Number(value))).toBeLessThan(3 * Number(error) + 0.008)
    await page.locator('[data-calculation="lost"]').getByRole('button', { name: 'Change' }).click()
    await page.getByLabel('Formula').fill('lost + 1')
    await page.getByText('“lost” is defined by itself: it stands in its own expression.').waitFor()
  })
})

describe('a form of their own', () => {
  it('is laid by eye where the fit does not find it', async () => {
    const [from] = phase('paper-lantern', 'bobbing')
    const { rate, constants } = readTruth('paper-lantern')
    const { angularFrequency } = constants
    const ids = await measured('paper-lantern', (ids) => [
      ...stretched('y', [from, from + Math.round((1.2 * 2 * Math.PI * rate) / angularFrequency)])(ids),
      edits.addFit(FORM, STRETCH, 'free-form'),
      edits.changeFit(FORM, {
        expression: 'c + a*sin(w*t + p)',
        start: { c: 0, a: 0.1, w: 8, p: 5.2 },
      }),
    ])
    const lay = page.getByRole('button', { name: 'Lay it by eye' })
    await lay.waitFor()
    // From there the fit finds nothing, or something else.
    const omega = page.locator('[data-reading="w"]').first()
    const isFound = async () => {
      if ((await omega.count()) === 0) return false
      const value = Number(await omega.getAttribute('data-value'))
      return Math.abs(Math.abs(value) / angularFrequency - 1) < 0.02
    }
    expect(await isFound()).toBe(false)
    await lay.click()
    const handles = page.getByRole('slider', { name: /^Handle/ })
    await handles.nth(3).waitFor()
    const { document } = await documentOf(given.server, page)
    const table = analyse(document).table(ids.bodies[0].body)
    const said = async (k: number) => {
      const [value, time] = ((await handles.nth(k).getAttribute('aria-valuetext')) ?? '')
        .replaceAll('−', '-')
        .split(' at ')
        .map(Number.parseFloat)
      const { x, y, width, height } = await boxOf(handles.nth(k))
      return { value, time, x: x + width / 2, y: y + height / 2 }
    }
    const seen = (await page
      .locator('[data-graph="y"] [data-y-limits]')
      .first()
      .getAttribute('data-y-limits'))!
      .split(' ')
      .map(Number)
    // Never visible itself: it clips what is.
    const { height } = (await page.locator('[data-by-eye] clipPath rect').boundingBox())!
    // Two rounds: what is laid through one place moves the curve elsewhere a little.
    for (const k of [0, 1, 2, 3, 0, 1, 2, 3]) {
      const { value, time, x, y } = await said(k)
      const row = table.times.findIndex((at) => at >= time)
      const off = ((table.column('y').values[row] - value) / (seen[1] - seen[0])) * height
      await page.mouse.move(x, y)
      await page.mouse.down()
      await page.mouse.move(x, y - off / 2)
      await page.mouse.move(x, y - off)
      await page.mouse.up()
    }
    await waitForSaved(page)
    await expect.poll(isFound).toBe(true)
    await handles.nth(1).press('ArrowUp')
    await page.keyboard.press('Escape')
    await page.getByRole('button', { name: 'Done', exact: true }).click()
    await expect.poll(() => handles.count()).toBe(0)
  })
})

describe('what would explain a reading that misses', () => {
  it('names the scale first where the reference was mistyped by 10 %, and leads to it', async () => {
    await measured('net-float', (ids) => [
      ...stretched('y', phase('net-float', 'flying'))(ids),
      edits.changeReference(ids.reference, { length: 1.54, lengthError: 0.0014 }),
    ])
    await fit('y', /^Uniform acceleration/)
    await page.getByRole('button', { name: 'g, 9.81' }).click()
    await page.locator('[data-fold="suspects"]').click()
    const first = page.locator('[data-suspect]').first()
    expect(await first.getAttribute('data-suspect')).toBe('scale')
    expect(await first.textContent()).toMatch(/1\.(39|40)\d\sm long instead of 1\.540\sm/)
    await first.getByRole('link', { name: 'Look at the reference' }).click()
    await page.getByLabel('How long is it really?').waitFor()
    await page.getByLabel('How long is it really?').fill('1.40 m')
    await page.getByLabel('How long is it really?').press('Enter')
    await waitForSaved(page)
    await openGraphs(page)
    await page.getByText(/agrees/).waitFor()
    expect(await page.locator('[data-fold="suspects"]').count()).toBe(0)
  })

  itAtLength('names slow motion first where the capture rate is unset; one click sets it', async () => {
    await measured('crane-pebble', stretched('y', phase('crane-pebble', 'falling')), {
      isTimed: false,
    })
    await fit('y', /^Uniform acceleration/)
    await page.getByLabel('Expected, m/s²').fill('-9.81')
    await page.getByLabel('Expected, m/s²').press('Enter')
    await page.locator('[data-fold="suspects"]').click()
    expect(await page.locator('[data-suspect]').first().getAttribute('data-suspect')).toBe('slow-motion')
    await page.getByRole('button', { name: 'Captured at 240 /s' }).click()
    await expect
      .poll(async () => Math.abs((await reading('acceleration')).value / 9.81 + 1))
      .toBeLessThan(0.01)
  })
})

describe('a fit', () => {
  const flying = phase('net-float', 'flying')

  it('is suggested in plain words, and its stretch made as long as it holds', async () => {
    await measured('net-float', stretched('y', [flying[0] + 14, flying[1] - 14]))
    await page.locator('[data-graph="y"]').getByRole('button', { name: 'Fit…' }).click()
    await page.getByRole('menuitem', { name: /Suggest a model/ }).click()
    const best = page.locator('[data-suggestions] [data-model]').first()
    await best.waitFor()
    expect(await best.getAttribute('data-model')).toBe('uniform-acceleration')
    await page.locator('[data-model="uniform"]').getByText('The residuals show a bend.').waitFor()
    await best.getByRole('button', { name: /longest stretch/ }).click()
    await page.locator('[data-fit="uniform-acceleration"]').waitFor()
    await waitForSaved(page)
    const { stretches } = (await documentOf(given.server, page)).document
    const { from, to } = stretches[STRETCH]
    // All of the flight, but for a frame or two at the hand and at the basket.
    expect(from).toBeLessThanOrEqual(flying[0] + 3)
    expect(from).toBeGreaterThanOrEqual(flying[0] - 2)
    expect(to).toBeGreaterThanOrEqual(flying[1] - 3)
    expect(to).toBeLessThanOrEqual(flying[1] + 2)
    await expectReading('acceleration', -9.81)
  })

  it('warns of a stray mark, says what it makes without it, and leaves it out at a click', async () => {
    const stray = flying[0] + 20
    await measured('net-float', (ids) => [
      ...stretched('y', flying)(ids),
      edits.setMark(ids.bodies[0].body, stray, { x: 500, y: 330 }),
    ])
    await fit('y', /^Uniform acceleration/)
    const hint = page.locator('[data-hint="outlier"]')
    await hint.getByText(new RegExp(`frame ${stray} lies .* off the curve`)).waitFor()
    await hint.getByRole('button', { name: 'Leave it out' }).click()
    await hint.waitFor({ state: 'detached' })
    await expectReading('acceleration', -9.81)
    await page.keyboard.press('Control+z')
    await hint.waitFor()
  })

  it('is written by oneself; what can’t be fitted says why, and nothing is lost', async () => {
    await measured('net-float', stretched('y', flying))
    await fit('y', /^Your own expression/)
    const field = page.getByLabel('Value, by t')
    const write = async (text: string) => {
      await field.fill(text)
      await field.press('Enter')
    }
    await write('2*t +')
    await page.getByText(/It can’t be read/).waitFor()
    await write('2*t + 1')
    await page.getByText(/There is no parameter in it/).waitFor()
    await write('a*b*t')
    await page.getByText(/can’t tell the parameters apart/).waitFor()
    await write('h + u*t + k*t^2')
    await expectReading('k', -9.81 / 2)
    // One parameter kept at a value: the others make the best of it.
    await page.getByRole('button', { name: 'Fix k' }).click()
    await page.getByLabel(/k fixed at/).fill('-4')
    await page.getByLabel(/k fixed at/).press('Enter')
    await page.locator('[data-hint="bend"], [data-hint="scatter"]').first().waitFor()
    expect((await reading('k')).value).toBe(-4)
    await page.keyboard.press('Control+z')
    await page.keyboard.press('Control+z')
    await expectReading('k', -9.81 / 2)
  })

  it('says value and slope at a moment, and where it meets a level', async () => {
    await measured('net-float', stretched('y', flying))
    await fit('y', /^Uniform acceleration/)
    await page.locator('[data-fold="moment"]').click()
    await page.getByLabel('At, s').fill('0.7')
    await page.getByLabel('At, s').press('Enter')
    const moment = page.locator('[data-at-moment]')
    const { launchY, g, releaseTime } = readTruth('net-float').constants
    const slope = launchY - g * (0.7 - releaseTime)
    await expect
      .poll(async () => Math.abs(Number(await moment.getAttribute('data-slope')) - slope))
      .toBeLessThan(0.02)
    await page.getByLabel('Where it is, m').fill('0.5')
    await page.getByLabel('Where it is, m').press('Enter')
    await moment.getByText('there at').first().waitFor()
  })

  itAtLength(
    'is held against the mean of another stretch, and says how its parameters go together',
    async () => {
      const other = crypto.randomUUID()
      const [from, to] = flying
      await measured('net-float', (ids) => [
        ...stretched('y', flying)(ids),
        edits.changeGraph(ids.bodies[0].velocity, { quantity: 'ay' }),
        edits.addStretch(other, ids.bodies[0].velocity, from + 3, to - 3),
      ])
      await fit('y', /^Uniform acceleration/)
      await page.getByRole('button', { name: 'More to compare it with' }).click()
      await page.getByLabel('Compare it with another reading').selectOption({ label: '2: its mean' })
      await page.keyboard.press('Escape')
      // Both are g, from the same marks.
      await page
        .locator('[data-comparison]')
        .getByText(/standard errors? – agrees/)
        .waitFor()
      await expect.poll(() => page.locator('[data-fit]').count()).toBe(2)
      await page.keyboard.press('Control+z')
      await expect.poll(() => page.locator('[data-fit]').count()).toBe(1)

      await page.locator('[data-fold="correlations"]').click()
      const table = page.locator('[data-correlations] td')
      await expect.poll(() => table.count()).toBe(3)
      for (const text of await table.allTextContents()) {
        const value = Number(text.replace('−', '-'))
        expect(Math.abs(value)).toBeGreaterThan(0.5)
        expect(Math.abs(value)).toBeLessThan(1)
      }
      await page.getByText('Draw that band').click()
      await page.getByLabel('Draw that band').isChecked()
    },
  )
})
