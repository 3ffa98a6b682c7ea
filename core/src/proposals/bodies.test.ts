import { expect, it } from 'vitest'
import { roundOutline } from '../following/index.ts'
import { edit, edits, type Mutator } from '../investigation/index.ts'
import type { CameraSurvey, SeenMover } from '../survey/index.ts'
import { build, footage, id } from '../testing/built.ts'
import { placeOfProposed, proposedBodies } from './bodies.ts'

/** A body of 20 px that goes right by 10 px a frame, and is not seen in frame 23. */
const mover: SeenMover = {
  path: [20, 21, 22, 24, 25].map((frame) => ({ frame, x: 10 * frame, y: 300 })),
  best: 22,
  outline: roundOutline(10),
}
const before = build(edits.setFootage(footage), edits.addBody(id(3), { position: id(4), velocity: id(5) }))
const proposed = (...mutators: Mutator[]) => proposedBy(null, ...mutators)
const proposedBy = (camera: CameraSurvey | null, ...mutators: Mutator[]) =>
  proposedBodies(
    mutators.reduce((document, mutator) => edit(document, mutator).document, before),
    { movers: [mover], camera },
  )

it('what moves is proposed with its best place, and known between its sightings alone', () => {
  const [body] = proposed()
  expect(body.best).toEqual({ frame: 22, x: 220, y: 300 })
  expect(placeOfProposed(body, 23)).toEqual({ x: 230, y: 300 })
  expect(placeOfProposed(body, 25)).toEqual({ x: 250, y: 300 })
  expect(placeOfProposed(body, 19)).toBeNull()
  expect(placeOfProposed(body, 26)).toBeNull()
})

it('what was refused is not proposed again, also when the picture is turned', () => {
  const refuse = edits.refuse(id(9), { kind: 'body', frame: 22, x: 224, y: 304 })
  expect(proposed(refuse)).toEqual([])
  expect(proposed(edits.turnPicture('right'))[0].best).toEqual({ frame: 22, x: 420, y: 220 })
  expect(proposed(refuse, edits.turnPicture('right'), edits.turnPicture('mirror'))).toEqual([])
  expect(proposed(edits.refuse(id(9), { kind: 'body', frame: 22, x: 240, y: 300 }))).toHaveLength(1)
})

it('what is marked is not proposed; a body somewhere else, or at the place at another time, does not matter', () => {
  const mark = (frame: number, x: number) => edits.setMark(id(3), frame, { x, y: 302 })
  expect(proposed(mark(21, 211), mark(25, 249))).toEqual([])
  expect(proposed(mark(21, 400), mark(25, 440))).toHaveLength(1)
  expect(proposed(mark(60, 250))).toHaveLength(1)
})

it('nothing is proposed without footage, nor before it is said what a camera did that moved', () => {
  expect(proposedBodies(build(), { movers: [mover], camera: null })).toEqual([])
  const turned = { shift: 0.2, zoom: 0, roll: 0 }
  expect(proposedBy({ ...turned, shift: 0 })).toHaveLength(1)
  expect(proposedBy(turned)).toEqual([])
  expect(proposedBy(turned, edits.setCameraMotion('turned'))).toHaveLength(1)
  expect(proposedBy(turned, edits.refuse(id(9), { kind: 'camera' }))).toHaveLength(1)
})
