import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { type Body, edits } from '@apokinema/core/investigation'
import { itAtLength } from '@apokinema/core/testing/extent'
import { readTruth } from '@apokinema/demo'
import type { Page } from 'playwright-core'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { drag, goToFrame, reopen, stagePlace } from './page.ts'
import { pageTests } from './pageTests.ts'
import { openFile, openPrepared, savedDocument, workOn } from './work.ts'

/** Following by other means than a look, and where something gets in its way. */

const given = pageTests()
const LANTERN = join(import.meta.dirname, '../../demo/samples/paper-lantern/footage.mp4')
let page: Page
let folder: string

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'apokinema-follow-'))
})
afterAll(() => {
  rmSync(folder, { recursive: true, force: true })
})
beforeEach(() => {
  page = given.page
})

const press = (key: string) => page.locator('body').press(key)
const phase = (name: string) => page.locator(`[data-follow="${name}"]`).waitFor()
const notFollowing = () => page.locator('[data-follow]').waitFor({ state: 'detached', timeout: 120_000 })
const says = (text: string | RegExp) => page.getByText(text).first().waitFor()

const byColour = async () => {
  await page.getByRole('button', { name: 'How …' }).click()
  await page.getByLabel('By what it is followed').selectOption('colour')
}

const documentNow = () => savedDocument(given.server, page)
const bodyNow = async (): Promise<Body> => Object.values((await documentNow()).bodies)[0]

async function clickPicture(picture: { width: number; height: number }, at: { x: number; y: number }) {
  const { x, y } = (await stagePlace(page, picture))(at)
  await page.mouse.click(x, y)
}

describe('by colour', () => {
  const truth = readTruth('fender')
  // By what it is followed is remembered for the next investigation.
  afterAll(() => page.close())

  /** Returns the fender's orange patch: 0.42 and 0.52 of its radius beside its middle, turned with it. */
  const patchAt = (frame: number) => {
    const { x, y, t } = truth.bodies[0].frames[frame]
    const since = Math.min(
      Math.max(0, t - truth.constants.releaseTime),
      truth.constants.caughtTime - truth.constants.releaseTime,
    )
    const [cos, sin] = [Math.cos(0.15 * since), Math.sin(0.15 * since)]
    const [u, v] = [0.42 * 40, 0.52 * 40]
    return { x: x + cos * u - sin * v, y: y + sin * u + cos * v }
  }

  it('an orange patch is followed through three bounces', async () => {
    await openPrepared(given.server, page, 'fender')
    await goToFrame(page, 20)
    await press('f')
    await phase('waiting')
    await byColour()
    await clickPicture(truth, patchAt(20))
    await phase('ready')
    await press('Enter')
    await notFollowing()
    const { marks } = await bodyNow()
    const off = Object.entries(marks)
      .filter(([frame, { by }]) => by === 'follow' && Number(frame) <= 148)
      .map(([frame, { x, y }]) => ({ x: x - patchAt(Number(frame)).x, y: y - patchAt(Number(frame)).y }))
    expect(off.length).toBeGreaterThanOrEqual(126)
    // The click is off by a part of a pixel, and all that follows with it.
    const mean = {
      x: off.reduce((sum, one) => sum + one.x, 0) / off.length,
      y: off.reduce((sum, one) => sum + one.y, 0) / off.length,
    }
    expect(Math.hypot(mean.x, mean.y)).toBeLessThan(1)
    const square = off.reduce((sum, one) => sum + (one.x - mean.x) ** 2 + (one.y - mean.y) ** 2, 0)
    expect(Math.sqrt(square / off.length)).toBeLessThan(0.5)
  })

  itAtLength(
    'is proposed where a pattern changes all the time and nothing is known of the background',
    async () => {
      const path = join(folder, 'flickering.mp4')
      const at = (frame: number) => ({ x: 40 + 4 * frame, y: 90 })
      const wall = `nullsrc=s=320x180:r=25:d=0.05,geq=lum='110+30*sin(X/7)*cos(Y/9)':cb=128:cr=128,loop=-1:1`
      const ball = `nullsrc=s=28x28:r=25,format=yuva420p,geq=lum='110+45*sin(X/2+2.4*N)*sin(Y/2+1.7*N)':cb=90:cr=190:a='255*clip(13.5-hypot(X-13.5,Y-13.5),0,1)'`
      // The first picture is laid down as the one with the number 1.
      const laid = `[w][b]overlay=x='26+4*(n-1)':y=76:format=yuv444`
      execFileSync('ffmpeg', [
        '-v',
        'error',
        '-y',
        '-filter_complex',
        `${wall}[w];${ball}[b];${laid}`,
        ...'-frames:v 50 -c:v libx264 -crf 18 -pix_fmt yuv420p'.split(' '),
        path,
      ])
      await openFile(given.server, page, path)
      await workOn(given.server, page, edits.setCameraMotion('zoomed'))
      await reopen(page)
      await press('f')
      await page.getByRole('button', { name: 'How …' }).click()
      await page.getByLabel('By what it is followed').selectOption('template')
      await clickPicture({ width: 320, height: 180 }, at(0))
      await phase('ready')
      await press('Enter')
      await phase('asking')
      await page.getByRole('button', { name: 'Follow its colour instead' }).click()
      await phase('ready')
      const from = Number(await page.getByLabel('Current frame').inputValue())
      await press('Enter')
      await notFollowing()
      const { marks } = await bodyNow()
      // From a mark that a person has made, or one that the look has found well, by its colour to the end.
      for (let frame = from + 1; frame < 50; frame++)
        expect(Math.hypot(marks[frame].x - at(frame).x, marks[frame].y - at(frame).y)).toBeLessThan(4)
      const off = (frame: number) => ({ x: marks[frame].x - at(frame).x, y: marks[frame].y - at(frame).y })
      const drift = Math.hypot(off(49).x - off(from + 1).x, off(49).y - off(from + 1).y)
      expect(drift).toBeLessThan(1)
    },
  )

  itAtLength('a colour that is all around is refused with a reason', async () => {
    await openPrepared(given.server, page, 'fender')
    await press('f')
    await byColour()
    await clickPicture(truth, { x: 500, y: 60 })
    await says(/same colour/)
    await phase('waiting')
  })
})

describe('the point that is reported', () => {
  it('is moved within its outline, which stays where it is', async () => {
    const truth = readTruth('fender')
    await openPrepared(given.server, page, 'fender')
    await goToFrame(page, 20)
    await press('f')
    await clickPicture(truth, truth.bodies[0].frames[20])
    await phase('ready')
    const before = await bodyNow()
    const place = await stagePlace(page, truth)
    const { x, y } = before.marks[20]
    await drag(page, place({ x, y }), place({ x: x + 12, y: y + 8 }))
    await expect.poll(async () => (await bodyNow()).marks[20].x).toBeCloseTo(x + 12, 0)
    const after = await bodyNow()
    // To the right the border is nearer by what the point was moved, to the left farther.
    const moved = after.marks[20].x - x
    expect(after.outline!.radii[0]).toBeLessThan(before.outline!.radii[0] - 0.7 * moved)
    expect(after.outline!.radii[12]).toBeGreaterThan(before.outline!.radii[12] + 0.5 * moved)
    await press('Escape')
  })
})

describe('a camera that moves', () => {
  it('has its landmarks followed in the same pass as the body', async () => {
    const truth = readTruth('hoisted-lantern')
    const ids = truth.landmarks!.map(() => crypto.randomUUID())
    await openPrepared(given.server, page, 'hoisted-lantern', [
      edits.setCameraMotion('zoomed'),
      ...truth.landmarks!.map(({ frames }, i) => edits.addLandmark(ids[i], 0, frames[0])),
    ])
    await press('f')
    await clickPicture(truth, truth.bodies[0].frames[0])
    await phase('ready')
    await press('Enter')
    await notFollowing()
    const { camera, bodies } = await documentNow()
    expect(Object.keys(Object.values(bodies)[0].marks).length).toBeGreaterThan(100)
    for (const [i, id] of ids.entries()) {
      const marks = Object.entries(camera.landmarks[id].marks)
      expect(marks.length).toBeGreaterThan(100)
      const square = marks.reduce((sum, [frame, { x, y }]) => {
        const at = truth.landmarks![i].frames[Number(frame)]
        return sum + (x - at.x) ** 2 + (y - at.y) ** 2
      }, 0)
      expect(Math.sqrt(square / marks.length)).toBeLessThan(0.5)
    }
  })
})

describe('what gets in the way', () => {
  itAtLength(
    'an outline larger than the picture, at its border, asks or ends, and nothing breaks',
    async () => {
      const path = join(folder, 'small.mp4')
      execFileSync('ffmpeg', [
        ...'-v error -y -f lavfi -i testsrc2=size=120x90:rate=25 -frames:v 20 -c:v libx264 -pix_fmt yuv420p'.split(
          ' ',
        ),
        path,
      ])
      const faults: string[] = []
      page.on('pageerror', (error) => faults.push(error.message))
      await openFile(given.server, page, path)
      const body = crypto.randomUUID()
      await workOn(
        given.server,
        page,
        edits.addBody(body, { position: crypto.randomUUID(), velocity: crypto.randomUUID() }, 'Everything'),
        edits.setMark(body, 0, { x: 118.5, y: 1 }),
        edits.changeBody(body, { outline: { radii: Array.from({ length: 24 }, () => 160) } }),
      )
      await reopen(page)
      await press('f')
      await phase('ready')
      await press('Enter')
      const asked = page.locator('[data-follow="asking"]')
      const ended = page.locator('[data-follow]').waitFor({ state: 'detached' })
      await Promise.race([asked.waitFor(), ended])
      if (await asked.isVisible()) await page.getByRole('button', { name: 'Stop here' }).click()
      await notFollowing()
      expect(faults).toEqual([])
      expect((await bodyNow()).marks[0]).toMatchObject({ x: 118.5, y: 1, by: 'hand' })
    },
  )

  itAtLength('the end of the span: it is followed back, and to the beginning there is nothing', async () => {
    const truth = readTruth('paper-lantern')
    await openPrepared(given.server, page, 'paper-lantern', [edits.setSpan({ last: 31 })])
    await goToFrame(page, 31)
    await press('f')
    await clickPicture(truth, truth.bodies[0].frames[31])
    await phase('ready')
    await page.getByRole('button', { name: 'Follow ◂ Enter' }).waitFor()
    await press('Enter')
    await notFollowing()
    const { marks } = await bodyNow()
    expect(Object.keys(marks)).toHaveLength(32)
    await goToFrame(page, 0)
    await press('f')
    await phase('ready')
    await press('Shift+Enter')
    await says('This is the first frame in use')
    await phase('ready')
    await press('Escape')
  })

  it('the middle of the span: it is followed both ways, in one step that can be undone', async () => {
    const truth = readTruth('paper-lantern')
    await openPrepared(given.server, page, 'paper-lantern', [edits.setSpan({ last: 80 })])
    await goToFrame(page, 40)
    await press('f')
    await clickPicture(truth, truth.bodies[0].frames[40])
    await phase('ready')
    await page.getByRole('button', { name: 'Follow both ways · Enter' }).waitFor()
    // The message goes by itself after a while.
    const told = says('Followed to the end: 80 frames.')
    await press('Enter')
    await told
    await notFollowing()
    const { marks } = await bodyNow()
    expect(Object.keys(marks)).toHaveLength(81)
    for (const [frame, { x, y }] of Object.entries(marks)) {
      const at = truth.bodies[0].frames[Number(frame)]
      expect(Math.hypot(x - at.x, y - at.y)).toBeLessThan(3)
    }
    await page.getByRole('button', { name: 'Undo' }).click()
    await page.locator('[data-marks="1"]').waitFor()
  })

  itAtLength('a tab that is put to sleep in the middle: it goes on where it was', async () => {
    const truth = readTruth('paper-lantern')
    await openPrepared(given.server, page, 'paper-lantern', [edits.setSpan({ last: 199 })])
    await press('f')
    await clickPicture(truth, truth.bodies[0].frames[0])
    await phase('ready')
    await press('Enter')
    await phase('running')
    const devtools = await page.context().newCDPSession(page)
    await devtools.send('Page.setWebLifecycleState', { state: 'frozen' })
    await devtools.send('Page.setWebLifecycleState', { state: 'active' })
    await notFollowing()
    expect(Object.keys((await bodyNow()).marks)).toHaveLength(200)
  })

  itAtLength(
    'footage that can’t be decoded from a frame on: what was marked before stays, and it says so',
    async () => {
      const truth = readTruth('paper-lantern')
      const packets = execFileSync('ffprobe', [
        ...'-v error -select_streams v -show_entries packet=pos,size,pts_time -of csv=p=0'.split(' '),
        LANTERN,
      ])
        .toString()
        .trim()
        .split('\n')
        .map((line) => line.split(',').map(Number))
      // Frames before the first whose packet is among the noise, or behind it.
      const shown = packets.map(([time], at) => ({ time, at })).sort((a, b) => a.time - b.time)
      const decodable = shown.findIndex(({ at }) => at >= 200)
      const file = readFileSync(LANTERN)
      // Everything from the 200th picture in the file on is noise, but for the length that each part begins with.
      for (const [, size, pos] of packets.slice(200))
        for (let i = 4; i < size; i++) file[pos + i] = (i * 97 + pos) & 0xff
      const path = join(folder, 'broken.mp4')
      writeFileSync(path, file)
      await openFile(given.server, page, path)
      await press('f')
      await clickPicture(truth, truth.bodies[0].frames[0])
      await phase('ready')
      await press('Enter')
      await says(/broke off|not seen|Two places/)
      const asked = page.locator('[data-follow="asking"]')
      if (await asked.isVisible()) await page.getByRole('button', { name: 'Stop here' }).click()
      await notFollowing()
      const { marks } = await bodyNow()
      const frames = Object.keys(marks).map(Number)
      for (let frame = 0; frame < decodable; frame++) {
        expect(frames, `frame ${frame}`).toContain(frame)
        const { x, y } = truth.bodies[0].frames[frame]
        expect(Math.hypot(marks[frame].x - x, marks[frame].y - y)).toBeLessThan(3)
      }
    },
  )
})
