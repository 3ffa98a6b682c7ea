import { readTruth } from '@apokinema/demo'
import { type TestServer, testServer } from '@apokinema/server/testing/testServer'
import puppeteer, { type Browser, type ElementHandle, type Page } from 'puppeteer-core'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { placeOn } from './page.ts'

/** The first measurement in Firefox, driven over WebDriver BiDi. */

const PATIENCE = { timeout: 120_000 }

let server: TestServer
let browser: Browser
let page: Page

beforeAll(async () => {
  server = await testServer()
  browser = await puppeteer.launch({
    browser: 'firefox',
    executablePath: '/usr/bin/firefox-esr',
    headless: true,
    args: ['--width=1280', '--height=800'],
    timeout: 120_000,
  })
  page = await browser.newPage()
  await page.setViewport({ width: 1280, height: 800 })
})

afterAll(async () => {
  await browser?.close()
  await server?.stop()
})

const found = async (selector: string) => (await page.waitForSelector(selector, PATIENCE))!
/** By XPath: Firefox has no selectors by role and name over BiDi. */
const button = (name: string) =>
  found(
    `::-p-xpath(//button[starts-with(@aria-label, "${name}") or starts-with(normalize-space(), "${name}")])`,
  )
const link = (name: string) => found(`::-p-xpath(//a[normalize-space()="${name}"])`)
const field = (label: string) => found(`::-p-xpath(//label[contains(., "${label}")]/following::input[1])`)
const click = async (target: Promise<ElementHandle<Element>>) => (await target).click()

const place = async (picture: { width: number; height: number }) =>
  placeOn((await (await found('[data-stage]')).boundingBox())!, picture)

it('leads from an empty list to g with its error', async () => {
  const truth = readTruth('net-float')
  await page.goto(server.origin)
  await click(button('Sample: Net float'))
  await found('[data-stage] canvas[data-frame="0"]')
  // Steps show their frames.
  await (await found('body')).press('.')
  await found('[data-stage] canvas[data-frame="1"]')
  await click(button('Follow this?'))
  await found('[data-follow]')
  await page.waitForSelector('[data-follow]', { ...PATIENCE, hidden: true })
  await click(button('Draw along something you know'))
  const [from, to] = truth.reference.ends.map(await place(truth))
  await page.mouse.move(from.x, from.y)
  await page.mouse.down()
  await page.mouse.move((from.x + to.x) / 2, (from.y + to.y) / 2)
  await page.mouse.move(to.x, to.y)
  await page.mouse.up()
  const length = await field('How long is it really?')
  await length.type('1.40 m')
  await length.press('Enter')
  await click(link('Graphs'))
  await found('[data-proposed-reading]')
  await click(button('Take the fit'))
  const reading = await found('[data-reading]')
  const value = Number(await reading.evaluate((element) => (element as HTMLElement).dataset.value))
  const says = await reading.evaluate((element) => element.textContent)
  expect(Math.abs(value / -9.81 - 1)).toBeLessThan(0.01)
  expect(says).toContain('±')
})

it('marks by hand, frame by frame, and keeps the marks', async () => {
  const truth = readTruth('fish-sledge')
  await page.goto(server.origin)
  await click(button('Sample: Fish sledge'))
  await found('[data-stage] canvas[data-frame="0"]')
  await click(button('Add a body'))
  await (await field('Name of the body')).press('Enter')
  await (await found('body')).press('m')
  await found('[data-band]')
  for (const frame of [0, 1, 2]) {
    await found(`[data-stage] canvas[data-frame="${frame}"]`)
    const { x, y } = (await place(truth))(truth.bodies[0].frames[frame])
    await page.mouse.click(x, y)
  }
  await found('[data-marks="3"]')
  await found('[data-save="saved"]')
  await page.reload()
  await found('[data-marks="3"]')
})
