import { readTruth } from '@apokinema/demo'
import { expect, it } from 'vitest'
import { drag, goToFrame, stagePlace } from './page.ts'
import { pageTests } from './pageTests.ts'
import { openPrepared, savedDocument } from './work.ts'

/** Ends of a reference length that snap, divisions along it, and marks that settle. */

const given = pageTests()
const truth = readTruth('net-float')
const [foot, top] = truth.reference.ends

it('both ends drawn off the tide staff snap to it, and its divisions tell its length', async () => {
  const { page, server } = given
  await openPrepared(server, page, 'net-float')
  const place = await stagePlace(page, truth)
  await page.getByRole('button', { name: 'Draw along something you know' }).click()
  await drag(page, place({ x: foot.x + 1, y: foot.y - 3.5 }), place({ x: top.x - 1, y: top.y - 3 }))
  await page.locator('[data-divisions="14"]').waitFor()
  const [drawn] = Object.values((await savedDocument(server, page)).references)
  for (const [i, end] of [foot, top].entries()) {
    expect(Math.abs(drawn.ends[i].y - end.y)).toBeLessThan(0.3)
    expect(drawn.ends[i].error).toBeLessThan(0.3)
  }
  await page.getByLabel('How long is one division?').fill('10 cm')
  await page.getByLabel('How long is one division?').press('Enter')
  await page.locator('[data-divisions]').waitFor({ state: 'detached' })
  const [told] = Object.values((await savedDocument(server, page)).references)
  expect(told.length).toBeCloseTo(1.4, 9)
})

it('an end stays where it was drawn while snapping is off', async () => {
  const { page, server } = given
  await openPrepared(server, page, 'net-float')
  const place = await stagePlace(page, truth)
  await page.getByRole('button', { name: 'Draw along something you know' }).click()
  await page.getByRole('checkbox', { name: 'Ends snap to edges' }).uncheck({ force: true })
  await drag(page, place({ x: foot.x, y: foot.y - 4 }), place({ x: top.x, y: top.y - 4 }))
  await page.getByLabel('How long is it really?').waitFor()
  const [drawn] = Object.values((await savedDocument(server, page)).references)
  expect(drawn.ends[1].y).toBeCloseTo(top.y - 4, 0)
  // What is chosen holds for the page.
  await page.reload()
})

it('a mark settles on the centre of the fender only where that is chosen', async () => {
  const { page, server } = given
  await openPrepared(server, page, 'fender')
  const fender = readTruth('fender')
  const falling = fender.bodies[0].frames.filter(({ phase }) => phase === 'falling').slice(8, 12)
  await goToFrame(page, falling[0].frame)
  const place = await stagePlace(page, fender)
  await page.getByRole('button', { name: 'Add a body', exact: true }).first().click()
  await page.getByLabel('Name of the body').press('Enter')
  await page.getByRole('button', { name: /^Mark body 1/ }).click()
  const click = async ({ x, y }: { x: number; y: number }) => {
    const at = place({ x: x + 3, y: y - 3 })
    await page.mouse.click(at.x, at.y)
  }
  const marks = async () => Object.values((await savedDocument(server, page)).bodies)[0].marks
  const off = async (frame: number) => {
    const one = falling.find((at) => at.frame === frame)!
    const mark = (await marks())[frame]
    return Math.hypot(mark.x - one.x, mark.y - one.y)
  }
  await click(falling[0])
  await page.locator(`canvas[data-frame="${falling[1].frame}"]`).waitFor()
  expect(await off(falling[0].frame)).toBeGreaterThan(3)
  await page.getByRole('checkbox', { name: 'Settle on its centre' }).check({ force: true })
  await click(falling[1])
  await page.locator(`canvas[data-frame="${falling[2].frame}"]`).waitFor()
  expect(await off(falling[1].frame)).toBeLessThan(1.3)
})
