import { describe, expect, it } from 'vitest'
import { placesIn } from './area.ts'

const limits = { x: { from: 0.5, to: 2.5 }, y: { from: -1, to: 3 } }
const area = { left: 60, top: 10, width: 400, height: 200 }

describe('places of a graph', () => {
  const { pixelOf, moved } = placesIn(limits, area)

  it('lie between its corners, the larger values further up', () => {
    expect(pixelOf({ x: 0.5, y: -1 })).toEqual({ x: 60, y: 210 })
    expect(pixelOf({ x: 2.5, y: 3 })).toEqual({ x: 460, y: 10 })
    expect(pixelOf({ x: 1.5, y: 1 })).toEqual({ x: 260, y: 110 })
  })

  it('come to lie where they are moved to', () => {
    const place = { x: 1.1, y: 0.4 }
    const there = pixelOf(moved(place, 25, -40))
    const here = pixelOf(place)
    expect(there.x - here.x).toBeCloseTo(25, 9)
    expect(there.y - here.y).toBeCloseTo(-40, 9)
  })
})
