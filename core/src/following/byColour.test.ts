import { describe, expect, it } from 'vitest'
import type { Point } from '../geometry/index.ts'
import { clutter, filmed } from '../testing/filmed.ts'
import {
  ColourFollower,
  type ColourPlane,
  colourReach,
  OutlineError,
  partOf,
  type Rect,
  type Sighting,
} from './index.ts'

const SIZE = { width: 200, height: 150 }
const RATE = 30
const ORANGE = [214, 98, 47]

/** Returns a cluttered quay in grey and brown with round stickers, as red, green and blue: what is orange shines through by its cover. */
function coloured(
  frames: number,
  stickers: { at: (frame: number) => Point; radius: number }[],
  options: {
    noise?: number
    shutter?: number
    seed?: number
    ground?: number[]
    lamp?: (frame: number) => number
  } = {},
): ColourPlane[] {
  const { noise = 2, shutter = 0, seed = 1, ground = [1, 0.94, 0.84], lamp = () => 1 } = options
  const bodies = (value: number) => stickers.map(({ at, radius }) => ({ at, radius, light: () => value }))
  const channels = [0, 1, 2].map((channel) =>
    filmed({
      ...SIZE,
      frames,
      noise,
      shutter,
      seed: seed + 10 * channel,
      background: (x, y) => ground[channel] * clutter(x, y),
      bodies: bodies(ORANGE[channel]),
    }),
  )
  return Array.from({ length: frames }, (_, frame) => {
    const data = new Uint8Array(4 * SIZE.width * SIZE.height)
    for (let i = 0; i < SIZE.width * SIZE.height; i++)
      for (const channel of [0, 1, 2])
        data[4 * i + channel] = Math.min(255, lamp(frame) * channels[channel][frame].data[i])
    return { x: 0, y: 0, ...SIZE, data }
  })
}

const part = (plane: ColourPlane, within: Rect) => partOf(plane, within, 4)

function followed(frames: ColourPlane[], at: Point): Sighting[] {
  const follower = new ColourFollower(part(frames[0], colourReach(at)), at, 0, SIZE, {
    persistence: 0.5,
    change: 'slowly',
  })
  return frames.slice(1).map((frame, i) => {
    const time = (i + 1) / RATE
    const seen = follower.see(part(frame, follower.reach(time).rect), time)
    if (seen.kind !== 'hidden') return seen
    follower.widen()
    return follower.see(part(frame, follower.reach(time).rect), time)
  })
}

const thrown = (frame: number): Point => ({
  x: 20 + 5 * frame,
  y: 120 - 9 * frame + 0.26 * frame * frame,
})
const rms = (seen: Sighting[], at: (frame: number) => Point) =>
  Math.sqrt(
    seen.reduce((sum, one, i) => {
      const truth = at(i + 1)
      return sum + (one.at.x - truth.x) ** 2 + (one.at.y - truth.y) ** 2
    }, 0) / seen.length,
  )

describe('following by colour', () => {
  it.each([1, 2])('is right to a fifth of a pixel where it is clean (seed %s)', (seed) => {
    const seen = followed(coloured(34, [{ at: thrown, radius: 7 }], { seed }), thrown(0))
    expect(seen.every(({ kind }) => kind === 'found')).toBe(true)
    expect(rms(seen, thrown)).toBeLessThan(0.2)
  })

  it('holds where the body is smeared, noisy, and the light goes down by a third', () => {
    const options = { noise: 3, shutter: 0.5, lamp: (frame: number) => 1 - frame / 100 }
    const seen = followed(coloured(34, [{ at: thrown, radius: 8 }], options), thrown(0))
    expect(seen.every(({ kind }) => kind === 'found')).toBe(true)
    expect(rms(seen, thrown)).toBeLessThan(0.3)
  })

  it('reports the point that was clicked, not the middle of the colour', () => {
    const clicked = { x: thrown(0).x + 3, y: thrown(0).y - 2 }
    const seen = followed(coloured(20, [{ at: thrown, radius: 8 }]), clicked)
    const [last] = seen.slice(-1)
    expect(Math.hypot(last.at.x - thrown(19).x - 3, last.at.y - thrown(19).y + 2)).toBeLessThan(0.5)
  })

  it('says that it is hidden, and finds it again', () => {
    const isHidden = (frame: number) => frame >= 12 && frame < 18
    const at = (frame: number) => (isHidden(frame) ? { x: -100, y: -100 } : thrown(frame))
    const seen = followed(coloured(30, [{ at, radius: 7 }]), thrown(0))
    seen.forEach(({ kind }, i) => {
      expect(kind).toBe(isHidden(i + 1) ? 'hidden' : 'found')
    })
  })

  it('does not take another of its colour far off for it while it is hidden', () => {
    const isHidden = (frame: number) => frame >= 12 && frame < 20
    const at = (frame: number) => (isHidden(frame) ? { x: -100, y: -100 } : thrown(frame))
    const rests = () => ({ x: 170, y: 20 })
    const seen = followed(
      coloured(30, [
        { at, radius: 7 },
        { at: rests, radius: 7 },
      ]),
      thrown(0),
    )
    for (const [i, one] of seen.entries())
      if (one.kind === 'found')
        expect(Math.hypot(one.at.x - thrown(i + 1).x, one.at.y - thrown(i + 1).y)).toBeLessThan(3)
    expect(seen.slice(-8).every(({ kind }) => kind === 'found')).toBe(true)
  })

  it('does not take another of its colour that crosses its way for it', () => {
    const straight = (frame: number) => ({ x: 20 + 5 * frame, y: 80 })
    const jumps = (frame: number) => ({ x: 180 - 5 * frame, y: 92 })
    const seen = followed(
      coloured(30, [
        { at: straight, radius: 6 },
        { at: jumps, radius: 6 },
      ]),
      straight(0),
    )
    for (const [i, one] of seen.entries())
      if (one.kind === 'found')
        expect(Math.hypot(one.at.x - straight(i + 1).x, one.at.y - 80)).toBeLessThan(3)
  })

  it('refuses a colour that is all around, and knows when it has left', () => {
    const grey = coloured(1, [], { ground: [1, 1, 1] })
    const at = { x: 100, y: 75 }
    const follow = () =>
      new ColourFollower(part(grey[0], colourReach(at)), at, 0, SIZE, { persistence: 0.5, change: 'slowly' })
    expect(follow).toThrow(OutlineError)
    const leaves = (frame: number) => ({ x: 120 + 9 * frame, y: 75 })
    const seen = followed(coloured(20, [{ at: leaves, radius: 7 }]), leaves(0))
    expect(seen.at(-1)!.kind).not.toBe('found')
    expect(seen.some(({ kind }) => kind === 'left')).toBe(true)
  })
})
