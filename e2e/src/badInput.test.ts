import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { itAtLength } from '@apokinema/core/testing/extent'
import { testServer } from '@apokinema/server/testing/testServer'
import type { Page } from 'playwright-core'
import { beforeEach, describe, expect, it } from 'vitest'
import { drag, goToFrame, reopen, stagePlace, waitForFrame, waitForSaved } from './page.ts'
import { pageTests } from './pageTests.ts'
import { idOf, openPrepared } from './work.ts'

const clips = join(import.meta.dirname, '../clips')
const sample = readFileSync(join(import.meta.dirname, '../../demo/samples/net-float/footage.mp4'))
const PICTURE = { width: 1280, height: 720 }

const given = pageTests({ maxFootageBytes: 1_000_000 })
let page: Page

beforeEach(async () => {
  page = given.page
  await page.goto(given.server.origin)
})

const cards = () => page.locator('[data-card]').count()

describe('a file that cannot be used', () => {
  it.each<[string, string, Buffer, RegExp]>([
    ['is empty', 'empty.mp4', Buffer.alloc(0), /This file is empty/],
    [
      'is text called .mp4',
      'notes.mp4',
      Buffer.from('The quick brown ferry'.repeat(500)),
      /not a video that is known here/,
    ],
    ['is cut off in its index', 'cut.mp4', sample.subarray(0, 900), /damaged or cut off/],
  ])('because it %s says so and leaves nothing behind', async (_, name, buffer, says) => {
    await page.getByLabel('Video file').setInputFiles({ name, mimeType: 'video/mp4', buffer })
    await page.getByRole('alert').getByText(says).waitFor()
    await page.reload()
    // The list is still as empty as it was.
    await page.locator('[data-start="first"]').waitFor()
    expect(await cards()).toBe(0)
  })
})

describe('a video that the browser can’t decode', () => {
  const damaged = () =>
    Buffer.concat([Buffer.from('3026b2758e66cf11a6d900aa0062ce6c', 'hex'), Buffer.alloc(4000, 7)])

  it('and that can’t be converted says so, and the technical text is folded away', async () => {
    await page
      .getByLabel('Video file')
      .setInputFiles({ name: 'quay.wmv', mimeType: 'video/x-ms-wmv', buffer: damaged() })
    await page.locator('[data-conversion="failed"]').waitFor()
    await page
      .getByRole('alert')
      .filter({ hasText: /damaged, cut off, or not a video/ })
      .waitFor()
    await page.getByText('What the converter said').waitFor()
    await page.getByRole('button', { name: 'Try again' }).click()
    await page.locator('[data-conversion="failed"]').waitFor()
    await page.getByRole('link', { name: 'Choose another video' }).click()
    await page.getByRole('button', { name: 'Choose a video' }).waitFor()
  })

  itAtLength('is refused with what to install where the server has no converter', async () => {
    // No program is found while this one starts.
    const path = process.env.PATH
    process.env.PATH = '/nowhere'
    const bare = await testServer().finally(() => {
      process.env.PATH = path
    })
    await page.goto(bare.origin)
    await page
      .getByLabel('Video file')
      .setInputFiles({ name: 'quay.wmv', mimeType: 'video/x-ms-wmv', buffer: damaged() })
    await page
      .getByRole('alert')
      .getByText(/apt-get install ffmpeg/)
      .waitFor()
    await page.reload()
    await page.locator('[data-start="first"]').waitFor()
    expect(await cards()).toBe(0)
    // What browsers decode works all the same.
    await page.getByLabel('Video file').setInputFiles(join(clips, 'even-gop30.mov'))
    await waitForFrame(page, 0)
    await bare.stop()
  })

  it('waits for the connection and goes on by itself', async () => {
    await page.route('**/uploads', (route) => route.abort('connectionreset'))
    await page.goto(given.server.origin)
    await page
      .getByLabel('Video file')
      .setInputFiles({ name: 'quay.wmv', mimeType: 'video/x-ms-wmv', buffer: damaged() })
    await page.locator('[data-conversion="uploading"]').waitFor()
    await page.unroute('**/uploads')
    await page.locator('[data-conversion="failed"]').waitFor()
  })
})

describe('a video', () => {
  itAtLength('that is larger than the server takes is refused before anything is made of it', async () => {
    await page.getByRole('heading', { name: 'Your investigations' }).waitFor()
    const before = await cards()
    const buffer = Buffer.concat([
      sample,
      Buffer.from([0, 15, 66, 64]),
      Buffer.from('free'),
      Buffer.alloc(999_992),
    ])
    await page.getByLabel('Video file').setInputFiles({ name: 'large.mp4', mimeType: 'video/mp4', buffer })
    await page
      .getByRole('alert')
      .getByText(/larger than the 1 MB that this server takes/)
      .waitFor()
    expect(await cards()).toBe(before)
  })

  it('that is cut off in the middle opens as far as it goes, and says what is missing', async () => {
    const buffer = sample.subarray(0, Math.round(sample.length * 0.6))
    await page.getByLabel('Video file').setInputFiles({ name: 'cut.mp4', mimeType: 'video/mp4', buffer })
    const says = await page.getByText(/This video is cut off: its last \d+ frames are missing/).textContent()
    const [missing, usable] = says!.match(/\d+/g)!.map(Number)
    expect(missing + usable).toBe(120)
    expect(missing).toBeGreaterThan(20)
    await waitForFrame(page, 0)
    await goToFrame(page, usable - 1)
  })

  it('whose upload is cut off arrives later by itself', async () => {
    let cut = 0
    await page.route('**/uploads/*', async (route) => {
      if (route.request().method() === 'PATCH' && cut++ < 2) await route.abort('connectionreset')
      else await route.continue()
    })
    await page.getByLabel('Video file').setInputFiles(join(clips, 'even-gop30.mov'))
    await waitForFrame(page, 0)
    const id = idOf(page)
    await expect
      .poll(
        async () =>
          (
            (await (await fetch(`${given.server.origin}/api/investigations/${id}`)).json()) as {
              footageStored: boolean
            }
          ).footageStored,
        { timeout: 15_000 },
      )
      .toBe(true)
    expect(cut).toBeGreaterThan(2)
    await reopen(page)
  })

  it('dropped anywhere on the page is taken, and a strange file name is only a name', async () => {
    const base64 = readFileSync(join(clips, 'milliseconds.webm')).toString('base64')
    const data = await page.evaluateHandle((encoded) => {
      const bytes = Uint8Array.from(atob(encoded), (c) => c.charCodeAt(0))
      const transfer = new DataTransfer()
      transfer.items.add(new File([bytes], '..%2f<img src=x onerror=alert(1)>.webm', { type: 'video/webm' }))
      return transfer
    }, base64)
    await page.dispatchEvent('main', 'drop', { dataTransfer: data })
    await waitForFrame(page, 0)
    expect(await page.getByLabel('Title of the investigation').inputValue()).toContain(
      '<img src=x onerror=alert(1)>',
    )
    expect(await page.locator('img[src="x"]').count()).toBe(0)
  })
})

describe('at the workbench', () => {
  beforeEach(() => openPrepared(given.server, page, 'net-float'))

  it('a length that is none is refused with an example, and nothing changes', async () => {
    const place = await stagePlace(page, PICTURE)
    await page.getByRole('button', { name: 'Draw along something you know' }).click()
    await drag(page, place({ x: 640, y: 640 }), place({ x: 640, y: 220 }))
    const field = page.getByLabel('How long is it really?')
    for (const text of ['abc', '0', '-1 m', '1e400']) {
      await field.fill(text)
      await field.press('Enter')
      await page.getByText(/A length above 0/).waitFor()
    }
    await page.getByText('how long?').first().waitFor()
  })

  it('both ends of a reference on one spot are refused', async () => {
    const place = await stagePlace(page, PICTURE)
    const spot = place({ x: 640, y: 400 })
    await page.getByRole('button', { name: 'Draw along something you know' }).click()
    await page.mouse.click(spot.x, spot.y)
    await page.mouse.click(spot.x, spot.y)
    await page.getByText(/Both ends are on the same spot/).waitFor()
  })

  itAtLength('Delete with nothing selected deletes nothing', async () => {
    await page.locator('body').press('Delete')
    await page.getByText(/Nothing is selected, so nothing was deleted/).waitFor()
  })

  it('a second tab does not mix in, and can take over', async () => {
    const rename = async (title: string) => {
      await page.getByLabel('Title of the investigation').fill(title)
      await page.getByLabel('Title of the investigation').press('Enter')
      await waitForSaved(page)
    }
    await rename('In the first tab')
    const second = await given.window.newPage()
    await second.goto(page.url())
    await second.getByText('open in another tab').waitFor()
    // What the second one has requested by then is old.
    await rename('Once more in the first tab')
    await second.getByRole('button', { name: 'Try again' }).click()
    await waitForFrame(second, 0)
    expect(await second.getByLabel('Title of the investigation').inputValue()).toBe(
      'Once more in the first tab',
    )
    await page.getByText('open in another tab').waitFor()
    await second.close()
  })

  it('everything can be done by keyboard: a body, its marks, and taking one back', async () => {
    await page.getByRole('button', { name: 'Add a body', exact: true }).first().press('Enter')
    await page.getByLabel('Name of the body').fill('Float')
    await page.getByLabel('Name of the body').press('Enter')
    await page.locator('body').press('m')
    await page
      .locator('[data-band]')
      .getByText(/Marking/)
      .waitFor()
    for (const frame of [0, 1, 2]) {
      await waitForFrame(page, frame)
      await page.locator('body').press('Shift+ArrowRight')
      await page.locator('body').press('Enter')
    }
    await page.locator('[data-marks="3"]').waitFor()
    await page.locator('body').press('Backspace')
    await page.locator('[data-marks="2"]').waitFor()
    await waitForFrame(page, 2)
    await page.locator('body').press('Escape')
    expect(await page.locator('[data-band]').count()).toBe(0)
    await page.locator('body').press('Control+z')
    await page.locator('[data-marks="3"]').waitFor()
  })
})

describe('an address', () => {
  it.each(['/investigations/nonsense', '/investigations/00000000-0000-4000-8000-000000000000', '/nowhere'])(
    '%s that leads nowhere says so and shows a way on',
    async (path) => {
      await page.goto(given.server.origin + path)
      await page.getByRole('link', { name: 'To the investigations' }).waitFor()
    },
  )
})
