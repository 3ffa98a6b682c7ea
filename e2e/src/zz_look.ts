import { launchBrowser, newWindow } from './browser.ts'
import { openRow, stagePlace, waitForFrame } from './page.ts'

const O = 'http://127.0.0.1:5170'
const browser = await launchBrowser()
const ctx = await newWindow(browser)
ctx.setDefaultTimeout(15000)
const page = await ctx.newPage()
page.on('pageerror', (e) => console.log('ERR', e.message))
const P = { width: 1280, height: 720 }
await page.goto(O)
await page.getByRole('button', { name: /Sample: Barrel/ }).click()
await waitForFrame(page, 0)
const place = await stagePlace(page, P)
await page.getByRole('button', { name: 'Set a reference length' }).click()
const c = async (x: number, y: number) => {
  const q = place({ x, y })
  await page.mouse.click(q.x, q.y)
}
await c(300, 300)
await c(700, 420)
await page.screenshot({ path: '/tmp/exp/l1.png' })
await page.getByLabel('How long is it really?').fill('4 ft 9 in ± 0.25 in')
await page.keyboard.press('Enter')
await page.getByRole('button', { name: 'Another length' }).click()
await c(900, 200)
await c(900, 500)
await page.getByLabel('How long is it really?').last().fill('1 m')
await page.keyboard.press('Enter')
await page
  .getByRole('button', { name: 'Lay x along a line' })
  .first()
  .click()
  .catch(async () => {
    await openRow(page, /Axes/)
    await page.getByRole('button', { name: 'Lay x along a line' }).click()
  })
await c(200, 250)
await c(1000, 480)
await page.mouse.move(10, 400)
await page.waitForTimeout(500)
await page.screenshot({ path: '/tmp/exp/l2.png' })
await page.locator('aside').first().screenshot({ path: '/tmp/exp/l3.png' })
await browser.close()
