import { describe, expect, it } from 'vitest'
import { build, footage, id } from '../testing/built.ts'
import { edits, framesInUse, gapsOf } from './index.ts'

const found = (...frames: number[]) =>
  Object.fromEntries(frames.map((frame) => [frame, { x: frame, y: 0, certainty: 1 }]))

const followed = (every: number, ...mutators: Parameters<typeof build>) =>
  build(
    edits.setFootage(footage),
    edits.setSpan({ first: 0, last: 60, every }),
    edits.addBody(id(3), { position: id(4), velocity: id(5) }),
    ...mutators,
  )
const gapsIn = (document: ReturnType<typeof followed>) =>
  gapsOf(document.bodies[id(3)], framesInUse(document))

describe('gaps that following has left', () => {
  it('lie between marks, not before the first or behind the last', () => {
    const document = followed(1, edits.setFollowed(id(3), found(10, 11, 15, 16, 20)))
    expect(gapsIn(document)).toEqual([
      { from: 12, to: 14, count: 3 },
      { from: 17, to: 19, count: 3 },
    ])
  })

  it('count the frames in use only', () => {
    const document = followed(2, edits.setFollowed(id(3), found(10, 12, 20)))
    expect(gapsIn(document)).toEqual([{ from: 14, to: 18, count: 3 }])
  })

  it('are none where a hand has marked now and then, nor where the body rests', () => {
    const byHand = [0, 10, 20].map((frame) => edits.setMark(id(3), frame, { x: frame, y: 1 }))
    expect(gapsIn(followed(1, ...byHand))).toEqual([])
    const rests = followed(
      1,
      edits.setRest(id(3), 5, 14, { x: 1, y: 1 }),
      edits.setFollowed(id(3), found(15, 16)),
    )
    expect(gapsIn(rests)).toEqual([])
  })
})
