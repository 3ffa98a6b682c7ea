import type { Orientation } from '@apokinema/core/investigation'
import { describe, expect, it } from 'vitest'
import { drawTurned } from './clip.ts'

/** Returns a context that keeps where the middle of a picture lands, by what is done to it, and how large it is drawn. */
function paper() {
  const drawn: { at: [number, number]; right: [number, number] }[] = []
  let [a, b, c, d, e, f] = [1, 0, 0, 1, 0, 0]
  const context = {
    save: () => {},
    restore: () => {},
    translate(x: number, y: number) {
      e += a * x + c * y
      f += b * x + d * y
    },
    rotate(angle: number) {
      const [cos, sin] = [Math.cos(angle), Math.sin(angle)]
      ;[a, b, c, d] = [a * cos + c * sin, b * cos + d * sin, c * cos - a * sin, d * cos - b * sin]
    },
    scale(x: number, y: number) {
      ;[a, b, c, d] = [a * x, b * x, c * y, d * y]
    },
    drawImage(_image: unknown, x: number, y: number, width: number) {
      drawn.push({ at: [a * x + c * y + e, b * x + d * y + f], right: [a * width, b * width] })
    },
  }
  return { drawn, context: context as unknown as CanvasRenderingContext2D }
}

const image = (width: number) => ({ width, height: width / 2 }) as ImageBitmap
const SIZE = { width: 640, height: 360 }

describe('a picture', () => {
  it.each<[string, Orientation, [number, number], [number, number]]>([
    ['as it is', { mirrored: false, quarterTurns: 0 }, [0, 0], [640, 0]],
    ['turned right', { mirrored: false, quarterTurns: 1 }, [360, 0], [0, 640]],
    ['upside down', { mirrored: false, quarterTurns: 2 }, [640, 360], [-640, 0]],
    ['mirrored', { mirrored: true, quarterTurns: 0 }, [640, 0], [-640, 0]],
  ])('%s has its first corner and its upper side where they belong', (_, orientation, corner, side) => {
    const { drawn, context } = paper()
    drawTurned(context, image(320), SIZE, orientation)
    const [{ at, right }] = drawn
    for (const k of [0, 1]) {
      expect(at[k]).toBeCloseTo(corner[k], 9)
      expect(right[k]).toBeCloseTo(side[k], 9)
    }
  })

  it('that was given up before it is drawn is left out', () => {
    const { drawn, context } = paper()
    drawTurned(context, image(0), SIZE, { mirrored: false, quarterTurns: 0 })
    expect(drawn).toEqual([])
  })
})
