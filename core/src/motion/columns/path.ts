import type { Point } from '../../geometry/index.ts'
import type { ErrorSensitivity } from '../errorSensitivity.ts'
import { type PathQuantity, pathThrough } from '../quantities/index.ts'
import type { Column } from './column.ts'
import type { ColumnContext } from './columnContext.ts'

/** Returns the column of the length of the path since the first mark. */
export function makePath(quantity: PathQuantity, context: ColumnContext): Column {
  const { marks } = context
  const rows = Array.from(context.rowTimes.times.keys())
  const places = rows.map((row) => marks.place(row))
  const variances = rows.map((row) => marks.variance(row))
  const { lengths, steps, bends } = pathThrough(places, variances)
  const addSensitivity = (i: number, factor: number, into: ErrorSensitivity) => {
    // From the last point back over the corners: each is the end of one step and the beginning of the next.
    let after: Point = { x: 0, y: 0 }
    for (let at = i; ; at = steps[at].from) {
      const { along } = at === 0 ? { along: { x: 0, y: 0 } } : steps[at]
      context.addRowSensitivity(at, [along.x - after.x, along.y - after.y], factor, into)
      if (at === 0) break
      after = along
    }
  }
  const values = context.spread(rows, lengths)
  return {
    ...context.base(quantity),
    values,
    calibrationSensitivities: context.scaled(values, { length: 1, time: 0 }),
    errors: context.spread(rows, pathErrors(steps, context)),
    rows,
    bias: () => Float64Array.from(bends),
    addSensitivity,
  }
}

/** Returns the standard errors of the lengths: the variances of the corners add up along the path. */
function pathErrors(steps: { from: number; along: Point }[], { marks }: ColumnContext): number[] {
  const variance = (row: number, { x, y }: Point) => marks.error(row, [x, y]) ** 2
  /** Variance due to the corners up to each one, where the path goes on beyond it. */
  const before = new Map<number, number>([[0, 0]])
  return steps.map(({ from, along }, row) => {
    if (row === 0) return 0
    const here = steps[from]
    const into = from === 0 ? { x: 0, y: 0 } : here.along
    const turn = { x: into.x - along.x, y: into.y - along.y }
    const atCorner = (before.get(from) ?? 0) + variance(from, turn)
    before.set(row, atCorner)
    return Math.sqrt(atCorner + variance(row, along))
  })
}
