import { fileURLToPath } from 'node:url'
import { API } from '@apokinema/core/api'
import { edit, edits, type Mutator } from '@apokinema/core/investigation'
import { seriesEdits } from '@apokinema/core/series'
import { fill, measuredSample, readTruth, sampleIds } from '@apokinema/demo'
import type { Page } from 'playwright-core'
import { launchBrowser, newWindow } from './browser.ts'
import { boxOf, drag, goToFrame, openRow, stagePlace, waitForFrame, waitForSaved } from './page.ts'
import { hoisted } from './screenshotData.ts'
import { CART_SERIES, seriesOf } from './seriesPage.ts'
import { ServerProcess } from './serverProcess.ts'
import { post, viewAddress, workOn } from './work.ts'

/** `npm run screenshots`: takes the pictures in docs/screenshots anew, from the demo data. */

const folder = fileURLToPath(new URL('../../docs/screenshots', import.meta.url))
const demo = (number: number) => `/investigations/de300000-0000-4000-8000-00000000${number}000`

const server = await ServerProcess.start()
await fill(server.origin)
const browser = await launchBrowser()
const page = await (await newWindow(browser)).newPage()

/** Lets the film on the strip come in before a picture is taken. */
async function filmIsIn(page: Page): Promise<void> {
  await page.waitForFunction(() => {
    const film = [...document.querySelectorAll<HTMLCanvasElement>('[data-strip] canvas')].at(0)
    if (!film || film.width < 20) return false
    const { data } = film.getContext('2d')!.getImageData(film.width - 20, film.height >> 1, 1, 1)
    return data[3] > 0
  })
}

await page.goto(server.origin)
await page.locator('[data-card] img').nth(2).waitFor()
await page.waitForLoadState('networkidle')
await page.screenshot({ path: `${folder}/investigations.png` })

await page.goto(server.origin + demo(2))
await waitForFrame(page, 27)
await filmIsIn(page)
await page.getByText(/^looking, \d+ %$/).waitFor({ state: 'detached' })
await page.getByRole('button', { name: 'Mark Net float' }).click()
await waitForFrame(page, 55)
const place = await stagePlace(page, { width: 1280, height: 720 })
const float = place({ x: 681, y: 270 })
await page.mouse.move(float.x, float.y)
await page.locator('[data-loupe]').waitFor()
await page.screenshot({ path: `${folder}/measure.png` })

await page.goto(`${server.origin}${demo(1)}/graphs`)
await page.locator('[data-reading]').nth(1).waitFor()
await page.locator('canvas[data-frame]').waitFor()
const graph = await boxOf(page.locator('[data-graph="y"] canvas'))
await page.mouse.click(graph.x + graph.width * 0.6, graph.y + graph.height / 2)
await page.mouse.move(2, 790)
await waitForSaved(page)
await page.waitForLoadState('networkidle')
await page.screenshot({ path: `${folder}/graphs.png` })

const floating = 'de300000-0000-4000-8000-000000001002'
await workOn(server, page, edits.addGraph(crypto.randomUUID(), floating, 'y', 'x'))
await page.reload()
await page.locator('[data-graph] canvas').nth(2).waitFor()
await page.locator('canvas[data-frame]').waitFor()
await page.getByRole('button', { name: 'Table', exact: true }).click()
await page.getByRole('row').nth(6).click()
await page.locator('[data-stretch="1"]').click({ position: { x: 200, y: 12 } })
await waitForSaved(page)
await page.mouse.move(2, 790)
await page.screenshot({ path: `${folder}/table-and-path.png` })

await page.goto(`${server.origin}/series/${CART_SERIES}`)
await page.locator('[data-series-fit] [data-reading]').first().waitFor()
await page.waitForLoadState('networkidle')
await photographed('series')
await page.getByRole('button', { name: 'Two trials in step' }).click()
await page.locator('[data-in-step] canvas[data-frame]').nth(1).waitFor()
for (let step = 0; step < 15; step++) await page.getByRole('slider').press('ArrowRight')
await page.locator('main').evaluate((main) => main.scrollTo({ top: 0 }))
await page.waitForFunction(() =>
  [...document.querySelectorAll<HTMLCanvasElement>('[data-in-step] canvas[data-frame]')].every(
    (canvas) => canvas.getContext('2d')!.getImageData(canvas.width >> 1, 4, 1, 1).data[3] > 0,
  ),
)
await photographed('in-step')
await askAbout('Cart at 17°', 52)
await page.goto(`${server.origin}/series/${CART_SERIES}`)
await page.locator('[data-question] canvas').waitFor()
await page.waitForFunction(() => {
  const picture = document.querySelector<HTMLCanvasElement>('[data-question] canvas')!
  return picture.getContext('2d')!.getImageData(picture.width >> 1, 4, 1, 1).data[3] > 0
})
await page.waitForLoadState('networkidle')
await photographed('series-question')

await page.goto(server.origin + demo(1))
await waitForFrame(page, 27)
await page.getByRole('button', { name: 'On the picture', exact: true }).click()
await page.getByRole('button', { name: /Chronophotograph/ }).click()
await page.getByLabel('Arrows', { exact: true }).selectOption('velocity')
await page.getByRole('button', { name: 'Make it' }).click()
await page.locator('[data-chrono]').waitFor()
await page.waitForLoadState('networkidle')
await page.screenshot({ path: `${folder}/chronophotograph.png` })

await page.goto(server.origin)
await page.getByRole('button', { name: 'Sample: Barrel on a plank' }).click()
await waitForFrame(page, 0)
await page.getByRole('button', { name: /Will it do\?.*(yes|mind)/ }).click()
await goToFrame(page, 40)
await filmIsIn(page)
await page.locator('[data-proposed-span]').waitFor()
await page.screenshot({ path: `${folder}/will-it-do.png` })

await page.goto(server.origin)
await page.getByRole('button', { name: 'Sample: Hoisted lantern' }).click()
await waitForFrame(page, 0)
await workOn(server, page, ...hoisted())
await page.reload()
await goToFrame(page, 72)
await openRow(page, /Camera/)
await page.getByRole('button', { name: 'check camera' }).click()
await filmIsIn(page)
await page.getByText(/Will it do/).waitFor()
await waitForSaved(page)
await page.screenshot({ path: `${folder}/moving-camera.png` })

await page.goto(server.origin)
await page.getByRole('button', { name: 'Sample: Net float' }).click()
await waitForFrame(page, 0)
await goToFrame(page, 30)
await page.getByRole('button', { name: 'Add a body' }).first().click()
await page.getByLabel('Name of the body').fill('Net float')
await page.getByLabel('Name of the body').press('Enter')
await page.getByRole('button', { name: 'Follow', exact: true }).click()
const flight = readTruth('net-float')
const clicked = (await stagePlace(page, flight))(flight.bodies[0].frames[30])
await page.mouse.click(clicked.x, clicked.y)
await page.locator('[data-follow=ready]').waitFor()
await page.mouse.move(2, 790)
await filmIsIn(page)
await page.locator('body').press('Enter')
await page.locator('[data-follow=asking]').waitFor()
await waitForSaved(page)
await page.screenshot({ path: `${folder}/follow.png` })

const { massLarge, massSmall } = readTruth('ice-blocks').constants
await fitted('Sample: Ice blocks', 'ice-blocks', ({ bodies }) => [
  ...bodies.map(({ body }, i) =>
    edits.changeBody(body, { mass: { value: [massLarge, massSmall][i], error: 0.002 } }),
  ),
  ...[
    [0, 32],
    [33, 74],
  ].flatMap(([from, to]) =>
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

await page.goto(viewAddress(page, 'measure'))
await waitForFrame(page, 0)
await page.getByRole('button', { name: 'On the picture', exact: true }).click()
await page.getByLabel('momentum as arrows').check()
await page.keyboard.press('Escape')
await page.getByRole('button', { name: /break/ }).first().click()
await page.locator('[data-break]').waitFor()
await filmIsIn(page)
await photographed('two-bodies')

// A clip that has been read, what its motion proposes, the guided measurement, and help.
await page.goto(server.origin)
await page.getByRole('button', { name: 'Sample: Barrel on a plank' }).click()
await waitForFrame(page, 0)
await page.getByRole('button', { name: 'Follow this?' }).click()
await page.locator('[data-proposed-axes]').waitFor()
await filmIsIn(page)
await page.mouse.move(2, 790)
await waitForSaved(page)
await page.getByText(/^Followed to the end/).waitFor({ state: 'detached' })
await page.screenshot({ path: `${folder}/proposals.png` })

await page.goto(server.origin)
await page.getByRole('button', { name: 'Help and keys' }).click()
await page.getByRole('button', { name: 'Measure a first time, step by step' }).click()
await waitForFrame(page, 0)
await page.locator('[data-ghost-chip]').waitFor()
await filmIsIn(page)
await page.screenshot({ path: `${folder}/guided.png` })
await page.getByRole('button', { name: 'Follow this?' }).click()
await page.locator('[data-guide-step="draw"]').waitFor()
await page.getByRole('button', { name: 'Draw along something you know' }).click()
const thrown = readTruth('net-float')
const onFloat = await stagePlace(page, thrown)
await drag(page, onFloat(thrown.reference.ends[0]), onFloat(thrown.reference.ends[1]))
await page.getByLabel('How long is it really?').fill('1.40 m')
await page.keyboard.press('Enter')
await page.getByRole('link', { name: 'Graphs', exact: true }).click()
await page.locator('[data-proposed-reading]').waitFor()
await page.locator('canvas[data-frame]').waitFor()
await page.mouse.move(2, 790)
await page.getByText(/^Followed to the end/).waitFor({ state: 'detached' })
await page.screenshot({ path: `${folder}/proposed-fit.png` })

await page.getByRole('button', { name: 'Help and keys' }).click()
await page.getByRole('button', { name: 'A pendulum' }).click()
await page.locator('[data-help-page] .katex').first().waitFor()
await page.screenshot({ path: `${folder}/help.png` })

await page.goto(`${server.origin}${demo(1)}/report`)
await page.getByRole('button', { name: /^Lab report/ }).click()
for (const [field, words] of [
  ['Name and course', 'Ida Brandt, physics 10b'],
  ['Date', '30 November'],
]) {
  await page.getByLabel(field, { exact: true }).fill(words)
  await page.keyboard.press('Enter')
}
const text = page.getByRole('textbox', { name: 'Report', exact: true })
await text.locator('p').first().click()
await page.keyboard.type('Does a net float fall as a stone does? Its acceleration along y is =')
await page.getByRole('listbox', { name: 'Put in' }).waitFor()
await page.locator('.chrono img').waitFor()
await photographed('report-values')
await page.keyboard.type('accel')
await page.keyboard.press('Enter')
await page.keyboard.type('as in free fall.')
await page.keyboard.press('Enter')
await page.keyboard.type('/equation')
await page.getByRole('option', { name: /^Equation on a line/ }).click()
await page.getByLabel('Equation', { exact: true }).fill('y = y_0 + v_0 t + 1/2 a t^2')
await page.keyboard.press('Enter')
await photographed('report')
await page.evaluate(() => {
  window.print = () => document.documentElement.setAttribute('data-printed', '')
})
await page.getByRole('button', { name: 'Print or PDF' }).click()
await page.locator('html[data-printed]').waitFor({ timeout: 60_000 })
await workOn(server, page, (draft) => {
  const [reference] = Object.values(draft.references)
  reference.length = 1.41
})
await page.reload()
const changes = page.locator('[data-changed]')
await changes.getByRole('button').first().waitFor()
await changes.getByRole('button', { name: /^Does a net float/ }).click()
await changes.scrollIntoViewIfNeeded()
await page.locator('.chrono img').waitFor()
await photographed('report-changes')

await browser.close()
await server.stop()

/** Has a trial of the series ask about a frame, as if its body had been lost there. */
async function askAbout(title: string, frame: number): Promise<void> {
  const { version, document, trials } = await seriesOf(server, CART_SERIES)
  const trial = trials.find((one) => one.title === title)!
  const { patch } = edit(
    document,
    seriesEdits.setMeasuring(trial.id, { kind: 'question', frame, why: 'lost' }),
  )
  await post(server, API.seriesEdits(CART_SERIES), { key: crypto.randomUUID(), base: version, patch })
}

/** Opens a sample that a careful hand has measured, with what was fitted, at its graphs. */
async function fitted(
  title: string,
  sample: string,
  more: (ids: ReturnType<typeof sampleIds>) => Mutator[],
): Promise<void> {
  await page.goto(server.origin)
  await page.getByRole('button', { name: title }).click()
  await waitForFrame(page, 0)
  const ids = sampleIds(sample)
  await workOn(server, page, ...measuredSample(sample, ids, 11), ...more(ids))
  await page.goto(viewAddress(page, 'graphs'))
  await page.locator('[data-reading]').first().waitFor()
  await page.locator('canvas[data-frame]').waitFor()
}

async function photographed(name: string): Promise<void> {
  await waitForSaved(page)
  await page.mouse.move(2, 790)
  await page.screenshot({ path: `${folder}/${name}.png` })
}
