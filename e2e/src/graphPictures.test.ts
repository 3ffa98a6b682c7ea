import { edits, type Mutator } from '@apokinema/core/investigation'
import { readTruth } from '@apokinema/demo'
import { createCanvas, loadImage } from '@napi-rs/canvas'
import type { Page } from 'playwright-core'
import { beforeEach, describe, expect, it } from 'vitest'
import { boxOf, downloaded } from './page.ts'
import { pageTests } from './pageTests.ts'
import { openPrepared } from './work.ts'

/** A graph on the screen, as PNG and as SVG: one picture. */

const given = pageTests()
let page: Page
const truth = readTruth('ice-blocks')
const [one, other] = [crypto.randomUUID(), crypto.randomUUID()]
const [graph, velocity, stretch, also] = Array.from({ length: 4 }, () => crypto.randomUUID())

/** Both blocks on one graph with their errors, a break, a note and a tangent, and markup in their names. */
const prepared: Mutator = (draft) => {
  for (const [i, id] of [one, other].entries()) {
    edits.addBody(
      id,
      { position: i === 0 ? graph : crypto.randomUUID(), velocity: i === 0 ? velocity : crypto.randomUUID() },
      truth.bodies[i].name,
    )(draft)
    for (const { frame, x, y } of truth.bodies[i].frames) draft.bodies[id].marks[frame] = { x, y, by: 'hand' }
    edits.setBreak(id, 33, 'break')(draft)
  }
  edits.changeBody(one, { name: 'large <block> & co' })(draft)
  edits.removeGraph(velocity)(draft)
  draft.graphs[graph].quantity = 'x'
  draft.graphs[graph].also[also] = { order: 0, body: other, other: null, quantity: 'x' }
  edits.changeGraph(graph, {
    errorBars: true,
    markStyle: 'both',
    tangent: true,
    title: '<script>alert(1)</script>',
  })(draft)
  draft.graphs[graph].notes[crypto.randomUUID()] = { frame: 20, text: 'here & now' }
}

const fitted: Mutator = (draft) => {
  edits.addStretch(stretch, graph, 2, 28)(draft)
  edits.addFit(crypto.randomUUID(), stretch, 'uniform')(draft)
}

/** Room for title and names of axes that a picture has beside what the canvas on the screen shows, in pixels. */
const CAPTIONS = { above: 46, below: 20 }
const SIZE = { width: 960, height: 560 }
/** The part that all three have: beside the numbers of the horizontal axis stands its name on the screen. */
const COMPARED = { width: SIZE.width, height: SIZE.height - CAPTIONS.above - 50 }

beforeEach(() => {
  page = given.page
})

/** Returns the pixels of a picture from a row on, as far as they are compared, on white. */
async function pixelsOf(picture: Buffer, top: number): Promise<Uint8ClampedArray> {
  const canvas = createCanvas(COMPARED.width, COMPARED.height)
  const context = canvas.getContext('2d')
  context.fillStyle = '#ffffff'
  context.fillRect(0, 0, COMPARED.width, COMPARED.height)
  context.drawImage(await loadImage(picture), 0, -top)
  return context.getImageData(0, 0, COMPARED.width, COMPARED.height).data
}

/** Returns the share of pixels that differ clearly. */
function difference(a: Uint8ClampedArray, b: Uint8ClampedArray): number {
  let off = 0
  for (let at = 0; at < a.length; at += 4)
    if (Math.max(...[0, 1, 2].map((k) => Math.abs(a[at + k] - b[at + k]))) > 60) off++
  return off / (a.length / 4)
}

/** Draws an SVG in the page, which has the fonts, but in a shadow tree, which the page's styles do not reach. */
async function rasterised(svg: string): Promise<Buffer> {
  await page.evaluate(
    ([text, width, height]) => {
      const holder = document.createElement('div')
      holder.id = 'rasterised'
      holder.style.cssText = `position:fixed;top:0;left:0;width:${width}px;height:${height}px;z-index:9999;background:#fff`
      const image = new DOMParser().parseFromString(text, 'image/svg+xml').documentElement
      holder.attachShadow({ mode: 'open' }).append(image)
      document.body.append(holder)
    },
    [svg, SIZE.width, SIZE.height] as const,
  )
  const picture = await page.locator('#rasterised').screenshot()
  await page.evaluate(() => document.querySelector('#rasterised')!.remove())
  return picture
}

/** Takes the graph away as a file. */
async function taken(kind: 'PNG' | 'SVG'): Promise<Buffer> {
  await page.getByRole('button', { name: /^Take .* away$/ }).click()
  await page.getByText(kind === 'PNG' ? '1×' : 'SVG', { exact: true }).click()
  const { body } = await downloaded(page, () => page.getByRole('button', { name: 'Download' }).click())
  await page.keyboard.press('Escape')
  return body
}

describe('a graph', () => {
  it('is the same picture on the screen and as PNG', async () => {
    await openPrepared(given.server, page, 'ice-blocks', [prepared], 'graphs')
    const canvas = page.locator('[data-graph="x"] canvas')
    const { width, height } = await boxOf(canvas)
    const viewport = page.viewportSize()!
    const wanted = [SIZE.width, SIZE.height - CAPTIONS.above - CAPTIONS.below]
    await page.setViewportSize({
      width: viewport.width + wanted[0] - Math.round(width),
      height: viewport.height + wanted[1] - Math.round(height),
    })
    await expect
      .poll(() => canvas.evaluate((element: HTMLCanvasElement) => [element.width, element.height]))
      .toEqual(wanted)
    const address = await canvas.evaluate((element: HTMLCanvasElement) => element.toDataURL())
    const shown = Buffer.from(address.slice(address.indexOf(',') + 1), 'base64')
    const png = await taken('PNG')
    await page.setViewportSize(viewport)
    const [a, b] = await Promise.all([pixelsOf(shown, 0), pixelsOf(png, CAPTIONS.above)])
    expect(difference(a, b)).toBeLessThan(0.01)
    // They are not the same because they are empty.
    expect(difference(a, new Uint8ClampedArray(a.length).fill(255))).toBeGreaterThan(0.02)
  })

  it('is the same picture as PNG and as SVG, with everything that can be on it', async () => {
    await openPrepared(given.server, page, 'ice-blocks', [prepared, fitted], 'graphs')
    await page.locator('[data-reading]').first().waitFor()
    await page.locator('body').press('.')
    await page.locator('body').press('.')
    await page
      .locator('[data-tangent]')
      .getByText(/^slope/)
      .waitFor({ state: 'attached' })
    const [png, svg] = [await taken('PNG'), (await taken('SVG')).toString()]
    const [a, b] = await Promise.all([pixelsOf(png, 0), pixelsOf(await rasterised(svg), 0)])
    expect(difference(a, b)).toBeLessThan(0.01)
    expect(difference(a, new Uint8ClampedArray(a.length).fill(255))).toBeGreaterThan(0.02)
    expect(svg).toMatch(/>slope [^<]*px\/s</)
    expect(svg).toContain('here &amp; now')
    // Nothing that somebody has typed becomes markup, and nothing is a picture of pixels.
    expect(svg).toContain('large &lt;block&gt; &amp; co')
    expect(svg).not.toContain('<script')
    expect(svg).not.toContain('<image')
  })
})
