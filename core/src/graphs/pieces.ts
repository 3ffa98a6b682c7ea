import type { MotionTable } from '../motion/index.ts'
import { median } from '../time/index.ts'
import type { Plotted } from './describe.ts'

/** A step that is longer than so many typical ones is a gap: no line goes across. */
const GAP = 4

/** Returns the points in stretches that a line goes through: none across a break or a gap. */
export function piecesOf<P extends Pick<Plotted, 'row'>>(
  { table }: { table: Pick<MotionTable, 'times' | 'breaks'> },
  points: readonly P[],
): P[][] {
  const steps = points.slice(1).map(({ row }, i) => table.times[row] - table.times[points[i].row])
  const typical = median(steps)
  const found: P[][] = []
  points.forEach((point, i) => {
    const before = points[i - 1]
    let isApart = before === undefined || steps[i - 1] > GAP * typical
    if (!isApart) for (const at of table.breaks) if (at > before.row && at <= point.row) isApart = true
    if (isApart) found.push([])
    found[found.length - 1].push(point)
  })
  return found
}
