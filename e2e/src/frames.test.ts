import { join } from 'node:path'
import { IS_SLOW } from '@apokinema/core/testing/extent'
import type { Page } from 'playwright-core'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { CLIP_FRAMES, CLIPS, type Clip, clipTick } from './clips.ts'
import { boxOf, goToFrame, type Step, showFrames, waitForFrame } from './page.ts'
import { pageTests } from './pageTests.ts'
import { openFile } from './work.ts'

const given = pageTests({ background: ['film'] })

const openClip = (page: Page, file: string) =>
  openFile(given.server, page, join(import.meta.dirname, '../clips', file))

/** Returns the frame numbers that follow no order, the same in every run. */
function scattered(count: number): number[] {
  let seed = 12345
  return Array.from({ length: count }, () => {
    seed = (seed * 1103515245 + 12345) % 2147483648
    return seed % CLIP_FRAMES
  })
}

describe.each(CLIPS)('the frame shown is the frame asked for: $file', (clip) => {
  let page: Page

  beforeAll(async () => {
    page = await given.window.newPage()
    await openClip(page, clip.file)
  })
  afterAll(() => page?.close())

  /** Goes the steps and expects each to show its frame, at the time that the file has for it. */
  const expectFrames = async (steps: Step[]) => {
    const frames = steps.map((step) => (typeof step === 'number' ? step : step.to))
    const shown = await showFrames(page, steps)
    expect(shown.map(({ bars }) => bars)).toEqual(frames)
    shown.forEach(({ seconds }, i) => {
      expect(seconds).toBeCloseTo(secondsOf(clip, frames[i]), 5)
    })
  }

  it('has all frames, with the times of the file', async () => {
    await page.locator(`[data-span="0 – ${CLIP_FRAMES - 1} of ${CLIP_FRAMES - 1}"]`).waitFor()
    const last = CLIP_FRAMES - 1
    await expectFrames(IS_SLOW ? Array.from({ length: CLIP_FRAMES }, (_, i) => i) : [1, 2, 77, last])
  })

  it('is lined up in small pictures along the strip', async () => {
    // Drawn from left to right as they are decoded; between two of them is a gap of a pixel.
    const drawn = () =>
      page.locator('canvas[data-film]').evaluate((canvas: HTMLCanvasElement) => {
        const { data } = canvas.getContext('2d')!.getImageData(0, canvas.height >> 1, canvas.width, 1)
        return data.filter((value, i) => i % 4 === 3 && value === 255).length / canvas.width
      })
    await expect.poll(drawn).toBeGreaterThan(0.95)
  })

  it('stepping forward and backward', async () => {
    const forward = Array.from({ length: 40 }, (_, i) => ({ key: '.', to: i + 1 }))
    const backward = Array.from({ length: 40 }, (_, i) => ({ key: ',', to: 39 - i }))
    await expectFrames([0, ...forward, ...backward])
  })

  it('stepping by a person’s keys', async () => {
    await goToFrame(page, 0)
    await page.locator('[data-stage]').click({ position: { x: 4, y: 4 } })
    for (const frame of [1, 2, 3]) {
      await page.keyboard.press('.')
      await waitForFrame(page, frame)
    }
    await page.keyboard.press(',')
    await waitForFrame(page, 2)
  })

  it('stepping backward over a key frame', async () => {
    await expectFrames([255, ...Array.from({ length: 19 }, (_, i) => ({ key: ',', to: 254 - i }))])
  })

  it('random jumps', () => expectFrames(scattered(IS_SLOW ? 200 : 40)))

  it('dragging wildly over the strip ends on the frame that was asked last', async () => {
    const strip = await boxOf(page.locator('[data-strip]'))
    await page.mouse.move(strip.x + 40, strip.y + 8)
    await page.mouse.down()
    for (let i = 0; i < 60; i++)
      await page.mouse.move(strip.x + 40 + ((i * 379) % (strip.width - 80)), strip.y + 8)
    await page.mouse.up()
    const frame = Number(await page.getByLabel('Current frame').inputValue())
    await expectFrames([{ to: frame }])
  })
})

function secondsOf(clip: Clip, frame: number): number {
  return (clipTick(clip, frame) - clipTick(clip, 0)) / clip.timescale
}
