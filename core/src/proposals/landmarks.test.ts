import { expect, it } from 'vitest'
import { roundOutline } from '../following/index.ts'
import { edit, edits } from '../investigation/index.ts'
import type { SeenMover } from '../survey/index.ts'
import { build, footage, id } from '../testing/built.ts'
import { takeCamera } from './landmarks.ts'

/** A spot that a panning camera sees go left by 2 px a frame. */
const spot = (x: number, y: number): SeenMover => ({
  path: Array.from({ length: 50 }, (_, frame) => ({ frame, x: x - 2 * frame, y })),
  best: 0,
  outline: roundOutline(3),
})
const before = build(edits.setFootage(footage))
const spots = [spot(300, 80), spot(500, 200)]
const ids = [id(21), id(22)]
const taken = (...given: Parameters<typeof takeCamera>) =>
  edit(given[0], takeCamera(...given)).document.camera

it('what the camera did comes with its landmarks, marked in the frame from which they are followed', () => {
  const { motion, landmarks } = taken(before, 'zoomed', spots, 20, ids)
  expect(motion).toBe('zoomed')
  expect(Object.keys(landmarks)).toEqual(ids)
  expect(landmarks[ids[0]].marks[20]).toMatchObject({ x: 260, y: 80 })
  expect(landmarks[ids[1]].marks[20]).toMatchObject({ x: 460, y: 200 })
})

it('is only the answer where there are too few spots, none in that frame, or landmarks already', () => {
  expect(taken(before, 'zoomed', spots.slice(1), 20, ids)).toMatchObject({ motion: 'zoomed', landmarks: {} })
  expect(Object.keys(taken(before, 'turned', spots.slice(1), 20, ids).landmarks)).toEqual([ids[0]])
  expect(taken(before, 'zoomed', spots, 70, ids).landmarks).toEqual({})
  const still = edit(before, edits.setCameraMotion('turned')).document
  expect(taken(still, 'still', spots, 20, ids)).toMatchObject({ motion: 'still', landmarks: {} })
  const own = edit(before, edits.addLandmark(id(30), 5, { x: 1, y: 2, error: 0.5 })).document
  expect(Object.keys(taken(own, 'zoomed', spots, 20, ids).landmarks)).toEqual([id(30)])
})

it('lies where the spots are in a picture that was turned', () => {
  const turned = edit(before, edits.turnPicture('right')).document
  const { landmarks } = taken(turned, 'zoomed', spots, 0, ids)
  // A picture of 640 x 480, turned to the right: what was left is above, what was above is right.
  expect(landmarks[ids[0]].marks[0]).toMatchObject({ x: footage.height - 80, y: 300 })
})
