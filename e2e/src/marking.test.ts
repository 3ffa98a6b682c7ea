import { analyse } from '@apokinema/core/analysis'
import { fitColumn } from '@apokinema/core/fitting'
import { edits, type Investigation, type Mutator } from '@apokinema/core/investigation'
import { readTruth } from '@apokinema/demo'
import type { Page } from 'playwright-core'
import { beforeEach, describe, expect, it } from 'vitest'
import { newWindow } from './browser.ts'
import {
  boxOf,
  chooseSign,
  drag,
  fingerOf,
  goToFrame,
  reopen,
  stagePlace,
  waitForFrame,
  waitForSaved,
} from './page.ts'
import { pageTests } from './pageTests.ts'
import { documentOf, openPrepared, workOn } from './work.ts'

/** Marking by hand through the page: with the mouse, with a finger, with keys alone. */

const given = pageTests()
const body = crypto.randomUUID()
const graphs = { position: crypto.randomUUID(), velocity: crypto.randomUUID() }
let page: Page

const documentNow = async () => {
  await waitForSaved(page)
  return (await documentOf(given.server, page)).document
}
const bodyNow = async () => Object.values((await documentNow()).bodies)[0]
beforeEach(() => {
  page = given.page
})

describe('a thrown float', () => {
  const truth = readTruth('net-float')
  const at = (frame: number) => truth.bodies[0].frames[frame]
  const marked =
    (from: number, to: number): Mutator =>
    (draft) => {
      for (let frame = from; frame < to; frame++) edits.setMark(body, frame, at(frame))(draft)
    }
  let place: Awaited<ReturnType<typeof stagePlace>>

  const open = async (...more: Mutator[]) => {
    await openPrepared(given.server, page, 'net-float', [edits.addBody(body, graphs, 'Net float'), ...more])
    place = await stagePlace(page, truth)
  }

  it('is marked by clicks and streaks in turn, with a frame skipped and one taken back', async () => {
    await open()
    await goToFrame(page, 40)
    await page.keyboard.press('m')
    await page.locator('[data-band]').waitFor()
    const click = async (frame: number) => {
      const { x, y } = place(at(frame))
      await page.mouse.click(x, y)
      await waitForFrame(page, frame + 1)
    }
    await click(40)
    const [from, to] = [-12, 12].map((by) => place({ x: at(41).x + by, y: at(41).y + by / 2 }))
    await drag(page, from, to)
    await waitForFrame(page, 42)
    await page.getByRole('button', { name: 'Skip · S' }).click()
    await waitForFrame(page, 43)
    await click(43)
    await click(44)
    await page.keyboard.press('Backspace')
    await waitForFrame(page, 44)
    await page.locator('[data-loupe]').waitFor()
    await page.keyboard.press('Escape')
    const { marks } = await bodyNow()
    expect(Object.keys(marks)).toEqual(['40', '41', '43'])
    expect(Math.hypot(marks[41].x - at(41).x, marks[41].y - at(41).y)).toBeLessThan(1)
    expect(marks[41].streak!.x).toBeCloseTo(12, 0)
    expect(marks[41].streak!.y).toBeCloseTo(6, 0)
    expect(marks[43].streak).toBeUndefined()
  })

  it('rests until it is thrown, which is one mark, and is marked again from a frame on', async () => {
    await open()
    await page.keyboard.press('m')
    const hand = place(at(0))
    await page.mouse.click(hand.x, hand.y)
    await waitForFrame(page, 1)
    await goToFrame(page, 9)
    await page.keyboard.press('r')
    await waitForFrame(page, 10)
    await page.keyboard.press('Escape')
    expect(await bodyNow()).toMatchObject({ marks: { 0: { until: 9 } } })
    await page.locator('[data-rest="0"]').waitFor({ state: 'attached' })

    await chooseSign(page, /^Marks of/, 0)
    await page.locator('[data-mark-band]').waitFor()
    const field = page.getByLabel('Last frame of the rest')
    await field.fill('7')
    await field.press('Enter')
    await expect.poll(async () => (await bodyNow()).marks[0].until).toBe(7)
    await page.getByRole('button', { name: 'Mark again from here' }).click()
    await page.locator('[data-band]').waitFor()
    await page.mouse.click(hand.x + 4, hand.y)
    await waitForFrame(page, 1)
    expect((await bodyNow()).marks[0].until).toBeUndefined()
  })

  it('is cleared from a mark on, which one undo takes back', async () => {
    await open(marked(30, 50))
    await chooseSign(page, /^Marks of/, 40)
    await page.getByRole('button', { name: 'More about this mark' }).click()
    await page.getByRole('menuitem', { name: 'Clear from here on' }).click()
    await expect.poll(async () => Object.keys((await bodyNow()).marks).length).toBe(10)
    await page.keyboard.press('Control+z')
    await expect.poll(async () => Object.keys((await bodyNow()).marks).length).toBe(20)
  })

  it('is marked by keys alone: arrows and Enter, with a streak begun by Shift and Enter', async () => {
    await open()
    await goToFrame(page, 40)
    await page.keyboard.press('m')
    await page.keyboard.press('ArrowRight')
    await page.keyboard.press('Enter')
    await waitForFrame(page, 41)
    await page.keyboard.press('Shift+Enter')
    await page.keyboard.press('Shift+ArrowRight')
    await page.keyboard.press('Enter')
    await waitForFrame(page, 42)
    const { marks } = await bodyNow()
    expect(marks[41].x - marks[40].x).toBeCloseTo(5, 6)
    expect(marks[41].streak).toEqual({ x: 5, y: 0 })
  })

  it('shows how it is turned by a second point', async () => {
    await open(marked(40, 46))
    await page.getByRole('button', { name: 'More about Net float' }).click()
    await page.getByRole('menuitem', { name: 'Mark how it is turned' }).click()
    await waitForFrame(page, 40)
    for (let frame = 40; frame < 45; frame++) {
      const angle = 0.3 * (frame - 40)
      const { x, y } = place({ x: at(frame).x + 60 * Math.cos(angle), y: at(frame).y - 60 * Math.sin(angle) })
      await page.mouse.click(x, y)
      await waitForFrame(page, frame + 1)
    }
    await page.keyboard.press('Escape')
    expect(Object.keys((await bodyNow()).second)).toHaveLength(5)
    await page.getByRole('link', { name: 'Graphs', exact: true }).click()
    await page.getByRole('button', { name: /^Velocity/ }).click()
    await page.getByRole('button', { name: /spin/ }).click()
    await page
      .locator('[data-graph="spin"]')
      .getByText(/rad\/s/)
      .first()
      .waitFor()
  })
})

describe('with a finger', () => {
  const truth = readTruth('net-float')

  it('the reticle is dragged beside it, and a tap sets the mark', async () => {
    const phone = { viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true }
    await page.close()
    page = await (await newWindow(given.browser, phone)).newPage()
    await openPrepared(given.server, page, 'net-float', [edits.addBody(body, graphs, 'Net float')])
    await goToFrame(page, 40)
    await page.keyboard.press('m')
    await page.locator('[data-band]').waitFor()
    const box = await boxOf(page.locator('[data-stage]'))
    const place = await stagePlace(page, truth)
    const spot = place(truth.bodies[0].frames[40])
    const touch = await fingerOf(page)
    // The finger comes down below the spot; the reticle hangs above it.
    const below = { x: spot.x, y: Math.min(box.y + box.height - 4, spot.y + 70) }
    await touch('touchStart', below)
    await touch('touchMove', { x: below.x - 20, y: below.y })
    await touch('touchMove', { x: below.x, y: spot.y + 64 })
    await touch('touchEnd')
    expect(Object.keys((await bodyNow()).marks)).toEqual([])
    await touch('touchStart', { x: 60, y: box.y + box.height - 60 })
    await touch('touchEnd')
    await waitForFrame(page, 41)
    const mark = (await bodyNow()).marks[40]
    expect(
      Math.hypot(mark.x - truth.bodies[0].frames[40].x, mark.y - truth.bodies[0].frames[40].y),
    ).toBeLessThan(6)
  })
})

describe('a fender that bounces', () => {
  const truth = readTruth('fender')
  const { firstHit, secondHit, thirdHit, restitution } = truth.constants
  const hits = [firstHit, secondHit, thirdHit].map((time) => Math.ceil(60 * time))

  it('has a break proposed at each bounce; once they are accepted nothing is derived across', async () => {
    const [bottom, top] = truth.reference.ends
    const reference = crypto.randomUUID()
    await openPrepared(given.server, page, 'fender', [
      edits.addReference(reference, [
        { ...bottom, frame: 0 },
        { ...top, frame: 0 },
      ]),
      edits.changeReference(reference, { length: truth.reference.length }),
      edits.addBody(body, graphs, 'Fender'),
      (draft) => {
        // Placed to the half pixel, as a careful hand does.
        for (const { frame, x, y } of truth.bodies[0].frames.slice(19, 150))
          edits.setMark(body, frame, { x: Math.round(2 * x) / 2, y: Math.round(2 * y) / 2 })(draft)
      },
    ])
    for (const left of [3, 2, 1]) {
      await page.getByRole('button', { name: `${left} break${left > 1 ? 's' : ''}?` }).click()
      await page.locator('[data-break]').waitFor()
      await page.getByRole('button', { name: 'Yes', exact: true }).click()
      await page.locator('[data-break]').waitFor({ state: 'detached' })
    }
    const document = await documentNow()
    expect(Object.keys(document.bodies[body].breaks).map(Number)).toEqual(hits)
    await page.locator(`[data-broken="${hits[1]}"]`).waitFor({ state: 'attached' })

    // Velocities just before and after the first bounce, each by a line through its own side.
    const speedAt = (of: Investigation, from: number, to: number) => {
      const model = 'uniform-acceleration'
      const { breaks, valueAt } = fitColumn(analyse(of).table(body), 'vy', { from, to }, { model })
      expect(breaks).toBe(0)
      return valueAt(firstHit - zero)
    }
    const zero = document.span.first / 60
    const after = speedAt(document, hits[0], hits[1] - 1)
    const before = speedAt(document, 20, hits[0] - 1)
    expect(Math.abs(after / before / restitution + 1)).toBeLessThan(0.02)

    // A fit over a bounce says that it is no single motion.
    const stretch = crypto.randomUUID()
    await workOn(
      given.server,
      page,
      edits.addStretch(stretch, graphs.position, 20, hits[1] - 1),
      edits.addFit(crypto.randomUUID(), stretch, 'uniform-acceleration'),
    )
    await reopen(page)
    await page.getByRole('link', { name: 'Graphs', exact: true }).click()
    await page.getByText('There is a break in this stretch').waitFor()
  })
})
