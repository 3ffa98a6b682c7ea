import type { ColumnFit } from '@apokinema/core/fitting'
import { once } from '@apokinema/core/motion'
import { studentQuantile } from '@apokinema/core/regression'

/** Points of a drawn curve, and of the band around it. */
const POINTS = 160
const BAND = 40
const CONFIDENCE = 0.95

/** A fitted curve with its 95 % confidence band. */
export interface DrawnCurve {
  points: { x: number; y: number }[]
  band: { x: number; low: number; high: number }[]
  /** The 95 % prediction band for further points (lazy). */
  predicted: () => { x: number; low: number; high: number }[]
}

const known = new WeakMap<ColumnFit, DrawnCurve>()

/** Returns the cached curve of a fit. */
export function curveOf(fit: ColumnFit): DrawnCurve {
  const ready = known.get(fit)
  if (ready) return ready
  const { from, to, loop, valueAt } = fit
  const places = (count: number) =>
    Array.from({ length: count + 1 }, (_, i) => from + ((to - from) * i) / count)
  const times = fit.freedom > 0 ? studentQuantile(CONFIDENCE, fit.freedom) : Number.NaN
  const bandBy = (errorAt: (place: number) => number) =>
    loop || !Number.isFinite(times)
      ? []
      : places(BAND).map((x) => {
          const [value, wide] = [valueAt(x), times * errorAt(x)]
          return { x, low: value - wide, high: value + wide }
        })
  const made: DrawnCurve = {
    points: loop ?? places(POINTS).map((x) => ({ x, y: valueAt(x) })),
    band: bandBy(fit.errorAt),
    predicted: once(() => bandBy(fit.predictionErrorAt)),
  }
  known.set(fit, made)
  return made
}
