import { describe, expect, it } from 'vitest'
import { normalSource, randomSource } from '../random/index.ts'
import { settledCentre } from './index.ts'

const SIZE = 160

/** A disc before an even ground, with soft edges and noise. */
function disc(centre: { x: number; y: number }, radius: number, seed: number, light = 190) {
  const normal = normalSource(randomSource(seed))
  const data = new Uint8Array(SIZE * SIZE)
  for (let y = 0; y < SIZE; y++)
    for (let x = 0; x < SIZE; x++) {
      const inside = radius - Math.hypot(x + 0.5 - centre.x, y + 0.5 - centre.y)
      const share = Math.min(1, Math.max(0, inside / 1.6 + 0.5))
      data[y * SIZE + x] = 90 + (light - 90) * share + 2.5 * normal()
    }
  return { x: 0, y: 0, width: SIZE, height: SIZE, data }
}

describe('a click beside the middle of a body', () => {
  it('settles on its centre, to 0.15 px, wherever on it the click was', () => {
    for (const radius of [6, 10, 18])
      for (let seed = 0; seed < 8; seed++) {
        const centre = { x: 80.3 + 0.1 * seed, y: 79.6 }
        const turn = (2 * Math.PI * seed) / 8
        const click = {
          x: centre.x + 0.45 * radius * Math.cos(turn),
          y: centre.y + 0.45 * radius * Math.sin(turn),
        }
        const found = settledCentre(disc(centre, radius, seed), click)!
        expect(Math.hypot(found.x - centre.x, found.y - centre.y)).toBeLessThan(0.15)
      }
  })

  it('stays where nothing stands out, or the click is beside the picture', () => {
    expect(settledCentre(disc({ x: 80, y: 80 }, 10, 3, 91), { x: 80, y: 80 })).toBeNull()
    expect(settledCentre(disc({ x: 80, y: 80 }, 10, 3), { x: -5, y: 80 })).toBeNull()
  })
})
