import { describe, expect, it } from 'vitest'
import { type FilmedBody, filmed } from '../testing/filmed.ts'
import { followed } from '../testing/followed.ts'
import { colourWithin, isOtherColour, renewedColour } from './bodyColour.ts'
import { roundOutline } from './outline.ts'

const SIZE = { width: 320, height: 240 }
const orange = { blue: 90, red: 190 }

describe('the colour of a body', () => {
  const body: FilmedBody = { radius: 12, at: () => ({ x: 101.3, y: 80.7 }), colour: orange }
  const [frame] = filmed({ ...SIZE, frames: 1, bodies: [body], noise: 1 })

  it('is the mean within its outline, less grey, wherever it lies and however it is turned', () => {
    for (const turn of [0, 1, 2.5]) {
      const colour = colourWithin(frame, roundOutline(12), { x: 101.3, y: 80.7, scale: 1, turn })!
      expect(Math.abs(colour.blue - (90 - 128))).toBeLessThan(1)
      expect(Math.abs(colour.red - (190 - 128))).toBeLessThan(1)
    }
  })

  it('is not known of a frame without colours, or of a very small body', () => {
    const { chroma: _, ...bright } = frame
    expect(colourWithin(bright, roundOutline(12), { x: 101, y: 80, scale: 1, turn: 0 })).toBeNull()
    expect(colourWithin(frame, roundOutline(3), { x: 101, y: 80, scale: 1, turn: 0 })).toBeNull()
  })

  it('is another one where most of the body is hidden, and not where a third is', () => {
    const own = { blue: -38, red: 62 }
    const hidden = (share: number) => ({ blue: (1 - share) * own.blue, red: (1 - share) * own.red })
    expect(isOtherColour(hidden(1 / 3), own)).toBe(false)
    expect(isOtherColour(hidden(2 / 3), own)).toBe(true)
  })

  it('follows the light, but not what hides a part of it', () => {
    const own = { blue: -38, red: 62 }
    expect(renewedColour(own, { blue: -36, red: 60 }).blue).toBeGreaterThan(own.blue)
    expect(renewedColour(own, { blue: -20, red: 30 })).toEqual(own)
  })
})

it('a plain ball is not taken for the plain post that it goes behind, where the background is not known', () => {
  const body: FilmedBody = {
    radius: 12,
    colour: orange,
    light: () => 120,
    at: (frame) => ({ x: 40 + 4 * frame, y: 120 }),
  }
  const isPost = (x: number) => x > 150 && x < 186
  const frames = filmed({
    ...SIZE,
    frames: 45,
    bodies: [body],
    noise: 2,
    seed: 3,
    front: (x) => (isPost(x) ? 122 : null),
  })
  const seen = followed(frames, body, { still: false })
  seen.forEach((one, i) => {
    const { x, y } = body.at(1 + i)
    // While less than half of it is hidden its template has nothing but its rim to go by.
    if (one.kind === 'found') expect(Math.hypot(one.at.x - x, one.at.y - y)).toBeLessThan(body.radius / 3)
  })
})
