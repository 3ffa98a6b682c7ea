import type { Limits } from '@apokinema/core/graphs'

/** Where a graph's points lie, in pixels of its canvas. */
export interface Area {
  left: number
  top: number
  width: number
  height: number
}

export interface Place {
  x: number
  y: number
}

/** Places of a graph in pixels of its canvas, and where they come to lie when they are moved by some pixels. */
export function placesIn({ across, up }: { across: Limits; up: Limits }, area: Area) {
  const seen = { across: across.to - across.from, up: up.to - up.from }
  return {
    pixelOf: ({ x, y }: Place): Place => ({
      x: area.left + ((x - across.from) / seen.across) * area.width,
      y: area.top + area.height - ((y - up.from) / seen.up) * area.height,
    }),
    moved: ({ x, y }: Place, dx: number, dy: number): Place => ({
      x: x + (dx / area.width) * seen.across,
      y: y - (dy / area.height) * seen.up,
    }),
  }
}
