import { describe, expect, it } from 'vitest'
import { defaultWay, framesAlong } from './followWays.ts'

const frames = [10, 12, 14, 16, 18]
const marked = (...list: number[]) => ({
  marks: Object.fromEntries(list.map((frame) => [frame, { x: 1, y: 1, by: 'hand' as const }])),
})

describe('the way that a body is followed', () => {
  it('is both ways from the middle', () => {
    expect(defaultWay(marked(14), frames, 14)).toBe('both')
    expect(defaultWay(marked(10, 14, 18), frames, 14)).toBe('both')
  })

  it('is the only way that there is from an end of the span', () => {
    expect(defaultWay(marked(10), frames, 10)).toBe('on')
    expect(defaultWay(marked(18), frames, 18)).toBe('back')
    expect(defaultWay(marked(10), [10], 10)).toBe('on')
  })

  it('is on where a run is continued or repeated', () => {
    expect(defaultWay(marked(12, 14), frames, 14)).toBe('on')
    expect(defaultWay(marked(14, 16), frames, 14)).toBe('on')
    expect(defaultWay(marked(12, 14, 16), frames, 14)).toBe('on')
  })

  it('is on where the body rests before', () => {
    const rests = { marks: { 10: { x: 1, y: 1, by: 'hand' as const, until: 12 }, ...marked(14).marks } }
    expect(defaultWay(rests, frames, 14)).toBe('on')
  })
})

describe('frames along a way', () => {
  it('come in the order in which they are gone through, without the start', () => {
    expect(framesAlong('on', frames, 14)).toEqual([16, 18])
    expect(framesAlong('back', frames, 14)).toEqual([12, 10])
    expect(framesAlong('back', frames, 10)).toEqual([])
  })
})
