import { expect, it } from 'vitest'
import { fitLine } from './index.ts'

it('a line goes along its points, whichever way they lie, with the distances from it', () => {
  for (const angle of [0, 0.4, 1.5, -1.2]) {
    const [ux, uy] = [Math.cos(angle), -Math.sin(angle)]
    const points = [-30, -10, 5, 35].map((s, i) => {
      const off = [0.5, -0.5, -0.5, 0.5][i]
      return { x: 200 + s * ux - off * uy, y: 100 + s * uy + off * ux }
    })
    const { middle, direction, along, across } = fitLine(points)
    expect([middle.x, middle.y].map((one) => one.toFixed(6))).toEqual(['200.000000', '100.000000'])
    // The offsets of these points turn it a little.
    expect(Math.abs(direction - angle)).toBeLessThan(0.02)
    expect(Math.max(...along) - Math.min(...along)).toBeCloseTo(65, 1)
    expect(Math.hypot(...across)).toBeLessThan(1.001)
  }
})
