import { describe, expect, it } from 'vitest'
import { IS_SLOW } from '../testing/extent.ts'
import { clutter, type Film, type FilmedBody, filmed } from '../testing/filmed.ts'
import { errorsOf, followed, RATE, rms } from '../testing/followed.ts'
import {
  centroidOf,
  DIRECTIONS,
  Follower,
  footOf,
  grownOutline,
  type Outline,
  OutlineError,
  outlineArea,
  outlineReach,
  partOf,
  pulledOutline,
  RADII,
  recentredOutline,
  roundOutline,
  templateReach,
} from './index.ts'

const SIZE = { width: 320, height: 240 }
/** Of the noise. */
const SEEDS = IS_SLOW ? [1, 2, 3] : [1]

/** Returns a throw across the picture, up to 11 pixels a frame. */
const thrown = (frame: number) => ({ x: 30 + 6.3 * frame, y: 190 - 9.1 * frame + 0.23 * frame * frame })

describe('following', () => {
  it.each(SEEDS)(
    'finds a patterned body to a tenth of a pixel where the picture is clean (seed %i)',
    (seed) => {
      const body: FilmedBody = { radius: 14, at: thrown }
      const seen = followed(filmed({ ...SIZE, frames: 40, bodies: [body], seed }), body)
      const errors = errorsOf(seen, body)
      expect(errors).toHaveLength(39)
      expect(rms(errors)).toBeLessThan(0.1)
    },
  )

  it.each(SEEDS)('finds a streak: half a frame of blur, strong noise, uneven light (seed %i)', (seed) => {
    const body: FilmedBody = { radius: 12, at: thrown }
    const film: Film = { ...SIZE, frames: 40, bodies: [body], shutter: 0.5, noise: 3, seed }
    const seen = followed(filmed({ ...film, lamp: (x) => 0.8 + (0.35 * x) / SIZE.width }), body)
    const errors = errorsOf(seen, body)
    expect(errors.length).toBeGreaterThan(36)
    expect(Math.max(...errors)).toBeLessThan(3)
    expect(rms(errors)).toBeLessThan(0.3)
  })

  it('goes along with a body that grows by 30 % and turns in the picture', () => {
    const body: FilmedBody = {
      radius: 13,
      at: (frame) => ({ x: 40 + 4 * frame, y: 120 + 40 * Math.sin(frame / 9) }),
      scale: (frame) => 1 + 0.0052 * frame,
      turn: (frame) => 0.06 * frame,
    }
    const seen = followed(filmed({ ...SIZE, frames: 58, bodies: [body], noise: 3 }), body)
    const errors = errorsOf(seen, body)
    expect(errors).toHaveLength(57)
    expect(rms(errors)).toBeLessThan(0.3)
    const last = seen.at(-1)
    // Size is not what is asked for; it only has to keep up.
    expect(Math.abs((last?.kind === 'found' ? last.pose.scale : 0) / 1.296 - 1)).toBeLessThan(0.08)
    expect(last?.kind === 'found' && last.pose.turn).toBeCloseTo(0.06 * 57, 1)
  })

  it('follows where the background moves and nothing of it is known', () => {
    const body: FilmedBody = { radius: 14, at: thrown }
    const frames = filmed({
      ...SIZE,
      frames: 40,
      bodies: [body],
      background: (x, y, frame) => clutter(x + 2 * frame, y + 0.7 * frame),
      noise: 3,
    })
    const errors = errorsOf(followed(frames, body, { still: false }), body)
    expect(errors).toHaveLength(39)
    expect(rms(errors)).toBeLessThan(0.3)
  })

  it('follows backwards as it does forwards', () => {
    const body: FilmedBody = { radius: 14, at: (frame) => thrown(39 - frame) }
    const errors = errorsOf(followed(filmed({ ...SIZE, frames: 40, bodies: [body] }), body), body)
    expect(rms(errors)).toBeLessThan(0.1)
  })

  it('says that a body is hidden for six frames, and finds it again', () => {
    const body: FilmedBody = {
      radius: 11,
      at: (frame) => ({ x: 40 + 6 * frame, y: 110 + 0.05 * frame ** 2 }),
    }
    // A post of 58 pixels: wider than the body, which takes six frames to pass behind it unseen.
    const frames = filmed({
      ...SIZE,
      frames: 44,
      bodies: [body],
      front: (x, y) => (x > 126 && x < 184 ? 80 + 15 * Math.sin(y / 3) : null),
    })
    const seen = followed(frames, body)
    const hidden = seen.filter(({ kind }) => kind === 'hidden').length
    expect(hidden).toBeGreaterThanOrEqual(6)
    expect(Math.max(...errorsOf(seen, body))).toBeLessThan(3)
    expect(seen.slice(-12).every(({ kind }) => kind === 'found')).toBe(true)
  })

  it.each(SEEDS)('does not take a look-alike that crosses at 20 pixels for the body (seed %i)', (seed) => {
    const body: FilmedBody = { radius: 9, at: (frame) => ({ x: 40 + 5 * frame, y: 120 }) }
    const other: FilmedBody = { radius: 9, at: (frame) => ({ x: 280 - 5 * frame, y: 140 }) }
    const frames = filmed({ ...SIZE, frames: 46, bodies: [other, body], noise: 3, seed })
    const errors = errorsOf(followed(frames, body), body)
    expect(errors.length).toBeGreaterThan(40)
    expect(Math.max(...errors)).toBeLessThan(3)
  })

  it('stays out of the place of another body that is followed', () => {
    // One of two alike is gone from one frame to the next, and the other is 12 pixels from where it would be.
    const away = { x: -50, y: -50 }
    const body: FilmedBody = {
      radius: 9,
      at: (frame) => (frame < 15 ? { x: 40 + 5 * frame, y: 120 } : away),
    }
    const other: FilmedBody = {
      radius: 9,
      at: (frame) => (frame < 15 ? { x: 180, y: 20 } : { x: 40 + 5 * frame, y: 132 }),
    }
    const frames = filmed({ ...SIZE, frames: 19, bodies: [body, other], noise: 3 })
    const others = (frame: number) => [{ ...other.at(frame), size: other.radius }]
    expect(followed(frames, body).at(14)?.kind).toBe('found')
    const seen = followed(frames, body, { others })
    expect(seen.map(({ kind }) => kind)).toEqual([...Array(14).fill('found'), ...Array(4).fill('hidden')])
    expect(Math.max(...errorsOf(seen.slice(0, 14), body))).toBeLessThan(0.5)
  })

  it('is not found for the first time where something only resembles it', () => {
    const pattern = (u: number, v: number) => Math.sin(5 * u) * Math.cos(4 * v)
    const body: FilmedBody = {
      radius: 10,
      at: (frame) => (frame === 0 ? { x: 60, y: 120 } : { x: -99, y: 0 }),
      light: (u, v) => 130 + 90 * pattern(u, v),
    }
    const like: FilmedBody = {
      radius: 10,
      at: () => ({ x: 96, y: 104 }),
      light: (u, v) => 130 + 90 * (0.55 * pattern(u, v) + 0.45 * Math.sin(3 * v + 1)),
    }
    const frames = filmed({ ...SIZE, frames: 3, bodies: [body, like], noise: 3 })
    const seen = followed(frames, body, { still: false })
    expect(seen.map(({ kind }) => kind)).toEqual(['hidden', 'hidden'])
  })

  it('says that a body has left the picture, and marks nothing beyond it', () => {
    const body: FilmedBody = { radius: 10, at: (frame) => ({ x: 200 + 7 * frame, y: 100 }) }
    const seen = followed(filmed({ ...SIZE, frames: 30, bodies: [body] }), body)
    expect(seen.at(-1)?.kind).toBe('left')
    expect(seen.slice(18).some(({ kind }) => kind === 'found')).toBe(false)
    expect(Math.max(...errorsOf(seen, body))).toBeLessThan(3)
  })

  it('looks for a small body through the whole of a picture after a long time, and finds it far away', () => {
    const body: FilmedBody = {
      radius: 6,
      at: (frame) => (frame < 4 ? { x: 100, y: 100 } : { x: 480, y: 250 }),
    }
    const film = { width: 640, height: 360, bodies: [body], background: () => 60 }
    const frames = filmed({ ...film, frames: 5 })
    const [at, outline] = [body.at(0), roundOutline(6)]
    const follower = new Follower(
      partOf(frames[0], templateReach(at, outline)),
      at,
      0,
      outline,
      null,
      film,
      1 / RATE,
      { persistence: 1, change: 'slowly' },
    )
    for (let frame = 1; frame < 4; frame++)
      expect(follower.see(partOf(frames[frame], follower.reach(frame / RATE).rect), frame / RATE).kind).toBe(
        'found',
      )
    const { radius, rect } = follower.reach(30)
    expect(radius).toBe(640)
    const seen = follower.see(partOf(frames[4], rect), 30)
    expect(seen.kind).toBe('found')
    expect(Math.hypot(seen.at.x - 480, seen.at.y - 250)).toBeLessThan(0.3)
  })

  it('follows an even body by its rim alone', () => {
    const body: FilmedBody = { radius: 10, at: thrown, light: () => 230 }
    const errors = errorsOf(followed(filmed({ ...SIZE, frames: 40, bodies: [body], noise: 3 }), body), body)
    expect(errors).toHaveLength(39)
    expect(rms(errors)).toBeLessThan(0.3)
  })
})

describe('outline', () => {
  it('told from another point of the body is the same line', () => {
    const by = { x: 6, y: -4 }
    const moved = recentredOutline(roundOutline(20), by)!
    moved.radii.forEach((radius, i) => {
      const angle = (2 * Math.PI * i) / moved.radii.length
      const away = Math.hypot(by.x + radius * Math.cos(angle), by.y + radius * Math.sin(angle))
      expect(away).toBeCloseTo(20, 3)
    })
    expect(recentredOutline(roundOutline(20), { x: 25, y: 0 })).toBeNull()
    // The centre of the circle again, and its area as a polygon of 24 corners.
    expect(centroidOf(moved).x).toBeCloseTo(-by.x, 0)
    expect(centroidOf(moved).y).toBeCloseTo(-by.y, 0)
    expect(outlineArea(roundOutline(20))).toBeCloseTo(12 * 400 * Math.sin(Math.PI / 12), 6)
  })

  it('stands on its lowest point, and that is a point of the body', () => {
    const [wide, high] = [30, 18]
    const ellipse = {
      radii: Array.from({ length: DIRECTIONS }, (_, i) => {
        const angle = (2 * Math.PI * i) / DIRECTIONS
        return 1 / Math.hypot(Math.cos(angle) / wide, Math.sin(angle) / high)
      }),
    }
    const foot = footOf(ellipse)
    expect(foot.x).toBeCloseTo(0, 9)
    expect(foot.y).toBeCloseTo(high - RADII.least, 9)
    expect(recentredOutline(ellipse, foot)).not.toBeNull()
  })

  const body: FilmedBody = { radius: 15, at: () => ({ x: 160.3, y: 120.7 }) }

  it('is as large as what was clicked', () => {
    const [frame] = filmed({ ...SIZE, frames: 1, bodies: [body], background: () => 90 })
    const { radii } = grownOutline(partOf(frame, outlineReach(body.at(0))), body.at(0), null)
    for (const radius of radii) expect(Math.abs(radius - 15)).toBeLessThan(2.5)
  })

  it('is refused on a wall where everything looks alike', () => {
    const [frame] = filmed({ ...SIZE, frames: 1, bodies: [], background: () => 140, noise: 2 })
    const at = { x: 100, y: 100 }
    expect(() => grownOutline(partOf(frame, outlineReach(at)), at, null)).toThrow(OutlineError)
  })

  it('is refused outside the picture', () => {
    const [frame] = filmed({ ...SIZE, frames: 1, bodies: [] })
    const at = { x: -4, y: 100 }
    expect(() => grownOutline(partOf(frame, outlineReach(at)), at, null)).toThrow(/outside-picture/)
  })

  it('can be pulled out in one direction, and never inside out', () => {
    const outline: Outline = roundOutline(10)
    expect(pulledOutline(outline, 0, 20).radii[0]).toBe(20)
    expect(pulledOutline(outline, 0, 20).radii[12]).toBeCloseTo(10, 6)
    expect(Math.min(...pulledOutline(outline, 5, -50).radii)).toBeGreaterThan(0)
  })
})
