import { type AxisDescription, equalised, type Limits, limitsOf } from '@apokinema/core/graphs'
import type { DrawnDescription, GraphLimits } from './graphDrawing.ts'

/** Returns the extent of a graph along both axes, with its error bars if they are shown. */
export function wholeLimits(
  { x: xAxis, y: yAxis, series, overlays }: DrawnDescription,
  errorBars: boolean,
): GraphLimits {
  function* values(pick: 'x' | 'y', error: 'errorX' | 'errorY') {
    for (const { points } of series)
      for (const point of points) {
        const around = errorBars && Number.isFinite(point[error]) ? point[error] : 0
        yield point[pick] - around
        yield point[pick] + around
      }
    if (pick === 'y') for (const { points } of overlays) for (const { y } of points) yield y
  }
  return { x: limitsOf(xAxis, values('x', 'errorX')), y: limitsOf(yAxis, values('y', 'errorY')) }
}

/**
 * Returns the limits of a graph's axes.
 *
 * @param equal whether a unit has the same length along both axes
 * @param range visible times on a graph against time
 * @param area the plot area in pixels; null before the layout
 */
export function shownLimits(
  { x: xAxis, y: yAxis, isTime }: DrawnDescription,
  equal: boolean,
  whole: GraphLimits,
  range: Limits,
  area: { width: number; height: number } | null,
): GraphLimits {
  if (isTime) return { x: range, y: whole.y }
  const isAlike = equal && xAxis.unit === yAxis.unit && isAuto(xAxis) && isAuto(yAxis)
  return isAlike && area ? equalised(whole.x, whole.y, area) : whole
}

const isAuto = ({ from, to, log }: AxisDescription) => from === null && to === null && !log
