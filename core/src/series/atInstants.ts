/**
 * Returns those of some points that are nearest to the multiples of a step, as far as they lie within half of it. A point is returned once.
 *
 * @param points in order of `x`
 */
export function atInstants<P extends { x: number }>(points: readonly P[], step: number): P[] {
  const chosen = new Map<number, P>()
  for (const point of points) {
    const instant = Math.round(point.x / step)
    const before = chosen.get(instant)
    const away = ({ x }: P) => Math.abs(x - instant * step)
    if (!before || away(point) < away(before)) chosen.set(instant, point)
  }
  return [...chosen.values()]
}
