import type { Limits } from '@apokinema/core/graphs'

/** The plot area of a graph, in pixels of its canvas. */
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

/** Returns the mapping between values and pixels of a graph. */
export function placesIn(limits: { x: Limits; y: Limits }, area: Area) {
  const [width, height] = [limits.x.to - limits.x.from, limits.y.to - limits.y.from]
  return {
    pixelOf: ({ x, y }: Place): Place => ({
      x: area.left + ((x - limits.x.from) / width) * area.width,
      y: area.top + area.height - ((y - limits.y.from) / height) * area.height,
    }),
    moved: ({ x, y }: Place, dx: number, dy: number): Place => ({
      x: x + (dx / area.width) * width,
      y: y - (dy / area.height) * height,
    }),
  }
}
