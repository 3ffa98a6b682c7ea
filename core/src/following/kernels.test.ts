import { describe, expect, it } from 'vitest'
import { floatList, kernels, placeOf, withArena } from '../kernels/index.ts'
import { randomSource } from '../random/index.ts'
import { backgroundOf } from './background.ts'
import { type Plane, valueAt } from './grid.ts'
import { climbPatch, searchPatch } from './match.ts'
import { roundOutline } from './outline.ts'
import { type Patch, renderPatch } from './patch.ts'
import { refinePose } from './refine.ts'
import { beforeBackground, scenesOf } from './scene.ts'
import { learnTemplate, type Pose, type Template } from './template.ts'

const ROOM = 2 ** 23

/** Returns a picture of a function of the place, in whole steps of brightness as a camera has them. */
function pictureOf(
  light: (x: number, y: number) => number,
  { x, y, width, height }: Omit<Plane, 'data'>,
): Plane {
  const data = Uint8Array.from({ length: width * height }, (_, i) =>
    Math.min(255, Math.max(0, Math.round(light(x + (i % width) + 0.5, y + Math.floor(i / width) + 0.5)))),
  )
  return { x, y, width, height, data }
}

/** Returns a body's pattern around its point: smooth, so that it is known between pixels, too. */
const pattern = (u: number, v: number) => 150 + 45 * Math.sin(u / 2.1) + 35 * Math.cos(v / 2.7 + u / 9)
const ground = (x: number, y: number) => 80 + 25 * Math.sin(x / 5) * Math.cos(y / 6)
/** Returns true if a place is on a round body, with a rim of a pixel. */
const coverAt = (u: number, v: number, radius: number) =>
  Math.min(1, Math.max(0, radius - Math.hypot(u, v) + 0.5))

const RADIUS = 11
const WHERE = { x: 16, y: 16, width: 96, height: 80 }

/** Returns the body on its ground, its point somewhere, turned and grown, in a light of its own. */
function scenery(pose: Pose, { gain = 1, shade = 0 } = {}, on = ground): Plane {
  return pictureOf((x, y) => {
    const [cos, sin] = [Math.cos(pose.turn) / pose.scale, Math.sin(pose.turn) / pose.scale]
    const [dx, dy] = [x - pose.x, y - pose.y]
    const [u, v] = [cos * dx + sin * dy, cos * dy - sin * dx]
    const share = coverAt(u, v, RADIUS)
    return share * (gain * pattern(u, v) + shade) + (1 - share) * on(x, y)
  }, WHERE)
}

const POSE: Pose = { x: 64, y: 56, scale: 1, turn: 0 }
const learned = (): Template => learnTemplate(scenery(POSE), POSE, roundOutline(RADIUS), 0)

describe('numbers from bytes, and half the size', () => {
  it.each([
    [7, 5],
    [16, 8],
    [33, 18],
  ])('are the bytes and the means of four, %i x %i', (width, height) => {
    const random = randomSource(width)
    const data = Uint8Array.from({ length: width * height }, () => 256 * random())
    withArena(ROOM, () => {
      const [whole, half] = scenesOf({ x: 0, y: 0, width, height, data }, 2)
      expect([...whole.frame.data]).toEqual([...data])
      const columns = width >> 1
      expect(half.frame.data).toHaveLength(columns * (height >> 1))
      half.frame.data.forEach((value, i) => {
        const at = 2 * Math.floor(i / columns) * width + 2 * (i % columns)
        expect(value).toBe((data[at] + data[at + 1] + data[at + width] + data[at + width + 1]) / 4)
      })
    })
  })
})

describe('a rendered look', () => {
  it('is a parabola where it was one, turned and grown: cubic convolution is exact there', () => {
    const parabola = (x: number, y: number) => 60 + 0.03 * (x - 50) ** 2 + 0.02 * (y - 60) ** 2
    const template = learned()
    template.seen.data.forEach((_, i) => {
      const [column, row] = [i % template.seen.width, Math.floor(i / template.seen.width)]
      template.seen.data[i] = parabola(template.seen.x + column + 0.5, template.seen.y + row + 0.5)
    })
    const pose = { x: 40.3, y: 70.8, scale: 1.1, turn: 0.4 }
    withArena(ROOM, () => {
      const { width, height, anchor, cover, seen } = renderPatch(template, pose, { x: 0, y: 0 }, false)
      let checked = 0
      for (let i = 0; i < width * height; i++) {
        if (cover[i] < 0.5) continue
        const [dx, dy] = [(i % width) + 0.5 - anchor.x, Math.floor(i / width) + 0.5 - anchor.y]
        const u = (Math.cos(pose.turn) * dx + Math.sin(pose.turn) * dy) / pose.scale
        const v = (Math.cos(pose.turn) * dy - Math.sin(pose.turn) * dx) / pose.scale
        expect(seen[i]).toBeCloseTo(parabola(POSE.x + u, POSE.y + v), 3)
        checked++
      }
      expect(checked).toBeGreaterThan(350)
    })
  })

  it('is what the value between pixels says, number by number', () => {
    const template = learned()
    const pose = { x: 51.7, y: 49.2, scale: 0.94, turn: -0.3 }
    withArena(ROOM, () => {
      const { width, anchor, cover, body, seen } = renderPatch(template, pose, { x: 0, y: 0 }, true)
      cover.forEach((share, i) => {
        if (share < 0.5) return
        const [dx, dy] = [(i % width) + 0.5 - anchor.x, Math.floor(i / width) + 0.5 - anchor.y]
        const x = POSE.x + (Math.cos(pose.turn) * dx + Math.sin(pose.turn) * dy) / pose.scale
        const y = POSE.y + (Math.cos(pose.turn) * dy - Math.sin(pose.turn) * dx) / pose.scale
        expect(share).toBeCloseTo(Math.min(1, valueAt(template.cover, x, y)), 4)
        expect(body![i]).toBeCloseTo(valueAt(template.body, x, y), 2)
        expect(seen[i]).toBeCloseTo(valueAt(template.seen, x, y), 2)
      })
    })
  })

  it('that is smeared covers as much as before, around the same point, longer by a twelfth of the square', () => {
    const template = learned()
    const momentsOf = ({ width, anchor, cover }: Patch) => {
      let [sum, x, xx, yy] = [0, 0, 0, 0]
      cover.forEach((share, i) => {
        const [u, v] = [(i % width) + 0.5 - anchor.x, Math.floor(i / width) + 0.5 - anchor.y]
        sum += share
        x += share * u
        xx += share * u * u
        yy += share * v * v
      })
      return { sum, x: x / sum, along: xx / sum, beside: yy / sum }
    }
    withArena(ROOM, () => {
      const sharp = momentsOf(renderPatch(template, POSE, { x: 0, y: 0 }, false))
      for (const length of [4, 9, 15]) {
        const streak = momentsOf(renderPatch(template, POSE, { x: length, y: 0 }, false))
        expect(streak.sum).toBeCloseTo(sharp.sum, 2)
        expect(streak.x).toBeCloseTo(sharp.x, 3)
        expect(streak.beside).toBeCloseTo(sharp.beside, 3)
        // An instant between two pixels, shared out to both, is wider by a quarter of a pixel's square at most.
        const added = streak.along - sharp.along
        expect(Math.abs(added - length ** 2 / 12)).toBeLessThan(0.25)
      }
    })
  })
})

describe('a score', () => {
  /** Returns what the score is by its definition, sum by sum: one gain and one offset, weighed, against noise and faintness. */
  function defined(plane: Plane, patch: Patch, column: number, row: number, noise: number): number {
    const { width, seen, weights } = patch
    const list = [...weights].flatMap((weight, i) => {
      const [x, y] = [column + (i % width) - plane.x, row + Math.floor(i / width) - plane.y]
      return weight > 0 ? [{ weight, template: seen[i], value: plane.data[y * plane.width + x] }] : []
    })
    const total = list.reduce((sum, { weight }) => sum + weight, 0)
    const mean = (of: (one: (typeof list)[number]) => number) =>
      list.reduce((sum, one) => sum + one.weight * of(one), 0) / total
    const [template, value] = [mean((one) => one.template), mean((one) => one.value)]
    const there = total * mean((one) => (one.value - value) ** 2)
    const expected = total * mean((one) => (one.template - template) ** 2)
    const both = total * mean((one) => (one.template - template) * (one.value - value))
    const gain = Math.min(1.6, Math.max(0.6, both / expected))
    const rest = there - 2 * gain * both + gain * gain * expected
    return 1 - rest / Math.max(there + 0.5 * noise * noise * total, 0.5 * expected)
  }

  it.each([9, 11, 14])('is what its definition gives, for a body of radius %i and any place', (radius) => {
    const random = randomSource(radius)
    const plane = pictureOf(() => 255 * random(), WHERE)
    const template = learnTemplate(scenery(POSE), POSE, roundOutline(radius), 0)
    withArena(ROOM, () => {
      const [scene] = scenesOf(plane, 1)
      const patch = renderPatch(template, POSE, { x: 0, y: 0 }, false)
      const one = floatList(1)
      // Prepares the kernels as a search does.
      climbPatch(scene, patch, POSE, 3)
      for (let k = 0; k < 30; k++) {
        const column = WHERE.x + Math.floor(random() * (WHERE.width - patch.width + 1))
        const row = WHERE.y + Math.floor(random() * (WHERE.height - patch.height + 1))
        kernels().scoresAround(column - WHERE.x, row - WHERE.y, 0, placeOf(one))
        expect(one[0]).toBeCloseTo(defined(plane, patch, column, row, 3), 4)
      }
    })
  })

  it('is best where the body is, inside and half over the border', () => {
    const template = learned()
    for (const x of [50, 77, 106]) {
      withArena(ROOM, () => {
        const scenes = scenesOf(scenery({ ...POSE, x }), 4)
        const patch = renderPatch(template, { ...POSE, x: 70 }, { x: 0, y: 0 }, false)
        const [best] = searchPatch(scenes, patch, { x: 78, y: 56 }, 30, 2)
        expect(best.column + patch.anchor.x).toBe(x)
        expect(best.row + patch.anchor.y).toBe(POSE.y)
        expect(best.score).toBeGreaterThan(0.9)
      })
    }
  })
})

describe('a refined place', () => {
  const still = backgroundOf(
    Array.from({ length: 5 }, () => pictureOf(ground, { x: 0, y: 0, width: 128, height: 112 })),
  )

  it.each([
    ['moved', { ...POSE, x: 64.37, y: 55.71 }, {}],
    ['turned and grown', { x: 63.8, y: 56.45, scale: 1.03, turn: 0.08 }, {}],
    ['in another light', { ...POSE, x: 64.6, y: 56.2 }, { gain: 0.8, shade: 12 }],
  ])('is where the body truly is, %s, on a known ground and on any', (_, pose, light) => {
    const template = learned()
    for (const background of [still, null])
      withArena(ROOM, () => {
        const plain = scenesOf(scenery(pose, light), 1)
        const [scene] = background ? beforeBackground(plain, background) : plain
        const patch = renderPatch(template, POSE, { x: 0, y: 0 }, background !== null)
        const found = refinePose(scene, patch, POSE, { scale: 0.05, turn: 0.2 }, 1)!
        expect(Math.hypot(found.pose.x - pose.x, found.pose.y - pose.y)).toBeLessThan(0.1)
        expect(Math.abs(found.pose.scale - pose.scale)).toBeLessThan(0.02)
        expect(Math.abs(found.pose.turn - pose.turn)).toBeLessThan(0.02)
        expect(found.score).toBeGreaterThan(0.97)
      })
  })

  it('is found by the part that is not hidden', () => {
    const template = learned()
    const pose = { ...POSE, x: 64.3 }
    const plane = scenery(pose)
    // A post stands before its right part.
    plane.data.forEach((_, i) => {
      if (plane.x + (i % plane.width) > 69) plane.data[i] = 30
    })
    withArena(ROOM, () => {
      const [scene] = scenesOf(plane, 1)
      const found = refinePose(
        scene,
        renderPatch(template, POSE, { x: 0, y: 0 }, false),
        POSE,
        { scale: 0.01, turn: 0.03 },
        1,
      )!
      expect(Math.hypot(found.pose.x - pose.x, found.pose.y - pose.y)).toBeLessThan(0.15)
      expect(found.visible.share).toBeLessThan(0.9)
      expect(found.visible.score).toBeGreaterThan(found.score)
    })
  })

  it('is none outside the picture', () => {
    const template = learned()
    withArena(ROOM, () => {
      const [scene] = scenesOf(scenery(POSE), 1)
      const patch = renderPatch(template, POSE, { x: 0, y: 0 }, false)
      const far = { ...POSE, x: WHERE.x - 5 }
      expect(refinePose(scene, patch, far, { scale: 0.01, turn: 0.03 }, 1)).toBeNull()
    })
  })
})
