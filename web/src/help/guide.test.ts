import { edit, edits, type Mutator } from '@apokinema/core/investigation'
import { build, footage, id } from '@apokinema/core/testing/built'
import { expect, it } from 'vitest'
import { guideStep } from './guide.ts'

const body = id(3)
const start = build(edits.setFootage(footage))
const after = (...mutators: Mutator[]) =>
  mutators.reduce((now, mutator) => edit(now, mutator).document, start)
const followed: Mutator[] = [
  edits.addBody(body, { position: id(4), velocity: id(5) }),
  ...Array.from({ length: 25 }, (_, frame) => edits.setMark(body, frame, { x: 10 * frame, y: 5 })),
]
const drawn = edits.addReference(id(6), [
  { x: 0, y: 0, frame: 0 },
  { x: 0, y: 300, frame: 0 },
])
const typed = edits.changeReference(id(6), { length: 1.4 })
const fitted: Mutator[] = [
  edits.addStretch(id(7), id(4), 2, 20),
  edits.addFit(id(8), id(7), 'uniform-acceleration'),
]

it('notices each step by what is there', () => {
  expect(guideStep(start, false)).toBe('follow')
  expect(guideStep(after(...followed), false)).toBe('draw')
  expect(guideStep(after(...followed, drawn), false)).toBe('length')
  expect(guideStep(after(...followed, drawn, typed), false)).toBe('graphs')
  expect(guideStep(after(...followed, drawn, typed), true)).toBe('fit')
  expect(guideStep(after(...followed, drawn, typed, ...fitted), true)).toBe('done')
})

it('goes back with what is undone, and takes steps in another order', () => {
  expect(guideStep(after(drawn, typed), false)).toBe('follow')
  expect(guideStep(after(...followed.slice(0, 5)), false)).toBe('follow')
  expect(guideStep(after(...followed), true)).toBe('draw')
})
