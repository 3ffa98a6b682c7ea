import { columnSample, type MotionTable } from '../motion/index.ts'
import { FitError } from '../regression/index.ts'

/** Errors of a bend that make it one. */
const BENDS = 4

/** Returns the axis with the larger acceleration if that is clear, otherwise the one with the longer way. */
export function mainDirection(table: MotionTable): 'x' | 'y' {
  const [x, y] = (['x', 'y'] as const).map((along) => {
    const { values, rows } = table.column(along)
    const some = rows.map((row) => values[row])
    const range = some.length > 0 ? Math.max(...some) - Math.min(...some) : 0
    return { range, bend: bendOf(table, along) }
  })
  if (x.bend !== y.bend) return x.bend > y.bend ? 'x' : 'y'
  return x.range > y.range ? 'x' : 'y'
}

/** Returns the size of the acceleration of the parabola through all points; 0 where it can't be told from nothing. */
function bendOf(table: MotionTable, along: 'x' | 'y'): number {
  try {
    const { coefficients, covariance } = columnSample(table, along, {
      from: 0,
      to: Number.POSITIVE_INFINITY,
    }).fit(2)
    const bend = Math.abs(coefficients[2])
    return bend > BENDS * Math.sqrt(covariance[2][2]) ? bend : 0
  } catch (error) {
    if (error instanceof FitError) return 0
    throw error
  }
}
