import { describe, expect, it } from 'vitest'
import { normalSource, randomSource } from '../random/index.ts'
import type { SmallPicture } from './moverMask.ts'
import { findMovers, type Mover } from './movers.ts'

const [WIDTH, HEIGHT] = [160, 90]
const FRAMES = 60

/** What is drawn on a picture: returns how much brighter a pixel is, and how much of colour it has. */
type Painter = (x: number, y: number, frame: number) => { light?: number; colour?: number }

/** Returns pictures of a textured wall with noise, and what is painted over it. */
function filmed(...painters: Painter[]): SmallPicture[] {
  const noise = normalSource(randomSource(7))
  return Array.from({ length: FRAMES }, (_, frame) => {
    const luma = new Uint8Array(WIDTH * HEIGHT)
    const red = new Uint8Array((WIDTH / 2) * (HEIGHT / 2))
    for (let y = 0; y < HEIGHT; y++)
      for (let x = 0; x < WIDTH; x++) {
        const wall = 110 + 25 * Math.sin(x / 5) * Math.cos(y / 7)
        const painted = painters.reduce((sum, paint) => sum + (paint(x + 0.5, y + 0.5, frame).light ?? 0), 0)
        luma[y * WIDTH + x] = wall + painted + 2 * noise()
      }
    for (let y = 0; y < HEIGHT / 2; y++)
      for (let x = 0; x < WIDTH / 2; x++) {
        const painted = painters.reduce(
          (sum, paint) => sum + (paint(2 * x + 1, 2 * y + 1, frame).colour ?? 0),
          0,
        )
        red[(y * WIDTH) / 2 + x] = 128 + painted + noise()
      }
    return {
      luma: { width: WIDTH, height: HEIGHT, data: luma },
      blue: null,
      red: { width: WIDTH / 2, height: HEIGHT / 2, data: red },
    }
  })
}

/** A disc on a path. */
const disc =
  (path: (frame: number) => { x: number; y: number }, radius: number, look: ReturnType<Painter>): Painter =>
  (x, y, frame) => {
    const at = path(frame)
    return Math.hypot(x - at.x, y - at.y) < radius ? look : {}
  }
/** A throw across the picture between frames 10 and 50. */
const thrown = (frame: number) => {
  const t = (frame - 10) / 40
  return t < 0 || t > 1 ? { x: -50, y: -50 } : { x: 15 + 130 * t, y: 75 - 240 * t * (1 - t) }
}

/** Returns the largest distance of a mover from a path. */
const off = (mover: Mover, path: typeof thrown) =>
  Math.max(...mover.sightings.map(({ at, x, y }) => Math.hypot(x - path(at).x, y - path(at).y)))

describe('what moves', () => {
  it('is a thrown body, from where it comes in to where it goes', async () => {
    const [first, ...others] = await findMovers(filmed(disc(thrown, 5, { light: 60 })))
    expect(others).toEqual([])
    expect(first.sightings[0].at).toBeLessThanOrEqual(11)
    expect(first.sightings[first.sightings.length - 1].at).toBeGreaterThanOrEqual(49)
    expect(off(first, thrown)).toBeLessThan(1.5)
    expect(first.sightings[20].area).toBeGreaterThan(60)
    expect(first.sightings[20].area).toBeLessThan(100)
    for (const radius of first.outline.radii) {
      expect(radius).toBeGreaterThan(3.5)
      expect(radius).toBeLessThan(6.5)
    }
    // Slow at the top of its way, and wholly in the picture.
    expect(first.best.at).toBeGreaterThan(20)
    expect(first.best.at).toBeLessThan(40)
  })

  it('is a body that differs from the wall in its colour alone', async () => {
    const [first] = await findMovers(filmed(disc(thrown, 5, { colour: 30 })))
    expect(off(first, thrown)).toBeLessThan(1.5)
  })

  it('is nothing where nothing moves', async () => {
    expect(await findMovers(filmed())).toEqual([])
    expect(await findMovers(filmed(disc(() => ({ x: 80, y: 40 }), 6, { light: 60 })))).toEqual([])
    expect(await findMovers(filmed().slice(0, 5))).toEqual([])
    expect(await findMovers([])).toEqual([])
  })

  it('is no flag that waves, and no lamp that is switched on', async () => {
    const flag: Painter = (x, y, frame) =>
      x > 20 && x < 45 && y > 10 + 3 * Math.sin(frame / 2 + x / 4) && y < 25 + 3 * Math.sin(frame / 2 + x / 4)
        ? { light: 50 }
        : {}
    const lamp: Painter = (_x, y, frame) => (frame > 30 && y < 30 ? { light: 20 } : {})
    expect(await findMovers(filmed(flag))).toEqual([])
    expect(await findMovers(filmed(lamp))).toEqual([])
    const [first] = await findMovers(filmed(flag, disc(thrown, 5, { light: -60 })))
    expect(off(first, thrown)).toBeLessThan(1.5)
  })

  it('is both of two bodies that meet, and the bob of a pendulum without its string', async () => {
    const left = (frame: number) => ({ x: 10 + 1.1 * frame, y: 60 })
    const right = (frame: number) => ({ x: 150 - 1.1 * frame, y: 45 })
    const two = await findMovers(filmed(disc(left, 5, { light: 60 }), disc(right, 4, { light: -50 })))
    expect(two).toHaveLength(2)
    for (const path of [left, right])
      expect(Math.min(...two.map((mover) => off(mover, path)))).toBeLessThan(2)

    const bob = (frame: number) => {
      const angle = 0.6 * Math.cos(frame / 6)
      return { x: 80 + 65 * Math.sin(angle), y: 5 + 65 * Math.cos(angle) }
    }
    const string: Painter = (x, y, frame) => {
      const { x: u, y: v } = bob(frame)
      const along = ((x - 80) * (u - 80) + (y - 5) * (v - 5)) / 65 ** 2
      const beside = Math.abs((x - 80) * (v - 5) - (y - 5) * (u - 80)) / 65
      return along > 0 && along < 1 && beside < 0.6 ? { light: -60 } : {}
    }
    const [swinging] = await findMovers(filmed(string, disc(bob, 5, { light: -60 })))
    expect(off(swinging, bob)).toBeLessThan(2)
  })

  it('keeps to the body once a hand has let it go', async () => {
    const held = { x: 30, y: 60 }
    const path = (frame: number) =>
      frame < 20 ? held : { x: 30 + 3 * (frame - 20), y: 60 - 2.6 * (frame - 20) + 0.07 * (frame - 20) ** 2 }
    const arm: Painter = (x, y, frame) => {
      const reach = frame < 20 ? Math.min(30, 2 * frame) : 30 - 3 * (frame - 20)
      return x < reach && Math.abs(y - 60) < 4 ? { light: 40 } : {}
    }
    const [first] = await findMovers(filmed(arm, disc(path, 5, { light: 60 })))
    expect(first.sightings[0].at).toBeGreaterThanOrEqual(19)
    expect(first.sightings.length).toBeGreaterThan(30)
    expect(off(first, path)).toBeLessThan(3)
  })
})
