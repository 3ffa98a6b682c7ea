import { edit, edits, type Mutator } from '@apokinema/core/investigation'
import { build, footage, id } from '@apokinema/core/testing/built'
import { expect, it } from 'vitest'
import { nextStep } from './nextStep.ts'

const body = id(3)
const start = build(edits.setFootage(footage))
const after = (...mutators: Mutator[]) =>
  mutators.reduce((now, mutator) => edit(now, mutator).document, start)
const add = edits.addBody(body, { position: id(4), velocity: id(5) })
const marked: Mutator[] = [
  add,
  ...[0, 1, 2].map((frame) => edits.setMark(body, frame, { x: 10 * frame, y: 5 })),
]
const scaled: Mutator[] = [
  edits.addReference(id(6), [
    { x: 0, y: 0, frame: 0 },
    { x: 100, y: 0, frame: 0 },
  ]),
  edits.changeReference(id(6), { length: 1 }),
]
const read = { isDone: true, hasProposal: false, asksCamera: false }

it('is to follow what was found, or to add a body where nothing was', () => {
  expect(nextStep(start, null, { isDone: true, hasProposal: true, asksCamera: false })).toBe('follow')
  expect(nextStep(start, null, read)).toBe('add-body')
})

it('is to say what the camera did where that is asked, before anything is marked', () => {
  const asked = { isDone: true, hasProposal: false, asksCamera: true }
  expect(nextStep(start, null, asked)).toBe('camera')
  expect(nextStep(after(...marked), body, asked)).toBe('scale')
})

it('is to tell how big something is while the clip is read, unless that is known', () => {
  expect(nextStep(start, null, { isDone: false, hasProposal: false, asksCamera: false })).toBe('scale')
  expect(nextStep(after(...scaled), null, { isDone: false, hasProposal: false, asksCamera: false })).toBe(
    'add-body',
  )
})

it('leads from an empty body by its marks and the scale to the graphs', () => {
  expect(nextStep(after(add), body, read)).toBe('mark')
  expect(nextStep(after(...marked), body, read)).toBe('scale')
  expect(nextStep(after(...marked, ...scaled), body, read)).toBe('graphs')
})
