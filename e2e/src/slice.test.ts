import { readTruth } from '@apokinema/demo'
import Papa from 'papaparse'
import type { Page } from 'playwright-core'
import { beforeAll, describe, expect, it } from 'vitest'
import { newWindow } from './browser.ts'
import {
  boxOf,
  downloaded,
  drag,
  goToFrame,
  openRow,
  stagePlace,
  waitForFrame,
  waitForSaved,
} from './page.ts'
import { pageTests } from './pageTests.ts'

const PICTURE = { width: 1280, height: 720 }
const toHalf = ({ x, y }: { x: number; y: number }) => ({
  x: Math.round(2 * x) / 2,
  y: Math.round(2 * y) / 2,
})

const given = pageTests()
let page: Page
const faults: string[] = []

beforeAll(async () => {
  // Twice as dense as the picture, so that half a pixel of it can be pointed at.
  page = await (await newWindow(given.browser, { viewport: { width: 2200, height: 1400 } })).newPage()
  page.on('pageerror', (error) => faults.push(error.message))
  page.on('console', (message) => {
    if (message.type() === 'error') faults.push(message.text())
  })
})

const readingOf = async () => {
  const reading = page.locator('[data-reading]').first()
  return {
    value: Number(await reading.getAttribute('data-value')),
    error: Number(await reading.getAttribute('data-error')),
    text: (await reading.textContent())!,
  }
}

describe('from an empty list to g', () => {
  const truth = readTruth('net-float')
  const flying = truth.bodies[0].frames.filter(({ phase, t }) => phase === 'flying' && t > 0.44)
  const first = flying[0].frame
  const last = flying[flying.length - 2].frame

  it('opens the sample from an empty list', async () => {
    await page.goto(given.server.origin)
    await page.locator('[data-start="first"]').waitFor()
    expect(await page.locator('[data-card]').count()).toBe(0)
    await page.getByRole('button', { name: /Sample: Net float/ }).click()
    await waitForFrame(page, 0)
    expect(page.url()).toMatch(/\/investigations\//)
  })

  it('sets the span by number', async () => {
    await openRow(page, /Frames 0 to 119/)
    for (const [label, value] of [
      ['First', first],
      ['Last', last],
      ['Every n-th', 2],
    ] as const) {
      await page.getByLabel(label, { exact: true }).fill(String(value))
      await page.getByLabel(label, { exact: true }).press('Enter')
    }
    await page.locator(`[data-span^="${first} – ${last} "]`).waitFor()
    await openRow(page, /Frames/)
  })

  it('sets a reference length with ends up to half a pixel off, and its length', async () => {
    const place = await stagePlace(page, PICTURE)
    const [low, high] = truth.reference.ends
    await page.getByRole('button', { name: 'Draw along something you know' }).click()
    await drag(page, place({ x: low.x + 0.4, y: low.y - 0.5 }), place({ x: high.x - 0.3, y: high.y + 0.4 }))
    await page.getByLabel('How long is it really?').fill('1,40 m')
    await page.getByLabel('How long is it really?').press('Enter')
    await page
      .getByText(/1\.400\s*m/)
      .first()
      .waitFor()
  })

  it('places the origin and lays x along the ground', async () => {
    const place = await stagePlace(page, PICTURE)
    const origin = place({ x: 300, y: 600 })
    await openRow(page, /Axes/)
    await page.getByRole('button', { name: 'Place the origin' }).click()
    await page.mouse.click(origin.x, origin.y)
    await page.getByRole('button', { name: 'Lay x along a line' }).click()
    await drag(page, place({ x: 200, y: 640 }), place({ x: 1100, y: 640 }))
    await page.getByText(/tilt [−-]?0\.0\d+ ± 0\.0\d+°/).waitFor()
  })

  it('marks every second frame by clicks; the film goes on by itself', async () => {
    await page.getByRole('button', { name: 'Add a body', exact: true }).first().click()
    await page.getByLabel('Name of the body').fill('Net float')
    await page.getByLabel('Name of the body').press('Enter')
    await goToFrame(page, first)
    await page.getByRole('button', { name: 'Mark Net float' }).click()
    const place = await stagePlace(page, PICTURE)
    for (const mark of flying.filter(({ frame }) => frame <= last && (frame - first) % 2 === 0)) {
      await waitForFrame(page, mark.frame)
      const at = place(toHalf(mark))
      await page.mouse.click(at.x, at.y)
    }
    await page.getByRole('button', { name: 'Mark Net float' }).waitFor()
    await waitForSaved(page)
  })

  it('a click outside of marking makes no mark', async () => {
    const marks = page.locator('[data-marks]').first()
    const before = await marks.textContent()
    const place = await stagePlace(page, PICTURE)
    const nowhere = place({ x: 900, y: 120 })
    await page.mouse.click(nowhere.x, nowhere.y)
    expect(await marks.textContent()).toBe(before)
  })

  it('reads g off a fit to position, within 1 % and 3 standard errors', async () => {
    await page.getByRole('link', { name: 'Graphs', exact: true }).click()
    const graph = page.locator('[data-graph="y"] canvas')
    await graph.waitFor()
    const box = await boxOf(graph)
    await drag(
      page,
      { x: box.x + 70, y: box.y + box.height / 2 },
      { x: box.x + box.width - 20, y: box.y + box.height / 2 },
    )
    await page
      .getByText(/^mean .* change .* slope/)
      .first()
      .waitFor()
    await page.locator('[data-graph="y"]').getByRole('button', { name: 'Fit…' }).click()
    await page.getByRole('menuitem', { name: /Uniform acceleration/ }).click()
    const { value, error, text } = await readingOf()
    expect(Math.abs(value + 9.81)).toBeLessThan(0.0981)
    expect(Math.abs(value + 9.81)).toBeLessThan(3 * error)
    expect(text).toMatch(/^Acceleration −9\.\d+ ± 0\.0\d+\s?m\/s²$/)
    await page.getByRole('button', { name: 'g, 9.81' }).click()
    await page.getByText(/% off, .* standard errors/).waitFor()
  })

  /** Returns the rows of the table as they are downloaded. */
  async function exportedRows(): Promise<Record<string, number>[]> {
    await page.getByRole('button', { name: 'Export' }).click()
    const download = page.getByRole('button', { name: 'Download CSV' })
    const text = (await downloaded(page, () => download.click())).body.toString()
    await page.keyboard.press('Escape')
    const options = { header: true, dynamicTyping: true, skipEmptyLines: true } as const
    return Papa.parse<Record<string, number>>(text, options).data
  }

  it('gives the same numbers as CSV', async () => {
    const { value } = await readingOf()
    const data = await exportedRows()
    expect(data).toHaveLength(flying.filter(({ frame }) => frame <= last && (frame - first) % 2 === 0).length)
    const quantities = ['x (m)', 'y (m)', 'vx (m/s)', 'vy (m/s)', 'ax (m/s²)', 'ay (m/s²)']
    expect(Object.keys(data[0])).toEqual(['frame', 't (s)', ...quantities])
    expect(data.map((row) => row.frame)[0]).toBe(first)
    expect(parabola(data.map((row) => [row['t (s)'], row['y (m)']]))).toBeCloseTo(value, 6)
  })

  it('tells value, error and frame of the point that is pointed at, and shows error bars', async () => {
    const graph = page.locator('[data-graph="vy"]')
    const bars = graph.getByRole('button', { name: 'Error bars of Velocity along y' })
    await bars.click()
    expect(await bars.getAttribute('aria-pressed')).toBe('true')
    const { x, y, width, height } = await boxOf(graph.locator('canvas'))
    await page.mouse.move(x + width / 2, y + height / 2)
    const says = await graph.locator('[data-pointed]').textContent()
    const [, value, error, time, frame] = /([−\d.]+) ± ([\d.]+).m\/s ?at ([\d.]+).s · frame (\d+)/
      .exec(says!)!
      .map((one) => Number(one.replace('−', '-')))
    const row = (await exportedRows()).find((one) => one.frame === frame)!
    expect(time).toBeCloseTo(row['t (s)'], 3)
    expect(Math.abs(value - row['vy (m/s)'])).toBeLessThan(error / 10)
    await page.getByRole('button', { name: 'Undo', exact: true }).click()
    await expect.poll(() => bars.getAttribute('aria-pressed')).toBe('false')
  })

  it('derives velocity over a window where that is chosen, at the ends too, until it is undone', async () => {
    expect((await exportedRows()).at(0)!['vy (m/s)']).toBeNull()
    const choice = page.getByLabel('How velocity and acceleration are derived')
    await choice.selectOption('parabola over 7 points')
    const data = await exportedRows()
    const window = data.slice(0, 7).map((row) => [row['t (s)'], row['y (m)']])
    // By the parabola through the first seven points, at the first of them.
    const [time] = window[0]
    expect(data[0]['vy (m/s)']).toBeCloseTo(slopeAt(window, time), 6)
    await page.getByRole('button', { name: 'Undo', exact: true }).click()
    await expect.poll(() => choice.inputValue()).toBe('three-point')
  })

  it('is all there after a reload, undo included', async () => {
    await waitForSaved(page)
    const before = await readingOf()
    await page.reload()
    await page.locator('[data-reading]').first().waitFor()
    expect(await readingOf()).toEqual(before)
    await page.getByRole('button', { name: 'Undo', exact: true }).click()
    await page.locator('[data-comparison]').waitFor({ state: 'detached' })
    await page.getByRole('button', { name: 'Redo', exact: true }).click()
    await page.locator('[data-comparison]').waitFor()
    await waitForSaved(page)
  })

  it('had no fault in the page, and nothing broke the content policy', () => {
    expect(faults).toEqual([])
  })
})

/** Acceleration by the plain normal equations of a parabola: another way than the product's own. */
function parabola(points: number[][]): number {
  return 2 * normalParabola(points)[2]
}

/** Slope of the same parabola at a time. */
function slopeAt(points: number[][], time: number): number {
  const [, slope, bend] = normalParabola(points)
  return slope + 2 * bend * time
}

/** Coefficients of the parabola through points, by Cramer's rule. */
function normalParabola(points: number[][]): number[] {
  const s = (p: number, q: number) => points.reduce((sum, [t, y]) => sum + t ** p * y ** q, 0)
  const m = [
    [s(0, 0), s(1, 0), s(2, 0)],
    [s(1, 0), s(2, 0), s(3, 0)],
    [s(2, 0), s(3, 0), s(4, 0)],
  ]
  const det = (a: number[][]) =>
    a[0][0] * (a[1][1] * a[2][2] - a[1][2] * a[2][1]) -
    a[0][1] * (a[1][0] * a[2][2] - a[1][2] * a[2][0]) +
    a[0][2] * (a[1][0] * a[2][1] - a[1][1] * a[2][0])
  const right = [s(0, 1), s(1, 1), s(2, 1)]
  return [0, 1, 2].map(
    (k) => det(m.map((row, i) => row.map((one, j) => (j === k ? right[i] : one)))) / det(m),
  )
}
