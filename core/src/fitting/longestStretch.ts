import { type MotionTable, pointsIn, type Range } from '../motion/index.ts'
import { FitError } from '../regression/index.ts'
import { fitColumn } from './fitColumn.ts'
import type { ColumnFit, FitSettings } from './fitResult.ts'
import { runsTest } from './modelCriteria.ts'

/** Share of a stretch, in its middle, that it is begun with, and points at least. */
const CORE = { share: 0.4, points: 8 }
/** Points that are taken in at once, as a share of all. */
const BITE = 0.02
/** A point may be so many times off what the fit before foretold for it; one may be farther off, by chance. */
const FAR = 3.5
/** Residuals that keep one sign so long come by chance in no more than this share of fits. */
const UNLIKELY = 0.02

/**
 * Returns the longest stretch around the middle of one on which a model holds: from the middle it takes in points on either side
 * for as long as the fit so far foretells them within their errors and no bend comes into the residuals. Null where it
 * does not even hold in the middle.
 *
 * @param limits frames beyond which no point is taken in
 */
export function longestStretch(
  table: MotionTable,
  quantity: string,
  range: Range,
  settings: FitSettings,
  limits: { from: number; to: number },
): Range | null {
  const column = table.column(quantity)
  const around = { ...range, ...limits }
  const rows = pointsIn(table, column, around).map((i) => column.rows[i])
  const inside = rows.flatMap((row, i) =>
    table.frames[row] >= range.from && table.frames[row] <= range.to ? [i] : [],
  )
  if (inside.length === 0) return null
  const middle = inside[inside.length >> 1]
  const half = Math.max(CORE.points, Math.ceil(CORE.share * inside.length)) >> 1
  let [first, last] = [Math.max(0, middle - half), Math.min(rows.length - 1, middle + half)]
  const bite = Math.max(1, Math.round(BITE * rows.length))
  const rangeOf = (from: number, to: number): Range => ({
    ...range,
    from: table.frames[rows[from]],
    to: table.frames[rows[to]],
  })
  const fitted = (from: number, to: number): ColumnFit | null => {
    try {
      return fitColumn(table, quantity, rangeOf(from, to), settings)
    } catch (error) {
      if (error instanceof FitError) return null
      throw error
    }
  }
  const holds = (fit: ColumnFit) => {
    const runs = runsTest(fit.solution.whitenedResiduals)
    return fit.breaks === 0 && (!runs || runs.probability >= UNLIKELY)
  }
  /** Returns true if the fit so far foretells some more points. */
  const foretells = (fit: ColumnFit, more: number[]) => {
    const far = more.filter((i) => {
      const row = rows[i]
      const scatter = fit.rmse * Math.sqrt(fit.points / Math.max(1, fit.freedom))
      const expected = Math.hypot(fit.errorAt(table.times[row]), scatter)
      return Math.abs(column.values[row] - fit.valueAt(table.times[row])) > FAR * expected
    })
    return far.length <= (more.length > 4 ? 1 : 0)
  }
  let fit = fitted(first, last)
  if (!fit || fit.freedom < 1) return null
  const open = { down: true, up: true }
  while (open.down || open.up) {
    for (const side of ['up', 'down'] as const) {
      if (!open[side]) continue
      const edge = side === 'up' ? Math.min(rows.length - 1, last + bite) : Math.max(0, first - bite)
      const more = side === 'up' ? indices(last + 1, edge) : indices(edge, first - 1)
      if (more.length === 0 || !foretells(fit, more)) {
        open[side] = false
        continue
      }
      const next: ColumnFit | null = side === 'up' ? fitted(first, edge) : fitted(edge, last)
      if (!next || !holds(next)) {
        open[side] = false
        continue
      }
      fit = next
      if (side === 'up') last = edge
      else first = edge
    }
  }
  return holds(fit) ? rangeOf(first, last) : null
}

const indices = (from: number, to: number) =>
  Array.from({ length: Math.max(0, to - from + 1) }, (_, i) => from + i)
