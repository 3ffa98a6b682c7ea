import { appendFile, mkdtemp, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { analyse } from '@apokinema/core/analysis'
import { edits, type Mutator } from '@apokinema/core/investigation'
import { IS_SLOW } from '@apokinema/core/testing/extent'
import { readTruth } from '@apokinema/demo'
import type { Page } from 'playwright-core'
import { beforeEach, describe, expect, it } from 'vitest'
import { downloaded, waitForFrame } from './page.ts'
import { pageTests } from './pageTests.ts'
import { documentOf, openGraphs, openPrepared, savedDocument } from './work.ts'

/** Quantities, graphs and tables through the page, and what is taken elsewhere. */

const given = pageTests()
let page: Page
const [one, other] = [crypto.randomUUID(), crypto.randomUUID()]
const graphs = Array.from({ length: 4 }, () => crypto.randomUUID())
const truth = readTruth('ice-blocks')

const marked: Mutator = (draft) => {
  for (const [i, id] of [one, other].entries()) {
    const { name, frames } = truth.bodies[i]
    edits.addBody(id, { position: graphs[2 * i], velocity: graphs[2 * i + 1] }, name)(draft)
    for (const { frame, x, y } of frames) draft.bodies[id].marks[frame] = { x, y, by: 'hand' }
    edits.setBreak(id, 33, 'break')(draft)
  }
  const { corners, width, height } = truth.plane!
  const [a, b, c, d] = corners.map(({ x, y }) => ({ x, y, frame: 0 }))
  edits.setPlaneCorners([a, b, c, d])(draft)
  edits.changePlane({ width, height })(draft)
  edits.setAxes({ origin: a, tilt: Math.atan2(a.y - b.y, b.x - a.x) })(draft)
}

const documentNow = () => savedDocument(given.server, page)

beforeEach(() => {
  page = given.page
})

const open = (view: 'measure' | 'graphs', ...more: Mutator[]) =>
  openPrepared(given.server, page, 'ice-blocks', [marked, ...more], view)
const button = (name: string | RegExp) => page.getByRole('button', { name })
/** Opens the table, which stays open for the next investigation. */
const openTable = async () => {
  if ((await button('Columns and rows').count()) === 0) await button('Table').click()
}

describe('the ice blocks', () => {
  it('have masses typed, and a total momentum that is the same before and after', async () => {
    await open('measure')
    for (const [i, mass] of [truth.constants.massLarge, truth.constants.massSmall].entries()) {
      await button(`More about ${truth.bodies[i].name}`).click()
      await page.getByRole('menuitem', { name: /mass/ }).click()
      await page.getByLabel('Mass').nth(i).fill(`${mass} kg`)
      await page.getByLabel('Mass').nth(i).press('Enter')
    }
    const { bodies } = await documentNow()
    expect(
      Object.values(bodies)
        .map(({ mass }) => mass?.value)
        .sort(),
    ).toEqual([1.2, 2.4])
    await openGraphs(page)
    await button(/^All bodies together/).click()
    await button(/total momentum along x/).click()
    const graph = page.locator('[data-graph="sumPx"]')
    await graph.locator('canvas').waitFor()
    const document = await documentNow()
    const { rows, values, errors } = analyse(document).table(one).column('sumPx')
    const frames = analyse(document).table(one).frames
    const mean = (from: number, to: number) => {
      const some = rows.filter((row) => frames[row] >= from && frames[row] <= to)
      return some.reduce((sum, row) => sum + values[row] / some.length, 0)
    }
    // As near to the collision as the derivative lets: the wet steel slows both blocks meanwhile.
    const [before, after] = [mean(28, 31), mean(35, 38)]
    expect(Math.abs(before - after)).toBeLessThan(Math.max(4 * errors[rows[10]], 0.03 * Math.abs(before)))
  })

  // Of two blocks that glide along x that is what is shown first.
  it('are drawn on one graph, against each other, and under a name and a note', async () => {
    await open('graphs')
    await button(/^How position along x is drawn/).click()
    await page.getByLabel('Body to be added').selectOption({ label: truth.bodies[1].name })
    await button('Add').click()
    await page.getByLabel('Title', { exact: true }).fill('Both blocks')
    await page.getByLabel('Title', { exact: true }).press('Enter')
    await page.keyboard.press('Escape')
    await page.getByRole('img', { name: /Both blocks against time/ }).waitFor()
    await page.locator('[data-axis=x]').first().click()
    await page.getByLabel('Quantity on the horizontal axis').selectOption('y')
    await expect.poll(async () => (await documentNow()).graphs[graphs[0]].xQuantity).toBe('y')
    // It stands beside the others now.
    await page.locator('[data-axis=x]').last().click()
    await button('Swap the axes').click()
    const graph = (await documentNow()).graphs[graphs[0]]
    expect([graph.quantity, graph.xQuantity, graph.title]).toEqual(['y', 'x', 'Both blocks'])
    expect(Object.values(graph.also).map(({ body }) => body)).toEqual([other])
  })

  it('have a quantity defined for them, which says what is wrong until it is right', async () => {
    await open('graphs')
    await button(/Define a quantity/).click()
    await page.getByLabel('Name', { exact: true }).fill('speed squared')
    await page.getByLabel('Symbol').fill('u2')
    await page.getByLabel('Expression').fill('v^2 + x')
    await page.getByText(/different units/).waitFor()
    expect(await button('Define it').isDisabled()).toBe(true)
    await page.getByLabel('Expression').fill('constructor(v)')
    await page.getByText(/no function “constructor”/).waitFor()
    await page.getByLabel('Expression').fill(`v${'+v'.repeat(5000)}`)
    await page.getByText(/longer than 2000/).waitFor()
    await page.getByLabel('Another one').fill('k = 2.5 ± 0.1')
    await page.getByLabel('Another one').press('Enter')
    await page.getByLabel('Expression').fill('k*v^2')
    await button('Define it').click()
    await page.keyboard.press('Escape')
    await button(/u2 speed squared/).click()
    const id = Object.keys((await documentNow()).quantities)[0]
    await page.locator(`[data-graph="${id}"] canvas`).waitFor()
    await page
      .locator(`[data-graph="${id}"]`)
      .getByText(/m²\/s²/)
      .first()
      .waitFor()
  })
})

describe('the table', () => {
  it('corrects a mark by where it is, which undo takes back', async () => {
    await open('graphs')
    await openTable()
    const before = (await documentNow()).bodies[one].marks
    const row = page
      .getByRole('row')
      .filter({ has: page.getByRole('cell', { name: '2', exact: true }) })
      .first()
    await row.getByRole('cell').nth(2).dblclick()
    const field = page.getByLabel('Position along x in frame 2')
    const value = Number(await field.inputValue())
    await field.fill(String(value + 0.01))
    await field.press('Enter')
    const now = await documentNow()
    const { column } = analyse(now).table(one)
    expect(column('x').values[2]).toBeCloseTo(value + 0.01, 6)
    expect(now.bodies[one].marks[3]).toEqual(before[3])
    await button('Undo').click()
    await expect.poll(async () => (await documentNow()).bodies[one].marks[2]).toEqual(before[2])
  })

  it('is copied as cells and as a table at once, of both bodies, a few rows evenly spaced', async () => {
    await given.window.grantPermissions(['clipboard-read', 'clipboard-write'])
    await open('graphs')
    await openTable()
    await button('Columns and rows').click()
    await page.getByLabel('all bodies side by side').check({ force: true })
    await page.getByLabel('evenly spaced rows').check({ force: true })
    await page.keyboard.press('Escape')
    await page.getByText('5 rows').waitFor()
    await button('Copy').click()
    await page.getByText('5 rows are on the clipboard.').waitFor()
    const [text, html] = await page.evaluate(async () => {
      const [item] = await navigator.clipboard.read()
      return Promise.all(['text/plain', 'text/html'].map(async (type) => (await item.getType(type)).text()))
    })
    const lines = text.trimEnd().split('\r\n')
    expect(lines).toHaveLength(6)
    expect(lines[0].split('\t')).toHaveLength(2 + 2 * 6)
    expect(lines[0]).toContain(`${truth.bodies[1].name}: vx (m/s)`)
    expect(html.match(/<tr/g)).toHaveLength(6)
    // What rows are shown is remembered for the next investigation.
    await page.close()
  })

  it('goes into a workbook', async () => {
    await open('graphs')
    await button('Export').click()
    await page.getByText('XLSX', { exact: true }).click()
    const { name, body } = await downloaded(page, () => button('Download XLSX').click())
    expect(name).toBe('Ice blocks.xlsx')
    expect(body.subarray(0, 2).toString()).toBe('PK')
  })
})

describe('a graph', () => {
  it('is taken away as a picture of four times the size, and as a drawing', async () => {
    await open('graphs')
    await button('Take position along x away').click()
    await page.getByText('4×').click()
    const picture = await downloaded(page, () => button('Download').click())
    expect(picture.name).toBe('Ice blocks, position along x.png')
    // Width and height of a PNG stand in its first chunk.
    expect([picture.body.readUInt32BE(16), picture.body.readUInt32BE(20)]).toEqual([3840, 2240])
    await page.getByText('SVG', { exact: true }).click()
    const drawing = await downloaded(page, () => button('Download').click())
    expect(drawing.body.toString()).toMatch(/^<svg .*Position along x.*<\/svg>$/s)
  })

  it('has its tangent at the frame, and a line laid by keys beside it', async () => {
    await open('graphs')
    const graph = page.locator('[data-graph="x"]')
    await button(/^How position along x is drawn/).click()
    await page.getByText('tangent', { exact: true }).click()
    await page.getByText('a line by hand').click()
    await page.keyboard.press('Escape')
    // While the focus is in it, keys are for what is in it.
    await page.getByText('a line by hand').waitFor({ state: 'hidden' })
    await page.locator('body').press('.')
    await page.locator('body').press('.')
    const { column, frames } = analyse(await documentNow()).table(one)
    const value = column('vx').values[frames.indexOf(2)]
    const says = await graph
      .locator('[data-tangent]')
      .getByText(/^slope/)
      .textContent()
    expect(Number(/slope ([−\d.]+)/.exec(says!)![1].replace('−', '-'))).toBeCloseTo(value, 2)
    const end = graph.getByLabel('Second end of the line')
    const slope = async () => Number(await end.getAttribute('aria-valuenow'))
    const before = await slope()
    await end.press('Shift+ArrowUp')
    await expect.poll(slope).toBeGreaterThan(before)
    await graph.getByText(/yours .* computed here/).waitFor()
  })

  it('has a sensor’s log laid over it, matched in time, out of a file that no page could hold', async () => {
    await open('graphs')
    const { column, times } = analyse(await documentNow()).table(one)
    const lines = column('x').rows.map((row) =>
      `${(times[row] + 0.75).toFixed(4)};${column('x').values[row].toFixed(5)}`.replaceAll('.', ','),
    )
    await button(/^How position along x is drawn/).click()
    const input = page.getByLabel('Table with times and values')
    await input.setInputFiles({
      name: 'log.csv',
      mimeType: 'text/csv',
      buffer: Buffer.from(['Zeit;Ort', ...lines, lines[3], ''].join('\n')),
    })
    await page.getByText(`${lines.length} points`).waitFor()
    await button('Lay it over the graph').click()
    await button('Best match').click()
    await expect
      .poll(async () => Object.values((await documentNow()).graphs[graphs[0]].overlays)[0].offset)
      .toBeCloseTo(-0.75, 2)
    await input.setInputFiles({ name: 'words.csv', mimeType: 'text/csv', buffer: Buffer.from('a,b\nc,d') })
    await page.getByText(/no two columns of numbers/).waitFor()
    await button('Close').click()
    const folder = await mkdtemp(join(tmpdir(), 'log-'))
    try {
      const path = join(folder, 'huge.csv')
      await writeFile(path, '0.125,1.5\n'.repeat(10))
      // 200 MB in the slow run; at more rows than are taken reading ends either way.
      const [parts, rows] = IS_SLOW ? [20, 1_000_000] : [1, 25_000]
      for (let part = 0; part < parts; part++) await appendFile(path, '3.125,1.5\n'.repeat(rows))
      await input.setInputFiles(path)
      await page.getByText(/more than 20000 rows/).waitFor()
    } finally {
      await rm(folder, { recursive: true })
    }
  })

  it('leaves out a point and takes it back; a stretch tells more when it is opened', async () => {
    await open('graphs', edits.addStretch(crypto.randomUUID(), graphs[1], 5, 25))
    await page.locator('[data-fold="points"]').click()
    await page.locator('[data-stretch-more]').waitFor()
    await openTable()
    await page.getByRole('cell', { name: '9', exact: true }).first().click()
    await button('Leave out frame 9').click()
    await page.locator('[data-left-out-frames="9"]').waitFor()
    expect(Object.values((await documentNow()).stretches)[0].without).toEqual({ 9: true })
    await button('Take frame 9 back').click()
    await expect.poll(async () => Object.values((await documentNow()).stretches)[0].without).toEqual({})
  })
})

describe('a chronophotograph', () => {
  it('shows both blocks at every tenth mark, made in the page', async () => {
    await open('measure')
    await page.getByRole('button', { name: 'On the picture', exact: true }).click()
    await button(/Chronophotograph/).click()
    await page.getByLabel('every n-th mark').fill('10')
    await page.getByLabel('every n-th mark').press('Enter')
    await page.getByLabel('Arrows', { exact: true }).selectOption('velocity')
    await button('Make it').click()
    await page.locator('[data-chrono]').waitFor()
    const { name, body } = await downloaded(page, () => button('Download').click())
    expect(name).toBe('Ice blocks, chronophotograph.png')
    expect([body.readUInt32BE(16), body.readUInt32BE(20)]).toEqual([truth.width, truth.height])
  })
})

describe('an investigation', () => {
  it('is saved as one file and opened again from it, with its footage and its marks', async () => {
    await open('measure')
    const { id, document } = await documentOf(given.server, page)
    await page.goto(given.server.origin)
    // The newest stands first.
    await button('More about Ice blocks').first().click()
    const { name, body } = await downloaded(page, () =>
      page.getByRole('menuitem', { name: 'Save as one file' }).click(),
    )
    expect(name).toBe('Ice blocks.zip')
    await page.getByLabel('Video file').setInputFiles({ name, mimeType: 'application/zip', buffer: body })
    await page.waitForURL((url) => url.pathname.startsWith('/investigations/') && !url.pathname.includes(id))
    await waitForFrame(page, 0)
    const again = await documentOf(given.server, page)
    expect(again.document.footage!.id).not.toBe(document.footage!.id)
    expect({ ...again.document, footage: null }).toEqual({ ...document, footage: null })
    await expect.poll(async () => (await documentOf(given.server, page)).footageStored).toBe(true)
  })
})
