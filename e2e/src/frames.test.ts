import { join } from 'node:path'
import type { Page } from 'playwright-core'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { newWindow } from './browser.ts'
import { CLIP_FRAMES, CLIPS, clipTick } from './clips.ts'
import { goToFrame, readBars, waitForFrame } from './page.ts'
import { testWorld } from './testWorld.ts'

const given = testWorld()

describe.each(CLIPS)('the frame shown is the frame asked for: $file', (clip) => {
  let page: Page

  beforeAll(async () => {
    page = await (await newWindow(given.browser)).newPage()
    await page.goto(given.world.origin)
    await page.getByLabel('Video file').setInputFiles(join(import.meta.dirname, '../clips', clip.file))
    await waitForFrame(page, 0)
  })
  afterAll(() => page?.close())

  const expectFrame = async (frame: number) => {
    await waitForFrame(page, frame)
    expect(await readBars(page)).toBe(frame)
  }

  it('has all frames, with the times of the file', async () => {
    await page.getByText(`span 0 – ${CLIP_FRAMES - 1} of 0 – ${CLIP_FRAMES - 1}`).waitFor()
    for (const frame of [1, 2, 77, CLIP_FRAMES - 1]) {
      await goToFrame(page, frame)
      const seconds = (clipTick(clip, frame) - clipTick(clip, 0)) / clip.timescale
      await page
        .getByText(`t ${seconds.toFixed(4)}`)
        .first()
        .waitFor()
    }
  })

  it('stepping forward and backward', async () => {
    await goToFrame(page, 0)
    await page.locator('[data-stage]').click({ position: { x: 4, y: 4 } })
    for (let frame = 1; frame <= 40; frame++) {
      await page.keyboard.press('.')
      await expectFrame(frame)
    }
    for (let frame = 39; frame >= 0; frame--) {
      await page.keyboard.press(',')
      await expectFrame(frame)
    }
  })

  it('stepping backward over a key frame', async () => {
    await goToFrame(page, 255)
    for (let frame = 254; frame >= 236; frame--) {
      await page.keyboard.press(',')
      await expectFrame(frame)
    }
  })

  it('jumping by its number on a machine eight times slower, where numbers come late', async () => {
    const devtools = await page.context().newCDPSession(page)
    await devtools.send('Emulation.setCPUThrottlingRate', { rate: 8 })
    try {
      for (let jump = 0; jump < 8; jump++) {
        await goToFrame(page, 120)
        await goToFrame(page, 131)
      }
      // The number that the field may still show: typed once more, it is meant.
      await goToFrame(page, 131)
      await expectFrame(131)
    } finally {
      await devtools.detach()
    }
  })

  it('100 random jumps', async () => {
    let seed = 12345
    for (let jump = 0; jump < 100; jump++) {
      seed = (seed * 1103515245 + 12345) % 2147483648
      const frame = seed % CLIP_FRAMES
      await goToFrame(page, frame)
      expect(await readBars(page)).toBe(frame)
    }
  })

  it('dragging wildly over the strip ends on the frame that was asked last', async () => {
    const strip = (await page.locator('[data-strip]').boundingBox())!
    await page.mouse.move(strip.x + 40, strip.y + 8)
    await page.mouse.down()
    for (let i = 0; i < 60; i++)
      await page.mouse.move(strip.x + 40 + ((i * 379) % (strip.width - 80)), strip.y + 8)
    await page.mouse.up()
    const frame = Number(await page.getByLabel('Current frame').inputValue())
    await expectFrame(frame)
  })
})
