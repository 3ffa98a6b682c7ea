import { readTruth } from '@apokinema/demo'
import { launchBrowser, newWindow } from './browser.ts'
import { stagePlace, waitForFrame } from './page.ts'

const origin = 'http://127.0.0.1:5170'
const browser = await launchBrowser()
const page = await (await newWindow(browser)).newPage()
page.on('console', (m) => {
  if (m.type() === 'error' || m.type() === 'warning') console.log('console', m.text().slice(0, 300))
})
page.on('pageerror', (e) => console.log('pageerror', e.message))
const [name, sample, w, h, start] = [
  process.argv[2],
  process.argv[3],
  Number(process.argv[4]),
  Number(process.argv[5]),
  Number(process.argv[6] ?? 0),
]
await page.goto(origin)
await page.getByRole('button', { name: new RegExp('Sample: ' + name) }).click()
await waitForFrame(page, 0)
if (start) {
  await page.getByLabel('Current frame').fill(String(start))
  await page.getByLabel('Current frame').press('Enter')
  await waitForFrame(page, start)
}
await page.locator('body').press('f')
await page.screenshot({ path: '/tmp/exp/f1.png' })
const truth = readTruth(sample)
const place = await stagePlace(page, { width: w, height: h })
const at = place(truth.bodies[0].frames[start])
await page.mouse.click(at.x, at.y)
await page.waitForSelector('[data-follow=ready]', { timeout: 30000 }).catch(() => console.log('not ready'))
await page.screenshot({ path: '/tmp/exp/f2.png' })
const began = Date.now()
await page.evaluate(() => {
  const w = window as any
  w.__log = []
})
await page.locator('body').press('Enter')
for (let i = 0; i < 10; i++) {
  console.log(
    await page
      .locator('[data-band]')
      .innerText({ timeout: 500 })
      .catch(() => 'no band'),
    '|',
    await page.getByLabel('Current frame').inputValue(),
  )
  await page.waitForTimeout(100)
}
await page.waitForTimeout(2500)
await page.screenshot({ path: '/tmp/exp/f3.png' })
await page
  .waitForFunction(() => !document.querySelector('[data-follow=running]'), undefined, { timeout: 90000 })
  .catch(() => console.log('still'))
console.log(
  'took',
  Date.now() - began,
  await page
    .locator('[data-follow]')
    .getAttribute('data-follow')
    .catch(() => 'left'),
)
await page.screenshot({ path: '/tmp/exp/f4.png' })
await browser.close()
