import type { Locator, Page } from 'playwright-core'
import { BITS, CLIP_HEIGHT, CLIP_WIDTH } from './clips.ts'

/** The words and gestures of a person at the workbench, for tests and screenshots. */

/** Pixels above the picture that are kept free for a line of words. */
const BAND_ROOM = 37

/** Waits until the stage shows a frame. */
export async function waitForFrame(page: Page, frame: number): Promise<void> {
  await page.waitForSelector(`[data-stage] canvas[data-frame="${frame}"]`)
}

/** Returns where an element stands in the window. Waits until it is visible, again where it was replaced before it was measured. */
export async function boxOf(
  element: Locator,
): Promise<{ x: number; y: number; width: number; height: number }> {
  for (;;) {
    await element.waitFor()
    const box = await element.boundingBox()
    if (box) return box
  }
}

/** Opens a sample from the list, as an investigation of its own. */
export async function openSample(page: Page, title: string): Promise<void> {
  await page.getByRole('button', { name: `Sample: ${title}` }).click()
  await waitForFrame(page, 0)
}

/** Picture points to points of the window, by the view that a stage there has when nothing was zoomed. */
export function placeOn(
  stage: { x: number; y: number; width: number; height: number },
  picture: { width: number; height: number },
) {
  const high = stage.height - BAND_ROOM
  const zoom = Math.min(stage.width / picture.width, high / picture.height)
  const left = stage.x + (stage.width - picture.width * zoom) / 2
  const top = stage.y + BAND_ROOM + (high - picture.height * zoom) / 2
  return ({ x, y }: { x: number; y: number }) => ({ x: left + x * zoom, y: top + y * zoom })
}

/** Picture points to points of the window, on the stage of a page. */
export async function stagePlace(page: Page, picture: { width: number; height: number }) {
  return placeOn(await boxOf(page.locator('[data-stage]')), picture)
}

/** Types a frame number and waits for its picture. */
export async function goToFrame(page: Page, frame: number): Promise<void> {
  const field = page.getByLabel('Current frame')
  await field.fill(String(frame))
  await field.press('Enter')
  await waitForFrame(page, frame)
}

/** Chooses the sign of a frame in a lane of the strip, by the lane's label. */
export async function chooseSign(page: Page, lane: RegExp, frame: number): Promise<void> {
  await goToFrame(page, frame)
  const cursor = await boxOf(page.locator('[data-cursor]'))
  const signs = await boxOf(page.getByRole('img', { name: lane }))
  await page.mouse.click(cursor.x + cursor.width / 2, signs.y + signs.height / 2)
}

/** Waits until everything is on the server. */
export async function waitForSaved(page: Page): Promise<void> {
  await page.waitForSelector('[data-save="saved"]', { timeout: 90_000 })
}

/** Drags the mouse from one point of the window to another. */
export async function drag(
  page: Page,
  from: { x: number; y: number },
  to: { x: number; y: number },
): Promise<void> {
  await page.mouse.move(from.x, from.y)
  await press(page)
  await page.mouse.move((from.x + to.x) / 2, (from.y + to.y) / 2)
  await page.mouse.move(to.x, to.y)
  await page.mouse.up()
}

/** Returns what moves one finger on a page that has touch. */
export async function fingerOf(page: Page) {
  const fingers = await page.context().newCDPSession(page)
  return (type: 'touchStart' | 'touchMove' | 'touchEnd', ...touchPoints: { x: number; y: number }[]) =>
    fingers.send('Input.dispatchTouchEvent', { type, touchPoints })
}

/** Presses the mouse, again where the browser has lost that: on a loaded machine it does so once in some thousand times, and moves come through. */
async function press(page: Page): Promise<void> {
  await page.mouse.down()
  for (let tries = 0; tries < 3; tries++) {
    const isLost = await page.evaluate(() => (window as { isPressed?: boolean }).isPressed === false)
    if (!isLost) return
    await page.mouse.up()
    await page.mouse.down()
  }
}

/** Shows what stands behind the "more" of every question of the set-up. */
export async function showAllRows(page: Page): Promise<void> {
  const more = page.locator('aside[aria-label="Set-up"]').getByRole('button', { name: /^More: / })
  while ((await more.count()) > 0) await more.first().click()
}

/** Opens a row of the set-up by a part of its label, if it is not open; one that stands behind "more", too. */
export async function openRow(page: Page, label: RegExp): Promise<void> {
  const setUp = page.locator('aside[aria-label="Set-up"]')
  const row = setUp.getByRole('button', { name: label }).first()
  await row
    .or(setUp.getByRole('button', { name: /^More: / }))
    .first()
    .waitFor()
  if ((await row.count()) === 0) await showAllRows(page)
  if ((await row.getAttribute('aria-expanded')) !== 'true') await row.click()
}

/** What the stage shows when a frame was asked for. */
export interface ShownFrame {
  /** Frame number that the bars of the picture say. */
  bars: number
  /** Time that is shown for it, in seconds. */
  seconds: number
}

/** What leads to a frame: its number is typed, a key is pressed, or, without either, it is only waited for. */
export type Step = number | { key?: string; to: number }

/**
 * Goes the steps through a bar-coded clip and returns what is shown after each. It all happens in the page: a command
 * from outside takes longer than a step.
 */
export async function showFrames(page: Page, steps: Step[]): Promise<ShownFrame[]> {
  return page.getByLabel('Current frame').evaluate(
    async (field, { steps, bits, width, height, room }) => {
      const typed = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')!.set!
      const press = (on: EventTarget, key: string) =>
        on.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }))
      const nextScreen = () => new Promise(requestAnimationFrame)
      const readBars = () => {
        const canvas = document.querySelector<HTMLCanvasElement>('[data-stage] canvas[data-picture]')!
        const context = canvas.getContext('2d')!
        const above = room * devicePixelRatio
        const high = canvas.height - above
        const zoom = Math.min(canvas.width / width, high / height)
        const left = (canvas.width - width * zoom) / 2
        const top = above + (high - height * zoom) / 2
        let frame = 0
        for (let bit = 0; bit < bits; bit++) {
          const x = left + ((bit + 0.5) * width * zoom) / bits
          const y = top + height * 0.3 * zoom
          const [red] = context.getImageData(Math.round(x), Math.round(y), 1, 1).data
          if (red > 128) frame |= 1 << bit
        }
        return frame
      }
      const shown: ShownFrame[] = []
      for (const step of steps) {
        const frame = typeof step === 'number' ? step : step.to
        if (typeof step === 'number') {
          field.focus()
          typed.call(field, String(frame))
          field.dispatchEvent(new Event('input', { bubbles: true }))
          await nextScreen()
          press(field, 'Enter')
        } else if (step.key) {
          field.blur()
          press(document.body, step.key)
        }
        const until = performance.now() + 60_000
        while (!document.querySelector(`[data-stage] canvas[data-frame="${frame}"]`)) {
          if (performance.now() > until) throw new Error(`Frame ${frame} is not shown.`)
          await nextScreen()
        }
        const time = document.querySelector<HTMLElement>('[data-time]')!
        shown.push({ bars: readBars(), seconds: Number(time.dataset.time) })
      }
      return shown
    },
    { steps, bits: BITS, width: CLIP_WIDTH, height: CLIP_HEIGHT, room: BAND_ROOM },
  )
}

/** Waits until the current frame has a time, in seconds. */
export async function waitForTime(page: Page, seconds: number): Promise<void> {
  await page.waitForFunction((expected) => {
    const time = document.querySelector<HTMLElement>('[data-time]')
    return time !== null && Math.abs(Number(time.dataset.time) - expected) < 5e-5
  }, seconds)
}

/** Loads the page anew as a link from the list would open it: at its first frame, whatever was seen. */
export async function reopen(page: Page): Promise<void> {
  const { origin, pathname } = new URL(page.url())
  await page.goto(origin + pathname)
  await waitForFrame(page, 0)
}

/** Saves what an action lets the page download, and returns its name and contents. */
export async function downloaded(
  page: Page,
  act: () => Promise<void>,
): Promise<{ name: string; body: Buffer }> {
  const [download] = await Promise.all([page.waitForEvent('download'), act()])
  const parts: Buffer[] = []
  for await (const part of await download.createReadStream()) parts.push(part as Buffer)
  return { name: download.suggestedFilename(), body: Buffer.concat(parts) }
}

/** Most presses of Tab that lead to anything on a page. */
const MOST_TABS = 150

/**
 * Moves the focus by Tab until it is on what has a name, unless it is there already.
 *
 * @param name what the label or the text matches
 * @throws if Tab does not lead there, or what it leads to is out of view
 */
export async function tabTo(page: Page, name: RegExp): Promise<void> {
  const passed: string[] = []
  for (let n = 0; n <= MOST_TABS; n++) {
    if (n > 0) await page.keyboard.press('Tab')
    const focused = await page.evaluate(() => {
      const element = document.activeElement as HTMLElement
      const { top, bottom } = element.getBoundingClientRect()
      const label = element.ariaLabel ?? element.closest('label')?.textContent ?? element.textContent
      return { name: label.trim(), isInView: bottom > 0 && top < window.innerHeight }
    })
    if (name.test(focused.name)) {
      if (focused.isInView) return
      throw new Error(`“${focused.name}” has the focus and is not in view.`)
    }
    passed.push(focused.name.slice(0, 30))
  }
  throw new Error(`Tab does not lead to ${name}, but over ${passed.join(' | ')}`)
}
