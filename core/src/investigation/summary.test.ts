import { describe, expect, it } from 'vitest'
import { full } from '../testing/built.ts'
import { edit, edits, type Mutator, readInvestigation, summarise } from './index.ts'

describe('an investigation', () => {
  it('is summed up for its card', () => {
    expect(summarise(full())).toEqual({
      footage: true,
      span: true,
      scale: true,
      axes: true,
      bodies: 1,
      marks: 2,
      fits: 1,
    })
  })

  it('counts its marks anew where they, or the frames in use, have changed', () => {
    const [body] = Object.keys(full().bodies)
    const marks = (...mutators: Mutator[]) =>
      summarise(mutators.reduce((document, mutator) => edit(document, mutator).document, sound)).marks
    const sound = readInvestigation(full())
    expect(marks()).toBe(2)
    expect(marks(edits.setMark(body, 14, { x: 1, y: 2 }))).toBe(3)
    expect(marks(edits.setSpan({ first: 12, last: 60, every: 2 }))).toBe(1)
    expect(
      marks(edits.setSpan({ first: 12, last: 60, every: 2 }), edits.setMark(body, 14, { x: 1, y: 2 })),
    ).toBe(2)
    expect(marks()).toBe(2)
  })
})
