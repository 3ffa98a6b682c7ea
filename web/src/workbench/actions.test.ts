import {
  axesOf,
  edit,
  edits,
  type Investigation,
  type Mutator,
  newInvestigation,
} from '@apokinema/core/investigation'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { beginOpenedState } from '../document/openedState.ts'
import type { Session } from '../document/session.ts'
import { clickAt, goBy } from './actions.ts'
import { endPoints, enterMode, finishPoints, readoutDirection } from './calibrating.ts'
import {
  clearStretch,
  markAgainFrom,
  markStreak,
  restUntilHere,
  sayBreak,
  skipFrame,
  startMarking,
  startSecond,
  takeBack,
} from './marking.ts'
import { deleteSelected, moveSelectionBy } from './selecting.ts'
import { activeBody, shownBodies } from './shown.ts'
import { useWorkbench, workbench } from './workbenchStore.ts'

const told = vi.hoisted(() => vi.fn())
vi.mock('../common/messages.tsx', () => ({ notify: told }))

const BODY = '00000000-0000-4000-8000-000000000001'
const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`

/** Returns a session that keeps its document in memory and applies every edit at once. */
function sessionOf(...mutators: Mutator[]): Session {
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
  let document: Investigation = [footage, ...mutators].reduce(
    (at, mutator) => edit(at, mutator).document,
    newInvestigation('Throw'),
  )
  return {
    get document() {
      return document
    },
    edit: (_label: string, mutator: Mutator) => {
      document = edit(document, mutator).document
    },
  } as unknown as Session
}

const withBody = (...mutators: Mutator[]) =>
  sessionOf(edits.addBody(BODY, { position: id(2), velocity: id(3) }, 'Float'), ...mutators)
const frame = () => useWorkbench.getState().frame
const at = (x: number, y: number, on = 0) => ({ x, y, frame: on })

beforeEach(() => {
  beginOpenedState()
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
    const body = activeBody(session.document, null)!
    for (const at of [10, 12, 14]) {
      expect(frame()).toBe(at)
      clickAt(session, { x: 100 + at, y: 50 }, at)
    }
    expect(Object.keys(session.document.bodies[body].marks)).toEqual(['10', '12', '14'])
    expect(useWorkbench.getState().mode.kind).toBe('select')
    expect(told).toHaveBeenCalledWith(expect.stringMatching(/3 marks/))
  })

  it('keeps a mark inside the picture, and makes none outside the frames in use', () => {
    const session = withBody(edits.setSpan({ first: 4, last: 20, every: 4 }))
    startMarking(session)
    clickAt(session, { x: -9, y: 999 }, 4)
    expect(session.document.bodies[BODY].marks[4]).toEqual({ x: 0, y: 480, by: 'hand' })
    clickAt(session, { x: 5, y: 5 }, 5)
    expect(session.document.bodies[BODY].marks[5]).toBeUndefined()
    expect(told).toHaveBeenCalledWith(expect.stringMatching(/not one of those in use/))
  })

  it('takes back the last mark and returns to its frame', () => {
    const session = withBody(edits.setMark(BODY, 3, { x: 1, y: 1 }), edits.setMark(BODY, 4, { x: 2, y: 2 }))
    workbench.goTo(5)
    workbench.enter({ kind: 'mark', body: BODY })
    takeBack(session)
    expect(frame()).toBe(4)
    expect(Object.keys(session.document.bodies[BODY].marks)).toEqual(['3'])
  })

  it('never happens by a click outside of it', () => {
    const session = withBody()
    clickAt(session, { x: 5, y: 5 }, 0)
    expect(session.document.bodies[BODY].marks).toEqual({})
  })
})

describe('a streak', () => {
  it('is marked by its ends: its middle is the mark', () => {
    const session = withBody()
    startMarking(session)
    markStreak(session, BODY, 0, { x: 100, y: 40 }, { x: 120, y: 50 })
    expect(session.document.bodies[BODY].marks[0]).toEqual({
      // The mean of two ends that are each placed to half a pixel.
      x: 110,
      y: 45,
      by: 'hand',
      error: 0.35,
      streak: { x: 10, y: 5 },
    })
    expect(frame()).toBe(1)
  })

  it('can be marked by two clicks, the first of which begins it; its ends on one spot are a click', () => {
    const session = withBody()
    startMarking(session)
    workbench.setStreak({ x: 10, y: 10 })
    clickAt(session, { x: 20, y: 10 }, 0)
    expect(session.document.bodies[BODY].marks[0]).toMatchObject({ x: 15, streak: { x: 5, y: 0 } })
    workbench.setStreak({ x: 10, y: 10 })
    clickAt(session, { x: 11, y: 10 }, 1)
    expect(session.document.bodies[BODY].marks[1]).toEqual({ x: 10.5, y: 10, by: 'hand', error: 0.35 })
    expect(useWorkbench.getState().streak).toBeNull()
  })

  it('that was begun is taken back first', () => {
    const session = withBody(edits.setMark(BODY, 0, { x: 1, y: 1 }))
    markAgainFrom(session, BODY, 0)
    workbench.setStreak({ x: 10, y: 10 })
    takeBack(session)
    expect(useWorkbench.getState().streak).toBeNull()
    expect(session.document.bodies[BODY].marks[0]).toBeDefined()
  })
})

describe('a frame without a mark', () => {
  it('is skipped, and stays a gap', () => {
    const session = withBody()
    startMarking(session)
    clickAt(session, { x: 1, y: 1 }, 0)
    skipFrame(session)
    clickAt(session, { x: 3, y: 3 }, 2)
    expect(Object.keys(session.document.bodies[BODY].marks)).toEqual(['0', '2'])
    expect(frame()).toBe(3)
  })

  it('can be one of a rest: then it is none that waits', () => {
    const session = withBody()
    startMarking(session)
    restUntilHere(session)
    expect(told).toHaveBeenCalledWith(expect.stringMatching(/Mark it once/))
    clickAt(session, { x: 1, y: 1 }, 0)
    workbench.goTo(9)
    restUntilHere(session)
    expect(session.document.bodies[BODY].marks).toEqual({ 0: { x: 1, y: 1, by: 'hand', until: 9 } })
    expect(frame()).toBe(10)
    workbench.leave()
    workbench.goTo(4)
    startMarking(session)
    expect(frame()).toBe(10)
  })
})

describe('the second point of a body', () => {
  it('is marked where the body is, apart from its mark', () => {
    const session = withBody()
    startSecond(session, BODY)
    expect(told).toHaveBeenCalledWith(expect.stringMatching(/first/))
    for (const on of [2, 4]) {
      workbench.goTo(on)
      markAgainFrom(session, BODY, on)
      clickAt(session, { x: 50, y: 50 }, on)
    }
    startSecond(session, BODY)
    expect(frame()).toBe(2)
    clickAt(session, { x: 50, y: 51 }, 2)
    expect(session.document.bodies[BODY].second).toEqual({})
    clickAt(session, { x: 80, y: 50 }, 2)
    expect(session.document.bodies[BODY].second).toEqual({ 2: { x: 80, y: 50 } })
    clickAt(session, { x: 80, y: 50 }, 3)
    expect(Object.keys(session.document.bodies[BODY].second)).toEqual(['2'])
    takeBack(session)
    expect(session.document.bodies[BODY].second).toEqual({})
  })
})

describe('a locked body', () => {
  it('is not marked again, nor cleared', () => {
    const session = withBody(edits.setMark(BODY, 3, { x: 1, y: 1 }), edits.changeBody(BODY, { locked: true }))
    markAgainFrom(session, BODY, 3)
    expect(useWorkbench.getState().mode.kind).toBe('select')
    clearStretch(session, BODY)
    sayBreak(session, BODY, 3, 'break')
    expect(session.document.bodies[BODY]).toMatchObject({ breaks: {}, marks: { 3: { x: 1 } } })
    expect(told).toHaveBeenCalledWith(expect.stringMatching(/locked/))
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
    expect(session.document.bodies[BODY].marks).toEqual({})
  })

  it('moves by fractions of a pixel', () => {
    const session = withBody(edits.setMark(BODY, 3, { x: 10, y: 20 }))
    expect(moveSelectionBy(session, 1, 1)).toBe(false)
    workbench.select({ kind: 'mark', body: BODY, frame: 3 })
    expect(moveSelectionBy(session, 0.25, -0.25)).toBe(true)
    expect(session.document.bodies[BODY].marks[3]).toMatchObject({ x: 10.25, y: 19.75 })
  })
})

describe('a line', () => {
  it('with both ends on one spot is refused', () => {
    const session = sessionOf()
    workbench.enter({ kind: 'reference', id: null, points: [] })
    finishPoints(session, [at(5, 5), at(6, 5)])
    expect(session.document.references).toEqual({})
    expect(told).toHaveBeenCalledWith(expect.stringMatching(/same spot/))
  })

  it('along an axis points to the right, however it was drawn', () => {
    const session = sessionOf()
    for (const [from, to] of [
      [at(10, 100), at(110, 0)],
      [at(110, 0), at(10, 100)],
    ]) {
      workbench.enter({ kind: 'axis-line', along: 'x', points: [] })
      finishPoints(session, [from, to])
      expect(axesOf(session.document).tilt).toBeCloseTo(Math.PI / 4, 12)
    }
  })

  it('along a leaning edge finds the read-out with the speed of the body', () => {
    // 30 px a frame at 30 frames a second: 900 px/s; 9.6 px over 240 of 480 rows are 21.3 ms.
    const session = withBody(
      edits.setMark(BODY, 3, { x: 100, y: 240 }),
      edits.setMark(BODY, 5, { x: 160, y: 240 }),
    )
    workbench.goTo(4)
    workbench.enter({ kind: 'edge', points: [] })
    finishPoints(session, [at(200, 100), at(209.6, 340)])
    expect(session.document.timing.readout?.seconds).toBeCloseTo(19.2 / 900, 6)
    expect(session.document.timing.readout?.towards).toBe('down')
  })

  it('that leans the wrong way, or without a speed, finds nothing and says so', () => {
    const still = withBody()
    workbench.enter({ kind: 'edge', points: [] })
    finishPoints(still, [at(200, 100), at(210, 340)])
    expect(told).toHaveBeenCalledWith(expect.stringMatching(/speed is needed/))
    const session = withBody(
      edits.setMark(BODY, 3, { x: 100, y: 240 }),
      edits.setMark(BODY, 5, { x: 160, y: 240 }),
    )
    workbench.goTo(4)
    workbench.enter({ kind: 'edge', points: [] })
    finishPoints(session, [at(200, 100), at(190, 340)])
    expect(session.document.timing.readout).toBeNull()
    expect(told).toHaveBeenCalledWith(expect.stringMatching(/does not lean/))
  })
})

describe('calibrating', () => {
  it('lays y upwards along an upright line, and x a quarter turn before it', () => {
    const session = sessionOf()
    workbench.enter({ kind: 'axis-line', along: 'y', points: [] })
    // A door frame that leans to the right, drawn downwards.
    finishPoints(session, [at(210, 100), at(200, 400)])
    expect(axesOf(session.document).tilt).toBeCloseTo(-Math.atan(10 / 300), 12)
  })

  it('lets things fall down a plumb line, whichever way it is drawn', () => {
    for (const line of [
      [at(300, 10), at(310, 400)],
      [at(310, 400), at(300, 10)],
    ]) {
      const session = sessionOf()
      workbench.enter({ kind: 'axis-line', along: 'gravity', points: [] })
      finishPoints(session, line)
      expect(session.document.gravity?.direction).toBeCloseTo(-Math.PI / 2 + Math.atan(10 / 390), 12)
      // Two ends, each placed to half a pixel, over the line's length.
      expect(session.document.gravity?.error).toBeCloseTo(Math.SQRT1_2 / Math.hypot(10, 390), 12)
    }
  })

  it('collects points on whichever frames they are clicked, and ends by itself', () => {
    const session = sessionOf()
    workbench.enter({ kind: 'probe', probe: 'angle', points: [] })
    clickAt(session, { x: 10, y: 10 }, 2)
    clickAt(session, { x: 50, y: 10 }, 2)
    expect(useWorkbench.getState().mode).toMatchObject({ points: [at(10, 10, 2), at(50, 10, 2)] })
    clickAt(session, { x: 50, y: 60 }, 5)
    const [probe] = Object.values(session.document.probes)
    expect(probe).toMatchObject({ kind: 'angle', points: [at(10, 10, 2), at(50, 10, 2), at(50, 60, 5)] })
    expect(useWorkbench.getState().mode.kind).toBe('select')
    deleteSelected(session)
    expect(session.document.probes).toEqual({})
  })

  it('refuses a plane of three corners in a line or with crossing sides, and keeps the corners before', () => {
    const session = sessionOf()
    const corners = [at(100, 400), at(500, 400), at(480, 100)]
    workbench.enter({ kind: 'plane', points: corners })
    clickAt(session, { x: 300, y: 400 }, 0)
    expect(told).toHaveBeenCalledWith(expect.stringMatching(/lie in a line/))
    expect(useWorkbench.getState().mode).toMatchObject({ points: corners })
    clickAt(session, { x: 430, y: 310 }, 0)
    expect(told).toHaveBeenCalledWith(expect.stringMatching(/points inwards/))
    clickAt(session, { x: 120, y: 110 }, 0)
    expect(session.document.plane!.corners[3]).toEqual(at(120, 110))
  })

  it('takes three points at least for a straight edge', () => {
    const session = sessionOf()
    workbench.enter({ kind: 'lens', points: [at(10, 10), at(300, 12)] })
    endPoints(session)
    expect(told).toHaveBeenCalledWith(expect.stringMatching(/three points/))
    clickAt(session, { x: 600, y: 10 }, 0)
    endPoints(session)
    expect(Object.values(session.document.lens!.edges)[0].points).toHaveLength(3)
  })

  it('marks a landmark again and again, and knows it is the same', () => {
    const session = sessionOf()
    workbench.enter({ kind: 'landmark', id: null })
    clickAt(session, { x: 10, y: 20 }, 0)
    clickAt(session, { x: 14, y: 20 }, 12)
    const [landmark] = Object.values(session.document.camera.landmarks)
    expect(landmark.marks).toEqual({ 0: { x: 10, y: 20 }, 12: { x: 14, y: 20 } })
  })

  it('leaves what is locked as it is', () => {
    const session = sessionOf(
      edits.addReference(id(5), [at(10, 10), at(10, 110)]),
      edits.setLock('scale', { by: id(6), name: 'teacher' }),
      edits.setLock('axes', { by: id(6), name: 'teacher' }),
    )
    enterMode(session, { kind: 'origin' })
    expect(useWorkbench.getState().mode.kind).toBe('select')
    expect(told).toHaveBeenCalledWith(expect.stringMatching(/axes are locked/))
    workbench.select({ kind: 'end', reference: id(5), end: 0 })
    expect(moveSelectionBy(session, 1, 0)).toBe(false)
    deleteSelected(session)
    expect(session.document.references[id(5)].ends[0]).toEqual(at(10, 10))
  })
})

describe('a sensor', () => {
  it('reads out downwards unless the picture was turned', () => {
    const turned = (...turns: ('left' | 'right' | 'mirror')[]) =>
      readoutDirection(sessionOf(...turns.map(edits.turnPicture)).document)
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
    const shown = (active: string) => shownBodies(session.document, active).map(([body]) => body)
    expect(shown(ids[0])).toEqual(ids.slice(0, 3))
    expect(shown(ids[3])).toEqual(ids.slice(2, 5))
    expect(shown(ids[5])).toEqual(ids.slice(3, 6))
    expect(activeBody(session.document, 'nobody')).toBe(ids[0])
  })
})
