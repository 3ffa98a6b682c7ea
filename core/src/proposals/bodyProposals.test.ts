import { expect, it } from 'vitest'
import { edit, edits, type Mutator } from '../investigation/index.ts'
import { normalSource, randomSource } from '../random/index.ts'
import { build, footage, id } from '../testing/built.ts'
import { bodyProposals, openStretches, steadiedBody } from './bodyProposals.ts'

const noise = normalSource(randomSource(5))
/** A flight from frame 20 to frame 80 at 60 frames a second, from rest in a hand, with one mark that is far off. */
const seconds = Float64Array.from({ length: 120 }, (_, frame) => frame / 60)
const marks = Array.from({ length: 81 }, (_, frame) => {
  const t = Math.max(0, frame - 20) / 60
  const x = 200 + 400 * t + 0.3 * noise()
  const y = 400 - 600 * t + 600 * t * t + 0.3 * noise() + (frame === 50 ? 40 : 0)
  return edits.setMark(id(3), frame, { x, y })
})
const document = build(
  edits.setFootage(footage),
  edits.addBody(id(3), { position: id(4), velocity: id(5) }),
  ...marks,
)
const found = bodyProposals(
  { body: document.bodies[id(3)], enlargement: 1 },
  seconds,
  document.outlierLimit,
).stretches
const open = (...mutators: Mutator[]) =>
  openStretches(
    mutators.reduce((before, mutator) => edit(before, mutator).document, document),
    id(3),
    found,
  )

it('a flight is one stretch although one of its marks is far off', () => {
  expect(found).toHaveLength(1)
  expect(Math.abs(found[0].from - 20)).toBeLessThanOrEqual(1)
  expect(found[0]).toMatchObject({ to: 80, law: 'uniform-acceleration', ends: 'marks' })
})

it('is proposed until it is the span or a stretch of a graph, or refused', () => {
  const { from, to } = found[0]
  expect(open()).toEqual(found)
  expect(open(edits.setSpan({ first: from, last: to - 2 }))).toEqual([])
  expect(open(edits.addStretch(id(6), id(4), from, to))).toEqual([])
  expect(open(edits.addStretch(id(6), id(4), from, from + 20))).toEqual(found)
  expect(open(edits.refuse(id(7), { kind: 'stretch', body: id(3), from, to }))).toEqual([])
  expect(open(edits.refuse(id(7), { kind: 'stretch', body: id(8), from, to }))).toEqual(found)
})

it('a body that a zooming, panning camera follows is steadied by landmarks, and its flight is one stretch again', () => {
  const body = document.bodies[id(3)]
  // As the moving camera sees a point: smaller and smaller around a middle that drifts.
  const seen = ({ x, y }: { x: number; y: number }, frame: number) => {
    const zoom = 1 / (1 + frame / 100)
    return { x: 320 + zoom * (x - 320 - 2 * frame), y: 180 + zoom * (y - 180 + frame) }
  }
  const [left, right] = [id(11), id(12)]
  const filmed = build(
    edits.setFootage(footage),
    edits.addBody(id(3), { position: id(4), velocity: id(5) }),
    edits.setCameraMotion('zoomed'),
    edits.addLandmark(left, 0, { ...seen({ x: 100, y: 300 }, 0), error: 0.2 }),
    edits.addLandmark(right, 0, { ...seen({ x: 520, y: 60 }, 0), error: 0.2 }),
    ...Array.from({ length: 81 }, (_, frame) => [
      edits.markLandmark(left, frame, { ...seen({ x: 100, y: 300 }, frame), error: 0.2 }),
      edits.markLandmark(right, frame, { ...seen({ x: 520, y: 60 }, frame), error: 0.2 }),
      edits.setMark(id(3), frame, seen(body.marks[frame], frame)),
    ]).flat(),
  )
  const steadied = steadiedBody(filmed, id(3))!
  for (const frame of [0, 40, 80]) {
    expect(steadied.body.marks[frame].x).toBeCloseTo(body.marks[frame].x, 6)
    expect(steadied.body.marks[frame].y).toBeCloseTo(body.marks[frame].y, 6)
  }
  expect(steadied.enlargement).toBeCloseTo(1.8, 6)
  const [stretch, ...others] = bodyProposals(steadied, seconds, document.outlierLimit).stretches
  expect(others).toEqual([])
  expect(stretch).toMatchObject({ to: 80, law: 'uniform-acceleration' })
  expect(Math.abs(stretch.from - 20)).toBeLessThanOrEqual(1)
  // Without landmarks nothing is known, and with a camera that stands still the body is as it is.
  expect(steadiedBody(edit(filmed, edits.removeLandmark(left)).document, id(3))).not.toBeNull()
  const none = [left, right].reduce((now, one) => edit(now, edits.removeLandmark(one)).document, filmed)
  expect(steadiedBody(none, id(3))).toBeNull()
  expect(steadiedBody(document, id(3))).toEqual({ body, enlargement: 1 })
})
