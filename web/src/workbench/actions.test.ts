import { edit, edits, type Investigation, newInvestigation, type Recipe } from '@apokinema/core/investigation'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Session } from '../document/session.ts'
import {
  activeBody,
  clickAt,
  deleteSelected,
  finishLine,
  goBy,
  nudge,
  readoutDirection,
  shownBodies,
  startMarking,
  takeBack,
} from './actions.ts'
import { useWorkbench, workbench } from './workbenchStore.ts'

const told = vi.hoisted(() => vi.fn())
vi.mock('../common/messages.tsx', () => ({ tell: told }))

const BODY = '00000000-0000-4000-8000-000000000001'
const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`

/** A session that keeps its document in memory and applies every edit at once. */
function sessionOf(...recipes: Recipe[]): Session {
  const footage = edits.setFootage({
    id: id(90),
    name: 'throw.mp4',
    size: 1,
    width: 640,
    height: 480,
    timeBase: { numerator: 1, denominator: 30 },
    ticks: { first: 0, runs: [[1, 29]] },
    rotation: 0,
    notedCaptureRate: null,
    converted: false,
  })
  let document: Investigation = [footage, ...recipes].reduce(
    (at, recipe) => edit(at, recipe).document,
    newInvestigation('Throw'),
  )
  return {
    store: { getState: () => ({ document }) },
    edit: (_label: string, recipe: Recipe) => {
      document = edit(document, recipe).document
    },
  } as unknown as Session
}

const documentOf = (session: Session) => session.store.getState().document
const withBody = (...recipes: Recipe[]) =>
  sessionOf(edits.addBody(BODY, { position: id(2), velocity: id(3) }, 'Float'), ...recipes)
const frame = () => useWorkbench.getState().frame

beforeEach(() => {
  workbench.reset(0)
  told.mockClear()
})

describe('going through the film', () => {
  it('stays within the clip, and in steps within the span', () => {
    const session = sessionOf(edits.setSpan({ first: 4, last: 20, every: 4 }))
    goBy(session, -3, false)
    expect(frame()).toBe(0)
    goBy(session, 100, false)
    expect(frame()).toBe(29)
    goBy(session, -1, true)
    expect(frame()).toBe(20)
    goBy(session, -2, true)
    expect(frame()).toBe(12)
  })

  it('steps over repeats that are left out', () => {
    const session = sessionOf(edits.setRepeats({ frames: [2, 3], use: 'leave-out', originalRate: null }))
    workbench.goTo(1)
    goBy(session, 1, true)
    expect(frame()).toBe(4)
  })
})

describe('marking', () => {
  it('begins at the first frame that waits, adds a body where there is none, and goes on by itself', () => {
    const session = sessionOf(edits.setSpan({ first: 10, last: 14, every: 2 }))
    startMarking(session)
    expect(frame()).toBe(10)
    const body = activeBody(documentOf(session), null)!
    for (const at of [10, 12, 14]) {
      expect(frame()).toBe(at)
      clickAt(session, { x: 100 + at, y: 50 }, at)
    }
    expect(Object.keys(documentOf(session).bodies[body].marks)).toEqual(['10', '12', '14'])
    expect(useWorkbench.getState().mode.kind).toBe('select')
    expect(told).toHaveBeenCalledWith(expect.stringMatching(/3 marks/))
  })

  it('keeps a mark inside the picture, and makes none outside the frames in use', () => {
    const session = withBody(edits.setSpan({ first: 4, last: 20, every: 4 }))
    startMarking(session)
    clickAt(session, { x: -9, y: 999 }, 4)
    expect(documentOf(session).bodies[BODY].marks[4]).toEqual({ x: 0, y: 480, by: 'hand' })
    clickAt(session, { x: 5, y: 5 }, 5)
    expect(documentOf(session).bodies[BODY].marks[5]).toBeUndefined()
    expect(told).toHaveBeenCalledWith(expect.stringMatching(/not one of those in use/))
  })

  it('takes back the last mark and returns to its frame', () => {
    const session = withBody(edits.setMark(BODY, 3, { x: 1, y: 1 }), edits.setMark(BODY, 4, { x: 2, y: 2 }))
    workbench.goTo(5)
    workbench.enter({ kind: 'mark', body: BODY })
    takeBack(session)
    expect(frame()).toBe(4)
    expect(Object.keys(documentOf(session).bodies[BODY].marks)).toEqual(['3'])
  })

  it('never happens by a click outside of it', () => {
    const session = withBody()
    clickAt(session, { x: 5, y: 5 }, 0)
    expect(documentOf(session).bodies[BODY].marks).toEqual({})
  })
})

describe('what is selected', () => {
  it('is all that Delete deletes', () => {
    const session = withBody(edits.setMark(BODY, 3, { x: 1, y: 1 }))
    deleteSelected(session)
    expect(told).toHaveBeenCalledWith(expect.stringMatching(/Nothing is selected/))
    workbench.select({ kind: 'origin' })
    deleteSelected(session)
    expect(told).toHaveBeenCalledWith(expect.stringMatching(/can’t be deleted/))
    workbench.select({ kind: 'mark', body: BODY, frame: 3 })
    deleteSelected(session)
    expect(documentOf(session).bodies[BODY].marks).toEqual({})
  })

  it('moves by fractions of a pixel', () => {
    const session = withBody(edits.setMark(BODY, 3, { x: 10, y: 20 }))
    expect(nudge(session, 1, 1)).toBe(false)
    workbench.select({ kind: 'mark', body: BODY, frame: 3 })
    expect(nudge(session, 0.25, -0.25)).toBe(true)
    expect(documentOf(session).bodies[BODY].marks[3]).toMatchObject({ x: 10.25, y: 19.75 })
  })
})

describe('a line', () => {
  it('with both ends on one spot is refused', () => {
    const session = sessionOf()
    workbench.enter({ kind: 'reference', id: null, first: { x: 5, y: 5 } })
    finishLine(session, { x: 5, y: 5 }, { x: 6, y: 5 })
    expect(documentOf(session).references).toEqual({})
    expect(told).toHaveBeenCalledWith(expect.stringMatching(/same spot/))
  })

  it('along an axis points to the right, however it was drawn', () => {
    const session = sessionOf()
    for (const [from, to] of [
      [
        { x: 10, y: 100 },
        { x: 110, y: 0 },
      ],
      [
        { x: 110, y: 0 },
        { x: 10, y: 100 },
      ],
    ]) {
      workbench.enter({ kind: 'axis-line', first: from })
      finishLine(session, from, to)
      expect(documentOf(session).axes.tilt).toBeCloseTo(Math.PI / 4, 12)
    }
  })

  it('along a leaning edge finds the read-out with the speed of the body', () => {
    // 30 px a frame at 30 frames a second: 900 px/s; 9.6 px over 240 of 480 rows are 21.3 ms.
    const session = withBody(
      edits.setMark(BODY, 3, { x: 100, y: 240 }),
      edits.setMark(BODY, 5, { x: 160, y: 240 }),
    )
    workbench.goTo(4)
    workbench.enter({ kind: 'edge', first: { x: 200, y: 100 } })
    finishLine(session, { x: 200, y: 100 }, { x: 209.6, y: 340 })
    expect(documentOf(session).timing.readout?.seconds).toBeCloseTo(19.2 / 900, 6)
    expect(documentOf(session).timing.readout?.towards).toBe('down')
  })

  it('that leans the wrong way, or without a speed, finds nothing and says so', () => {
    const still = withBody()
    workbench.enter({ kind: 'edge', first: { x: 200, y: 100 } })
    finishLine(still, { x: 200, y: 100 }, { x: 210, y: 340 })
    expect(told).toHaveBeenCalledWith(expect.stringMatching(/speed is needed/))
    const session = withBody(
      edits.setMark(BODY, 3, { x: 100, y: 240 }),
      edits.setMark(BODY, 5, { x: 160, y: 240 }),
    )
    workbench.goTo(4)
    workbench.enter({ kind: 'edge', first: { x: 200, y: 100 } })
    finishLine(session, { x: 200, y: 100 }, { x: 190, y: 340 })
    expect(documentOf(session).timing.readout).toBeNull()
    expect(told).toHaveBeenCalledWith(expect.stringMatching(/does not lean/))
  })
})

describe('a sensor', () => {
  it('reads out downwards unless the picture was turned', () => {
    const turned = (...turns: ('left' | 'right' | 'mirror')[]) =>
      readoutDirection(documentOf(sessionOf(...turns.map(edits.turnPicture))))
    expect(turned()).toBe('down')
    expect(turned('right')).toBe('left')
    expect(turned('mirror', 'right')).toBe('left')
    expect(turned('right', 'mirror')).toBe('right')
    expect(turned('right', 'right')).toBe('up')
  })
})

describe('bodies on the strip', () => {
  it('are three neighbours, the active one among them', () => {
    const ids = Array.from({ length: 6 }, (_, i) => id(10 + i))
    const session = sessionOf(
      ...ids.map((body, i) => edits.addBody(body, { position: id(30 + i), velocity: id(50 + i) })),
    )
    const shown = (active: string) => shownBodies(documentOf(session), active).map(([body]) => body)
    expect(shown(ids[0])).toEqual(ids.slice(0, 3))
    expect(shown(ids[3])).toEqual(ids.slice(2, 5))
    expect(shown(ids[5])).toEqual(ids.slice(3, 6))
    expect(activeBody(documentOf(session), 'nobody')).toBe(ids[0])
  })
})
