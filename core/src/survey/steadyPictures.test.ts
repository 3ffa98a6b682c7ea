import { describe, expect, it } from 'vitest'
import { similarityStep } from '../geometry/index.ts'
import { normalSource, randomSource } from '../random/index.ts'
import { CameraFollower, proposedCamera } from './cameraMotion.ts'
import { fixedSpots } from './fixedSpots.ts'
import type { SmallPicture } from './moverMask.ts'
import { findMovers } from './movers.ts'
import { steadyPictures } from './steadyPictures.ts'

const [WIDTH, HEIGHT] = [240, 136]
const FRAMES = 60

/** Stones in a wall, lighter and darker than it. */
const random = randomSource(3)
const STONES = Array.from({ length: 1200 }, () => ({
  x: 600 * random() - 180,
  y: 400 * random() - 130,
  radius: 3 + 4 * random(),
  light: random() < 0.5 ? -45 : 45,
}))
const CELL = 20
const cellOf = (x: number, y: number) => `${Math.floor(x / CELL)} ${Math.floor(y / CELL)}`
const byCell = new Map<string, typeof STONES>()
for (const stone of STONES)
  for (let dx = -1; dx <= 1; dx++)
    for (let dy = -1; dy <= 1; dy++) {
      const cell = cellOf(stone.x + dx * CELL, stone.y + dy * CELL)
      byCell.set(cell, [...(byCell.get(cell) ?? []), stone])
    }
const wall = (x: number, y: number) =>
  (byCell.get(cellOf(x, y)) ?? []).reduce(
    (sum, stone) =>
      sum + stone.light * Math.exp(-(((x - stone.x) ** 2 + (y - stone.y) ** 2) / stone.radius ** 2)),
    120,
  )

/** A camera that pans to the right and up and zooms out: where a point of the first picture is in a frame. */
const camera = (frame: number) => {
  const zoom = 1 - 0.006 * frame
  return {
    a: zoom,
    b: 0,
    x: WIDTH / 2 - zoom * (WIDTH / 2 + 0.8 * frame),
    y: HEIGHT / 2 - zoom * (HEIGHT / 2 - 0.5 * frame),
  }
}
/** A disc of eight pixels that falls, in the first picture's coordinates. */
const falls = (frame: number) => ({ x: 130 + 0.7 * frame, y: 20 + 0.03 * frame * frame })
const RADIUS = 8

const noise = normalSource(randomSource(9))
const pictures: SmallPicture[] = Array.from({ length: FRAMES }, (_, frame) => {
  const { backward } = similarityStep(camera(frame))
  const body = falls(frame)
  const data = new Uint8Array(WIDTH * HEIGHT)
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const at = backward({ x: x + 0.5, y: y + 0.5 })
      const isBody = Math.hypot(at.x - body.x, at.y - body.y) < RADIUS
      data[y * WIDTH + x] = (isBody ? 220 : wall(at.x, at.y)) + 1.5 * noise()
    }
  return { luma: { width: WIDTH, height: HEIGHT, data }, blue: null, red: null }
})

describe('a camera that pans and zooms out after a falling body', async () => {
  const follower = new CameraFollower()
  for (const { luma } of pictures) follower.add(luma)
  const steady = (await steadyPictures(pictures, follower.motions))!

  it('is known frame by frame', () => {
    expect(proposedCamera(follower.result()!)).toBe('zoomed')
    for (const corner of [
      { x: 30, y: 30 },
      { x: 200, y: 110 },
    ]) {
      const found = similarityStep(follower.motions[FRAMES - 1]).forward(corner)
      const truth = similarityStep(camera(FRAMES - 1)).forward(corner)
      expect(Math.hypot(found.x - truth.x, found.y - truth.y)).toBeLessThan(1.5)
    }
  })

  it('has the body found where it truly is in each picture, and nothing else', async () => {
    const movers = await findMovers(steady.pictures, undefined, true)
    expect(movers).toHaveLength(1)
    const { sightings, best, outline } = steady.asFilmed(movers[0])
    expect(sightings.length).toBeGreaterThan(0.8 * FRAMES)
    for (const { at, x, y } of sightings) {
      const truth = similarityStep(camera(at)).forward(falls(at))
      expect(Math.hypot(x - truth.x, y - truth.y)).toBeLessThan(2.5)
    }
    const radius = outline.radii.reduce((sum, one) => sum + one, 0) / outline.radii.length
    expect(Math.abs(radius / (RADIUS * camera(best.at).a) - 1)).toBeLessThan(0.25)
  })

  it('shows fixed spots that are told in every picture, far apart and away from the body', async () => {
    const movers = await findMovers(steady.pictures, undefined, true)
    const spots = fixedSpots(steady, movers)
    expect(spots.length).toBeGreaterThanOrEqual(3)
    for (const [i, spot] of spots.entries()) {
      // It is one spot of the scene.
      const places = spot.map((place, frame) => similarityStep(camera(frame)).backward(place))
      for (const { x, y } of places) expect(Math.hypot(x - places[0].x, y - places[0].y)).toBeLessThan(3)
      for (const [frame, { x, y }] of spot.entries()) {
        expect(Math.min(x, y, WIDTH - x, HEIGHT - y)).toBeGreaterThan(4)
        const body = similarityStep(camera(frame)).forward(falls(frame))
        expect(Math.hypot(x - body.x, y - body.y)).toBeGreaterThan(RADIUS * camera(frame).a)
      }
      for (const other of spots.slice(0, i))
        expect(Math.hypot(other[0].x - spot[0].x, other[0].y - spot[0].y)).toBeGreaterThan(0.1 * WIDTH)
    }
  })

  it('is given up where it goes too far', async () => {
    const far = pictures.map((_, i) => ({ a: 1, b: 0, x: -40 * i, y: 0 }))
    expect(await steadyPictures(pictures, far)).toBeNull()
  })
})
