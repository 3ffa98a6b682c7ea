import { describe, expect, it } from 'vitest'
import { randomSource } from '../random/index.ts'
import { IS_SLOW } from '../testing/extent.ts'
import { type Stick, stickPicture } from '../testing/stickPicture.ts'
import { SNAP_REACH, snapEnd } from './index.ts'

/** A picture around the end of a stick that reaches out of it. */
const SIZE = [72, 72] as const
const red = [190, 60, 50] as const
const white = [225, 220, 210] as const
const sky = [150, 175, 190] as const
const wood = [150, 110, 70] as const

const REPEATS = IS_SLOW ? 300 : 40

/** Returns a stick that is turned and shifted by chance. */
function randomStick(seed: number, change: Partial<Stick> = {}): Stick {
  const random = randomSource(seed)
  const angle = 2 * Math.PI * random()
  const length = 120 + 60 * random()
  const to = { x: 36 + random(), y: 36 + random() }
  const kinds = [
    { colours: [red, white], stripes: 4 },
    { colours: [wood], stripes: 1 },
    { colours: [white, [40, 40, 40] as const], stripes: 5 },
  ]
  return {
    from: { x: to.x - length * Math.cos(angle), y: to.y - length * Math.sin(angle) },
    to,
    width: 7 + 5 * random(),
    ...kinds[seed % kinds.length],
    ground: sky,
    blur: 0.5 + 1.2 * random(),
    noise: 1 + 3 * random(),
    quantisation: [0, 8, 16][Math.floor(3 * random())],
    seed,
    ...change,
  }
}

/** Draws an end off its place, and returns by how much it is off along the stick after it snapped, with its stated error. */
function snapped(stick: Stick, off: { along: number; across: number }) {
  const { from, to } = stick
  const length = Math.hypot(to.x - from.x, to.y - from.y)
  const [ux, uy] = [(to.x - from.x) / length, (to.y - from.y) / length]
  const drawn = { x: to.x + off.along * ux - off.across * uy, y: to.y + off.along * uy + off.across * ux }
  const found = snapEnd(stickPicture(stick, ...SIZE), drawn, from)
  return (
    found && {
      off: (found.x - to.x) * ux + (found.y - to.y) * uy,
      moved: Math.hypot(found.x - drawn.x, found.y - drawn.y),
      error: found.error,
    }
  )
}

describe('an end that is drawn 4 px off', () => {
  it('snaps to the end of the stick to 0.3 px, with an error that holds to a factor of 1.5', () => {
    const random = randomSource(99)
    const all = Array.from({ length: REPEATS }, (_, seed) => {
      const turn = 2 * Math.PI * random()
      return snapped(randomStick(seed), { along: 4 * Math.cos(turn), across: 0.5 * 4 * Math.sin(turn) })
    })
    const found = all.filter((one) => one !== null)
    expect(found.length).toBeGreaterThanOrEqual(0.95 * REPEATS)
    const rms = (of: (one: { off: number; error: number }) => number) =>
      Math.sqrt(found.reduce((sum, one) => sum + of(one) ** 2, 0) / found.length)
    expect(rms(({ off }) => off)).toBeLessThan(0.3)
    const ratio = rms(({ off }) => off) / rms(({ error }) => error)
    expect(ratio).toBeGreaterThan(1 / 1.5)
    expect(ratio).toBeLessThan(1.5)
  })

  it('is never moved more than 8 px', () => {
    for (let seed = 0; seed < 12; seed++)
      for (const along of [-14, -9, 7.5, 9, 13]) {
        const found = snapped(randomStick(seed), { along, across: 0 })
        if (found) expect(found.moved).toBeLessThanOrEqual(SNAP_REACH)
      }
  })

  it('stays where nothing stands out, and at the border of the picture', () => {
    const plain = randomStick(3, { colours: [sky], noise: 3, quantisation: 8 })
    expect(snapped(plain, { along: 0, across: 0 })).toBeNull()
    const picture = stickPicture(randomStick(4), ...SIZE)
    expect(snapEnd(picture, { x: 4, y: 36 }, { x: 60, y: 36 })).toBeNull()
  })
})

describe('a dot, a line and a hidden corner', () => {
  /** A painted dot: a stick as long as it is wide, around a middle. */
  const dot = (width: number, seed: number): Stick => {
    const { ground, blur, noise, quantisation } = randomStick(seed)
    const middle = { x: 36.3, y: 35.8 }
    return {
      from: { x: middle.x - width / 2, y: middle.y },
      to: { x: middle.x + width / 2, y: middle.y },
      width: 12,
      colours: [white],
      stripes: 1,
      ground: [ground[0] - 60, ground[1] - 60, ground[2] - 60],
      blur,
      noise,
      quantisation,
      seed,
    }
  }

  it('snaps to the middle of a dot, a nail or a line of a scale', () => {
    for (const width of [2.4, 3.5, 8, 11])
      for (let seed = 0; seed < 6; seed++) {
        const picture = stickPicture(dot(width, seed), ...SIZE)
        const found = snapEnd(picture, { x: 38.5, y: 35 }, { x: -80, y: 35 })!
        expect(Math.abs(found.x - 36.3)).toBeLessThan(0.3)
        expect(found.error).toBeLessThan(0.3)
      }
  })

  it('stays where the edge does not go across, and on the lines of a fine scale', () => {
    // Half of the line is beside the stick.
    const stick = randomStick(1, { from: { x: -60, y: 36 }, to: { x: 36, y: 36 }, width: 14 })
    expect(snapEnd(stickPicture(stick, ...SIZE), { x: 37, y: 43 }, { x: -60, y: 43 })).toBeNull()
    const scale = { ...dot(60, 2), colours: [[30, 30, 30] as const, white], stripes: 30 }
    expect(snapEnd(stickPicture(scale, ...SIZE), { x: 36, y: 36 }, { x: -60, y: 36 })).toBeNull()
  })
})
