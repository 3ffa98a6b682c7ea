import { writeFileSync } from 'node:fs'
import { launchBrowser, newWindow } from './browser.ts'
import { openSample } from './page.ts'
import { ServerProcess } from './serverProcess.ts'
const server = await ServerProcess.start()
const browser = await launchBrowser()
const page = await (await newWindow(browser)).newPage()
page.setDefaultTimeout(60_000)
for (const [title, id] of [['Net float', 'net-float'], ['Bead in syrup', 'bead-in-syrup'], ['Crane pebble', 'crane-pebble'], ['Boat fender', 'fender'], ['Fish sledge', 'fish-sledge'], ['Barrel on a plank','barrel-on-plank']]) {
await page.goto(server.origin)
await openSample(page, title)
await page.getByRole('button', { name: /^Follow what moves/ }).first().click()
await page.locator('[data-follow]').waitFor()
await page.locator('[data-follow]').waitFor({ state: 'detached' })
await page.waitForTimeout(1500)
const doc = await page.evaluate(async () => (await (await fetch(`/api/investigations/${location.pathname.split('/')[2]}`)).json()))
writeFileSync(`/tmp/marks-${id}.json`, JSON.stringify(Object.values((doc.document ?? doc).bodies)[0]))
}
await browser.close()
await server.stop()
process.exit(0)
