import type { BodyShape } from '../investigation/index.ts'
import type { QuantityInfo } from '../motion/index.ts'
import { median } from '../time/index.ts'
import type { Plotted, SeriesDescription } from './describe.ts'

/** How points and lines of a graph look, on the screen and in a picture that is taken away. */

/** Half the width of a marker, in pixels. */
export const MARKER_RADIUS = 4.2
/** Line styles of the components: full, dashed, dotted. */
export const DASHES: Readonly<Record<QuantityInfo['direction'], readonly number[]>> = {
  x: [],
  y: [7, 4],
  size: [2, 3],
}
/** A step that is longer than so many usual ones is a gap: no line goes across. */
const GAP = 4

/** What fills the markers of a component: x is full, y is hollow, sizes lie between. */
export function markerFill(direction: QuantityInfo['direction'], colour: string): string {
  return direction === 'x' ? colour : direction === 'y' ? '#FFFFFF' : '#E9E6DC'
}

/** Points in stretches that a line goes through: none across a break or a gap. */
export function piecesOf<P extends Pick<Plotted, 'row'>>(
  { table }: Pick<SeriesDescription, 'table'>,
  points: readonly P[],
): P[][] {
  const steps = points.slice(1).map(({ row }, i) => table.times[row] - table.times[points[i].row])
  const usual = median(steps)
  const found: P[][] = []
  points.forEach((point, i) => {
    const before = points[i - 1]
    let isApart = before === undefined || steps[i - 1] > GAP * usual
    if (!isApart) for (const at of table.breaks) if (at > before.row && at <= point.row) isApart = true
    if (isApart) found.push([])
    found[found.length - 1].push(point)
  })
  return found
}

/** A coordinate in a path's notation, to hundredths of a pixel. */
export const inPath = (value: number) => String(Number(value.toFixed(2)))

/** The outline of a body's marker around a place, in SVG's notation. */
export function markerPath(shape: BodyShape, x: number, y: number): string {
  const r = MARKER_RADIUS
  const polygon = (...places: [number, number][]) =>
    `M${places.map(([dx, dy]) => `${inPath(x + dx)} ${inPath(y + dy)}`).join('L')}Z`
  switch (shape) {
    case 'circle':
      return `M${inPath(x - r)} ${inPath(y)}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0`
    case 'square':
      return polygon([-0.9 * r, -0.9 * r], [0.9 * r, -0.9 * r], [0.9 * r, 0.9 * r], [-0.9 * r, 0.9 * r])
    case 'diamond':
      return polygon([0, -1.2 * r], [1.2 * r, 0], [0, 1.2 * r], [-1.2 * r, 0])
    case 'triangle':
      return polygon([0, -r], [r, 0.8 * r], [-r, 0.8 * r])
    case 'cross':
      return `M${inPath(x - r)} ${inPath(y)}h${2 * r}M${inPath(x)} ${inPath(y - r)}v${2 * r}`
    case 'star':
      return [0, 60, 120]
        .map((turn) => {
          const [dx, dy] = [r * Math.cos((turn * Math.PI) / 180), r * Math.sin((turn * Math.PI) / 180)]
          return `M${inPath(x - dx)} ${inPath(y - dy)}L${inPath(x + dx)} ${inPath(y + dy)}`
        })
        .join('')
  }
}
