import { type GraphDescription, type Limits, type Slope, slopesOf, slopeUnit } from '@apokinema/core/graphs'
import type { Derivation, Graph, HandTangent } from '@apokinema/core/investigation'
import { fixed, measurement, significant, withUnit } from '@apokinema/core/units'
import type { Place } from './area.ts'
import type { DrawnTangent } from './graphDrawing.ts'

/** Extent of a tangent to either side, as a share of the width. */
const REACH = 0.16

/** Returns an initial line: from the first to the last third of the points, in the units that are kept. */
export function firstLine({ series: [{ points }], y: yAxis }: GraphDescription): HandTangent {
  const [from, to] = [points[Math.floor(points.length / 3)], points[Math.floor((2 * points.length) / 3)]]
  const kept = (point: Place | undefined) => ({ x: point?.x ?? 0, y: (point?.y ?? 0) / yAxis.perKept })
  return { from: kept(from), to: kept(to) }
}

/** Returns the slopes of a graph against time at its points, by the derivative in use; none if the y axis is transformed. */
export function graphSlopes(
  graph: Graph,
  { y: yAxis, series: [{ table }] }: GraphDescription,
  derivation: Derivation,
): Slope[] {
  return yAxis.transform.id === 'none' ? slopesOf(table, graph.quantity, graph.derivation ?? derivation) : []
}

/** Returns the slope at a frame; null if there is none. */
export function slopeAt(
  slopes: readonly Slope[],
  { series: [{ table }] }: GraphDescription,
  frame: number,
): Slope | null {
  return slopes.find(({ row }) => table.frames[row] <= frame && table.until[row] >= frame) ?? null
}

/** Returns the tangent with a slope. */
export function tangentAt(
  { time, value, slope, error }: Slope,
  { series: [{ column, table }] }: GraphDescription,
  xLimits: Limits,
): DrawnTangent {
  const reach = REACH * (xLimits.to - xLimits.from)
  return {
    from: { x: time - reach, y: value - reach * slope },
    to: { x: time + reach, y: value + reach * slope },
    colour: 'saffron',
    text: `slope ${measurement(slope, error, slopeUnit(column, table.length))}`,
  }
}

/** Returns the line laid by hand, with the difference of its slope from the computed one. */
export function handTangent(
  line: HandTangent,
  { y: { perKept }, series: [{ column, table }] }: GraphDescription,
  slopes: readonly Slope[],
): DrawnTangent & { slope: number; unit: string } {
  const unit = slopeUnit(column, table.length)
  const [from, to] = [line.from, line.to].map(({ x, y }) => ({ x, y: y * perKept }))
  const slope = (to.y - from.y) / (to.x - from.x)
  const known = nearest(slopes, (from.x + to.x) / 2)
  const off = known && known.slope !== 0 ? (100 * (slope - known.slope)) / Math.abs(known.slope) : null
  const text = [
    `yours ${withUnit(significant(slope, 3), unit)}`,
    known && `computed here ${measurement(known.slope, known.error, unit)}`,
    off !== null && Number.isFinite(off) && `${off < 0 ? '−' : '+'}${fixed(Math.abs(off), 1)} %`,
  ]
    .filter(Boolean)
    .join(' · ')
  return { from, to, colour: 'petrol', text, slope, unit }
}

function nearest(slopes: readonly Slope[], time: number): Slope | null {
  return slopes.reduce<Slope | null>(
    (best, one) => (!best || Math.abs(one.time - time) < Math.abs(best.time - time) ? one : best),
    null,
  )
}
