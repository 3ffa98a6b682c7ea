import { expect, it } from 'vitest'
import { edit, edits, type Mutator } from '../investigation/index.ts'
import { normalSource, randomSource } from '../random/index.ts'
import { build, footage, id } from '../testing/built.ts'
import { bodyProposals, openStretches } from './bodyProposals.ts'

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
const found = bodyProposals(document.bodies[id(3)], seconds, document.outlierLimit).stretches
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

it('is proposed until it is the span or a stretch of a graph, or refused, and while the camera stands still', () => {
  const { from, to } = found[0]
  expect(open()).toEqual(found)
  expect(open(edits.setSpan({ first: from, last: to - 2 }))).toEqual([])
  expect(open(edits.addStretch(id(6), id(4), from, to))).toEqual([])
  expect(open(edits.addStretch(id(6), id(4), from, from + 20))).toEqual(found)
  expect(open(edits.refuse(id(7), { kind: 'stretch', body: id(3), from, to }))).toEqual([])
  expect(open(edits.refuse(id(7), { kind: 'stretch', body: id(8), from, to }))).toEqual(found)
  expect(open((draft) => Object.assign(draft.camera, { motion: 'turned' }))).toEqual([])
})
