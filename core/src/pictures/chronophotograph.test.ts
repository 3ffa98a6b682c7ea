import { expect, it } from 'vitest'
import { type ColourPlane, partOf } from '../following/index.ts'
import type { Point } from '../geometry/index.ts'
import { clutter, filmed } from '../testing/filmed.ts'
import { everyNth, layOver, spreadAperiodically, spreadEvenly, stillGround } from './index.ts'

const SIZE = { width: 160, height: 90 }
const RADIUS = 7
const FRAMES = 9
const at = (frame: number): Point => ({ x: 20 + 15 * frame, y: 60 - 4 * frame })

/** Returns a red ball that flies over a grey quay. */
function film(shift = 0): ColourPlane[] {
  const channel = (value: number, seed: number) =>
    filmed({
      ...SIZE,
      frames: FRAMES,
      noise: 1,
      seed,
      background: (x, y, frame) => clutter(x + shift * frame, y),
      bodies: [{ radius: RADIUS, at, light: () => value }],
    })
  const [red, green, blue] = [channel(230, 1), channel(40, 2), channel(30, 3)]
  return red.map(({ data }, frame) => ({
    x: 0,
    y: 0,
    ...SIZE,
    data: Uint8Array.from({ length: 4 * SIZE.width * SIZE.height }, (_, i) =>
      i % 4 === 3 ? 255 : [data, green[frame].data, blue[frame].data][i % 4][i >> 2],
    ),
  }))
}

const around = (frame: ColourPlane, { x, y }: Point, radius: number) =>
  partOf(
    frame,
    {
      x: Math.floor(x - radius),
      y: Math.floor(y - radius),
      width: 2 * Math.ceil(radius) + 1,
      height: 2 * Math.ceil(radius) + 1,
    },
    4,
  )
const pixel = ({ data, width }: ColourPlane, x: number, y: number) => {
  const start = 4 * (Math.floor(y) * width + Math.floor(x))
  return [...data.slice(start, start + 3)]
}

it('shows the body at all of its places, and the ground as it is everywhere else', () => {
  const frames = film()
  const ground = stillGround(frames)
  const picture = { ...ground, data: ground.data.slice() }
  frames.forEach((frame, i) => {
    layOver(picture, around(frame, at(i), 18), ground, { from: at(i), to: at(i), radius: 18 })
  })
  for (let frame = 0; frame < FRAMES; frame++) {
    for (const [dx, dy] of [
      [0, 0],
      [4, 0],
      [0, -4],
      [-3, 3],
    ]) {
      const [red, green] = pixel(picture, at(frame).x + dx, at(frame).y + dy)
      expect(red).toBeGreaterThan(200)
      expect(green).toBeLessThan(70)
    }
  }
  // Clear of all places it is the quay.
  for (let y = 0; y < SIZE.height; y++)
    for (let x = 0; x < SIZE.width; x++) {
      const isNear = Array.from({ length: FRAMES }, (_, frame) => at(frame)).some(
        (place) => Math.hypot(place.x - x - 0.5, place.y - y - 0.5) < RADIUS + 4,
      )
      if (!isNear) expect(Math.abs(pixel(picture, x, y)[0] - clutter(x, y))).toBeLessThan(7)
    }
})

it('lays what a moving camera has seen at the spot where it belongs', () => {
  const frames = film(2)
  const base = frames[4]
  const picture = { ...base, data: base.data.slice() }
  const to = { x: at(0).x - 8, y: at(0).y }
  layOver(picture, around(frames[0], at(0), 12), null, { from: at(0), to, radius: 12 })
  expect(pixel(picture, to.x, to.y)[0]).toBeGreaterThan(200)
  expect(pixel(picture, to.x, to.y)[1]).toBeLessThan(70)
  expect(pixel(picture, to.x + 14, to.y)).toEqual(pixel(base, to.x + 14, to.y))
})

it('goes over the rim of the picture without a fault', () => {
  const [frame] = film()
  const ground = stillGround(film())
  const picture = { ...ground, data: ground.data.slice() }
  layOver(picture, around(frame, { x: 2, y: 2 }, 30), ground, {
    from: { x: 2, y: 2 },
    to: { x: -3, y: -3 },
    radius: 30,
  })
  expect(picture.data).toHaveLength(ground.data.length)
})

it('takes every n-th mark, the first among them', () => {
  expect(everyNth([3, 4, 5, 6, 7], 2)).toEqual([3, 5, 7])
  expect(everyNth([3, 4], 0)).toEqual([3, 4])
})

it('frames are spread evenly, each once, with the first and the last among them', () => {
  expect(spreadEvenly([10, 12, 14, 16, 18], 3)).toEqual([10, 14, 18])
  expect(spreadEvenly([10, 12], 15)).toEqual([10, 12])
  expect(spreadEvenly([7], 15)).toEqual([7])
  expect(spreadEvenly([7, 8], 1)).toEqual([7])
  expect(spreadEvenly([], 15)).toEqual([])
})

it('some of many things are picked from all parts of them, and in time with nothing that comes again and again', () => {
  const frames = Array.from({ length: 400 }, (_, i) => i)
  const picked = spreadAperiodically(frames, 21)
  expect(picked).toHaveLength(21)
  for (const [i, frame] of picked.entries()) {
    expect(frame).toBeGreaterThanOrEqual(Math.floor((i * 400) / 21))
    expect(frame).toBeLessThan(Math.floor(((i + 1) * 400) / 21))
  }
  // Of a swing of any period that fits more than twice into the film, few are near one phase; evenly spread ones can all be.
  const most = (list: number[], period: number) =>
    Math.max(
      ...frames.map(
        (phase) =>
          list.filter((frame) => Math.abs((((frame - phase) / period + 0.5) % 1) - 0.5) < 0.08).length,
      ),
    )
  const periods = Array.from({ length: 180 }, (_, i) => 10 + i)
  expect(Math.max(...periods.map((period) => most(picked, period)))).toBeLessThan(11)
  expect(Math.max(...periods.map((period) => most(spreadEvenly(frames, 21), period)))).toBeGreaterThan(15)
  expect(spreadAperiodically([3, 1, 2], 5)).toEqual([3, 1, 2])
})
