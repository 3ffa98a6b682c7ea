import { describe, expect, it } from 'vitest'
import { normalSource, randomSource } from '../random/index.ts'
import {
  backgroundShift,
  CameraFollower,
  type Difference,
  differenceOf,
  edgeWidth,
  fastestSpeed,
  findMotion,
  findRepeats,
  type Luma,
  lightOf,
  lumaOfColours,
  proposedCamera,
  shrink,
  verdictOn,
} from './index.ts'

const WIDTH = 160
const HEIGHT = 96

/** Returns a textured wall with a bright disc before it; the disc's middle, the wall's shift and the noise can be chosen. */
function picture(options: {
  disc?: { x: number; y: number; radius?: number }
  shift?: { x: number; y: number }
  noise?: () => number
}): Luma {
  const { disc, shift = { x: 0, y: 0 }, noise = () => 0 } = options
  const data = new Uint8Array(WIDTH * HEIGHT)
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const [u, v] = [x - shift.x, y - shift.y]
      let value = 110 + 30 * Math.sin(u / 3.1) * Math.cos(v / 2.7) + 12 * Math.sin((u + 2 * v) / 5)
      if (disc) {
        const away = Math.hypot(x + 0.5 - disc.x, y + 0.5 - disc.y) - (disc.radius ?? 5)
        // The rim covers pixels in part, as a lens makes it.
        const cover = Math.min(1, Math.max(0, 0.5 - away))
        value += cover * (230 - value)
      }
      data[y * WIDTH + x] = Math.min(255, Math.max(0, Math.round(value + noise())))
    }
  return { width: WIDTH, height: HEIGHT, data }
}

const grain = (deviation: number, seed = 5) => {
  const normal = normalSource(randomSource(seed))
  return () => deviation * normal()
}

/** Differences along a film: `pictures[i]` is the picture that frame i shows. */
function film(frames: Luma[]): Difference[] {
  return frames.map((frame, i) => differenceOf(frames[Math.max(0, i - 1)], frame))
}

describe('brightness', () => {
  it('weighs green most, and leaves gray as it is', () => {
    const { data } = lumaOfColours([90, 90, 90, 255, 255, 0, 0, 255, 0, 255, 0, 255, 0, 0, 255, 255], 2, 2)
    expect([...data]).toEqual([90, 54, 182, 18])
  })
})

describe('shrinking', () => {
  it('takes the mean of each square, whatever the stride', () => {
    const plane = Uint8Array.from([10, 20, 30, 40, 0, 20, 30, 40, 50, 0, 7, 7, 7, 7, 7])
    expect(shrink(plane, 5, { width: 4, height: 3 }, 2)).toEqual({
      width: 2,
      height: 1,
      data: Uint8Array.from([20, 40]),
    })
  })

  it.each([
    { width: 37, height: 23, stride: 41, factor: 3, step: 1 },
    { width: 64, height: 36, stride: 128, factor: 4, step: 2 },
    { width: 19, height: 12, stride: 19, factor: 1, step: 1 },
    { width: 33, height: 9, stride: 66, factor: 5, step: 2 },
  ])(
    'is the rounded mean for a factor of $factor and a step of $step',
    ({ width, height, stride, factor, step }) => {
      const random = randomSource(factor)
      const plane = Uint8Array.from({ length: stride * height }, () => 256 * random())
      const small = shrink(plane, stride, { width, height }, factor, step)
      expect([small.width, small.height]).toEqual([Math.floor(width / factor), Math.floor(height / factor)])
      const squares = Array.from({ length: small.width * small.height }, (_, at) => {
        const [x, y] = [at % small.width, Math.floor(at / small.width)]
        const values = Array.from({ length: factor ** 2 }, (_, k) => {
          const row = y * factor + Math.floor(k / factor)
          return plane[row * stride + (x * factor + (k % factor)) * step]
        })
        return Math.round(values.reduce((sum, value) => sum + value, 0) / factor ** 2)
      })
      expect([...small.data]).toEqual(squares)
    },
  )

  it('takes what is below a picture that is lower than a square as black', () => {
    const plane = new Uint8Array(2 * 8).fill(200)
    expect([...shrink(plane, 8, { width: 8, height: 2 }, 4).data]).toEqual([100, 100])
  })
})

describe('repeated frames', () => {
  /** Returns a throw filmed at 24 a second and saved at 30: every fifth frame shows the one before again. */
  function pulledUp(noise: () => number, codec: () => number): Luma[] {
    const taken = Array.from({ length: 48 }, (_, i) => {
      const t = i / 24
      return picture({ disc: { x: 20 + 55 * t, y: 80 - 110 * t + 55 * t * t }, noise })
    })
    return Array.from({ length: 60 }, (_, i) => {
      const { data, ...size } = taken[Math.floor((i * 24) / 30)]
      return { ...size, data: data.map((value) => Math.min(255, Math.max(0, Math.round(value + codec())))) }
    })
  }
  const expected = Array.from({ length: 60 }, (_, i) => i).filter(
    (i) => i > 0 && Math.floor((i * 24) / 30) === Math.floor(((i - 1) * 24) / 30),
  )

  it('are found, and their pattern gives the original rate', () => {
    const found = findRepeats(film(pulledUp(grain(3), grain(0.6, 9))), 30)
    expect(found.frames).toEqual(expected)
    expect(found.originalRate).toBe(24)
  })

  it('are found in a regular pattern where there is no noise at all', () => {
    const still = () => 0
    const found = findRepeats(film(pulledUp(still, still)), 30)
    expect(found.frames).toEqual(expected)
    expect(found.originalRate).toBe(24)
  })

  it('are found every other frame, and two in three', () => {
    for (const times of [2, 3]) {
      const noise = grain(3)
      const taken = Array.from({ length: 24 }, (_, i) => picture({ disc: { x: 10 + 5 * i, y: 48 }, noise }))
      const shown = taken.flatMap((one) => Array<Luma>(times).fill(one))
      const found = findRepeats(film(shown), 60)
      expect(found.frames).toEqual(shown.map((_, i) => i).filter((i) => i % times !== 0))
      expect(found.originalRate).toBe(60 / times)
    }
  })

  it('are not a body at rest, before or after it moves', () => {
    const noise = grain(3)
    const frames = Array.from({ length: 60 }, (_, i) =>
      picture({ disc: { x: 20 + 3 * Math.min(30, Math.max(0, i - 15)), y: 40 }, noise }),
    )
    expect(findRepeats(film(frames), 30).frames).toEqual([])
  })

  it('are not a body that turns back at the top of its flight', () => {
    const noise = grain(2)
    const frames = Array.from({ length: 60 }, (_, i) =>
      picture({ disc: { x: 80, y: 20 + 0.09 * (i - 29.6) ** 2 }, noise }),
    )
    expect(findRepeats(film(frames), 60).frames).toEqual([])
  })

  it('are not a slow body in a recording of a screen, which has no noise', () => {
    // It moves by whole pixels, at irregular distances of frames.
    const frames = Array.from({ length: 90 }, (_, i) =>
      picture({ disc: { x: 20 + Math.round(0.3 * i + 4 * Math.sin(i / 7)), y: 40 } }),
    )
    expect(findRepeats(film(frames), 60).frames).toEqual([])
  })

  it('without a pattern are found, and point to no rate', () => {
    const noise = grain(3)
    const dropped = new Set([9, 14, 31, 33, 40])
    let x = 10
    let kept = picture({ disc: { x, y: 48 }, noise })
    const frames = Array.from({ length: 50 }, (_, i) => {
      x += 2.5
      if (!dropped.has(i)) kept = picture({ disc: { x, y: 48 }, noise })
      return kept
    })
    const found = findRepeats(film(frames), 30)
    expect(found.frames).toEqual([...dropped])
    expect(found.originalRate).toBeNull()
  })

  it('are fewer with a lower threshold', () => {
    const differences = film(pulledUp(grain(3), grain(1.5, 9)))
    expect(findRepeats(differences, 30, 0).frames).toEqual([])
    expect(findRepeats(differences, 30).frames.length).toBeGreaterThan(5)
  })
})

describe('where it moves', () => {
  it('begins and ends with the body, not with the noise', () => {
    const noise = grain(3)
    const frames = Array.from({ length: 80 }, (_, i) =>
      picture({ disc: { x: 20 + 3 * Math.min(35, Math.max(0, i - 20)), y: 40 }, noise }),
    )
    expect(findMotion(film(frames), 30)).toEqual({ from: 20, to: 55 })
  })

  it('is the body’s flight and not somebody who walks away from the camera', () => {
    const noise = grain(2)
    const frames = Array.from({ length: 120 }, (_, i) => {
      if (i < 40) return picture({ disc: { x: 80 + 3 * i, y: 60, radius: 45 }, noise })
      return picture({ disc: { x: 20 + 4 * Math.min(30, Math.max(0, i - 60)), y: 40 }, noise })
    })
    expect(findMotion(film(frames), 30)).toEqual({ from: 60, to: 90 })
  })

  it('is nowhere where nothing moves', () => {
    const noise = grain(3)
    expect(findMotion(film(Array.from({ length: 30 }, () => picture({ noise }))), 30)).toBeNull()
    expect(findMotion([], 30)).toBeNull()
  })

  it('has the speed of the body', () => {
    const noise = grain(1.5)
    const frames = Array.from({ length: 30 }, (_, i) => picture({ disc: { x: 10 + 4.5 * i, y: 50 }, noise }))
    const speed = fastestSpeed(film(frames), { from: 0, to: 29 }, { width: 8 * WIDTH, height: 8 * HEIGHT })
    expect(speed / 8).toBeGreaterThan(3.8)
    expect(speed / 8).toBeLessThan(5.2)
  })
})

describe('the still background', () => {
  it('is found to move by fractions of a pixel, whatever passes before it', () => {
    const noise = grain(2)
    const reference = picture({ disc: { x: 40, y: 40 }, noise })
    for (const shift of [
      { x: 0, y: 0 },
      { x: 0.4, y: -0.3 },
      { x: -0.7, y: 0.5 },
    ]) {
      const found = backgroundShift(reference, picture({ disc: { x: 90, y: 50 }, shift, noise }))!
      expect(Math.hypot(found.x - shift.x, found.y - shift.y)).toBeLessThan(0.12)
    }
  })

  it('tells nothing without texture', () => {
    const flat: Luma = { width: WIDTH, height: HEIGHT, data: new Uint8Array(WIDTH * HEIGHT).fill(90) }
    expect(backgroundShift(flat, flat)).toBeNull()
  })
})

describe('a camera', () => {
  const [WIDE, HIGH] = [320, 180]
  /** Returns a picture of the same texture as a camera sees it that moved: `seen` takes the scene to this picture. */
  const seen = (moved: { zoom: number; roll: number; x: number; y: number }, disc = 0): Luma => {
    const data = new Uint8Array(WIDE * HIGH)
    const [cos, sin] = [Math.cos(moved.roll) / moved.zoom, Math.sin(moved.roll) / moved.zoom]
    for (let y = 0; y < HIGH; y++)
      for (let x = 0; x < WIDE; x++) {
        const [dx, dy] = [x - WIDE / 2 - moved.x, y - HIGH / 2 - moved.y]
        const [u, v] = [cos * dx + sin * dy + WIDE / 2, cos * dy - sin * dx + HIGH / 2]
        const texture = 40 * Math.sin(u / 4.1) * Math.cos(v / 5.3) + 30 * Math.sin((u + 2 * v) / 9.7)
        data[y * WIDE + x] = Math.hypot(x - 20 - disc, y - 90) < 12 ? 250 : 125 + texture
      }
    return { width: WIDE, height: HIGH, data }
  }
  const followed = (frames: Luma[]) => {
    const follower = new CameraFollower()
    for (const frame of frames) follower.add(frame)
    return follower.result()
  }
  const film40 = (moved: (share: number) => { zoom?: number; roll?: number; x?: number; y?: number }) =>
    Array.from({ length: 41 }, (_, i) => seen({ zoom: 1, roll: 0, x: 0, y: 0, ...moved(i / 40) }, 3 * i))

  it('that stood still is told from one that turned, zoomed, or tilted, whatever passes before it', () => {
    expect(proposedCamera(followed(film40(() => ({})))!)).toBe('still')
    expect(proposedCamera(followed(film40((share) => ({ x: 20 * share })))!)).toBe('turned')
    expect(proposedCamera(followed(film40((share) => ({ zoom: 1 - 0.3 * share, y: 5 * share })))!)).toBe(
      'zoomed',
    )
    expect(
      proposedCamera(followed(film40((share) => ({ roll: 0.05 * share, zoom: 1 - 0.1 * share })))!),
    ).toBe('tilted')
  })

  /** Returns an even wall with a staff and a skirting board, panned by `x`, before which a dark disc falls. */
  const evenWall = (frame: number, x = 0): Luma => {
    const normal = normalSource(randomSource(100 + frame))
    const data = new Uint8Array(WIDE * HIGH)
    for (let row = 0; row < HIGH; row++)
      for (let column = 0; column < WIDE; column++) {
        const isStaff = Math.abs(column - 60 - x) < 2
        const isBoard = Math.abs(row - 165) < 2
        const isDisc = Math.hypot(column - 160 - x, row - 20 - 3 * frame) < 14
        const light = isDisc ? 60 : isStaff || isBoard ? 200 : 130
        data[row * WIDE + column] = light + 2 * normal()
      }
    return { width: WIDE, height: HIGH, data }
  }
  const wallFilm = (shift: (frame: number) => number) =>
    Array.from({ length: 41 }, (_, frame) => evenWall(frame, shift(frame)))

  it('that stands still before an even wall is told by the few edges that there are', () => {
    expect(followed(wallFilm(() => 0))).toEqual({ shift: 0, zoom: 0, roll: 0 })
  })

  it('that turns before an even wall is not told to stand still, nor is one before a wall without edges', () => {
    const turned = followed(wallFilm((frame) => 1.5 * frame))
    expect(turned === null || proposedCamera(turned) !== 'still').toBe(true)
    const blank = { width: WIDE, height: HIGH, data: new Uint8Array(WIDE * HIGH).fill(130) }
    expect(followed(Array.from({ length: 41 }, () => blank))).toBeNull()
  })

  it('that stands still before an even table is not told to move by textured bodies that glide over it', () => {
    const table = (frame: number): Luma => {
      const data = new Uint8Array(WIDE * HIGH)
      for (let y = 0; y < HIGH; y++)
        for (let x = 0; x < WIDE; x++) {
          // Only the edges of the table stand out from it.
          const isEdge = x % 310 < 3 || y % 170 < 3
          const u = x - 40 - 1.2 * frame
          const isBody = u > 0 && u < 75 && y > 40 && y < 140
          const pattern = 125 + 60 * Math.sin(u / 2.3) * Math.cos(y / 3.1)
          data[y * WIDE + x] = isBody ? pattern : isEdge ? 190 : 120
        }
      return { width: WIDE, height: HIGH, data }
    }
    const still = followed(Array.from({ length: 41 }, (_, i) => table(i)))!
    expect(proposedCamera(still)).toBe('still')
  })

  it('that turns for the last third of a clip alone did not stand still', () => {
    const late = film40((share) => ({ x: 30 * Math.max(0, share - 2 / 3) }))
    expect(proposedCamera(followed(late)!)).toBe('turned')
  })

  it('has its zoom and its roll measured over the whole clip', () => {
    const { zoom, roll } = followed(film40((share) => ({ zoom: 1 - 0.3 * share, roll: 0.04 * share })))!
    expect(zoom).toBeGreaterThan(0.38)
    expect(zoom).toBeLessThan(0.48)
    expect(roll).toBeCloseTo(0.04, 2)
  })

  it('tells nothing without texture', () => {
    const flat: Luma = { width: WIDE, height: HIGH, data: new Uint8Array(WIDE * HIGH).fill(90) }
    expect(followed([flat, flat, flat])).toBeNull()
  })
})

describe('sharpness and light', () => {
  /** Dark and bright bars whose edges rise evenly over so many pixels. */
  const bars = (rise: number): Luma => {
    const data = new Uint8Array(WIDTH * HEIGHT)
    for (let y = 0; y < HEIGHT; y++)
      for (let x = 0; x < WIDTH; x++) {
        const at = x % 40
        const up = Math.min(1, Math.max(0, (at - 8) / rise))
        const down = Math.min(1, Math.max(0, (at - 28) / rise))
        data[y * WIDTH + x] = 60 + 120 * (up - down)
      }
    return { width: WIDTH, height: HEIGHT, data }
  }

  it.each([1, 4, 8])('edges that rise over %d px are as wide', (rise) => {
    expect(edgeWidth(bars(rise))).toBeCloseTo(rise, 0)
  })

  it('says what is black and what is burnt out', () => {
    const data = new Uint8Array(100).fill(120)
    data.fill(10, 0, 30)
    data.fill(250, 30, 40)
    expect(lightOf({ width: 10, height: 10, data })).toEqual({ mean: 100, dark: 0.3, bright: 0.1 })
    expect(edgeWidth({ width: 10, height: 10, data })).toBeNaN()
  })
})

describe('the verdict', () => {
  const fine = {
    rate: 60,
    frames: 120,
    uneven: 0,
    repeats: 0,
    speed: 6,
    metresPerPixel: null,
    shake: 0.1,
    light: { mean: 120, dark: 0.01, bright: 0.01 },
    edge: 2,
    bitsPerPixel: 0.1,
    camera: 'still' as const,
  }
  const finding = (change: Partial<typeof fine>, code: string) =>
    verdictOn({ ...fine, ...change }).find((found) => found.code === code)

  it('of a good clip is good throughout', () => {
    expect(new Set(verdictOn(fine).map(({ grade }) => grade))).toEqual(new Set(['good']))
  })

  it('says what blur means: 22 px a frame at 60 a second and 3 mm a pixel is 4.0 m/s over 11 px', () => {
    const blur = finding({ speed: 22, metresPerPixel: 4 / (22 * 60) } as never, 'motion-blur')!
    expect(blur).toMatchObject({ grade: 'fair', metresPerSecond: expect.closeTo(4, 9), streak: 11 })
  })

  it('of a camera that zooms says how that is undone, and one of a single frame that it shows no motion', () => {
    expect(finding({ shake: 4, camera: 'zoomed' } as never, 'steadiness')).toMatchObject({ camera: 'zoomed' })
    expect(finding({ frames: 1 }, 'single-frame')?.grade).toBe('poor')
    expect(finding({ frames: 1 }, 'times')).toBeUndefined()
  })

  it.each([
    [{ rate: 15 }, 'frame-rate', 'poor'],
    [{ uneven: 3 }, 'times', 'fair'],
    [{ repeats: 12 }, 'repeats', 'poor'],
    [{ edge: 9 }, 'focus', 'poor'],
    [{ light: { mean: 30, dark: 0.7, bright: 0 } }, 'light', 'poor'],
    [{ shake: 3 }, 'steadiness', 'poor'],
    [{ bitsPerPixel: 0.002 }, 'compression', 'poor'],
  ])('names what limits it: %j', (change, subject, grade) => {
    expect(finding(change as Partial<typeof fine>, subject)?.grade).toBe(grade)
  })
})
