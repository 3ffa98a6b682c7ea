import { applyMap, composedMap, type LinearMap } from '../../regression/index.ts'
import {
  biasBounds,
  DERIVATIVES,
  type DerivationPoints,
  type Derived,
  pickPoints,
} from '../derivatives/index.ts'
import { type DerivativeQuantity, type PositionQuantity, QUANTITIES } from '../quantities/index.ts'
import { type Column, once, type PositionColumn } from './column.ts'
import type { ColumnContext } from './columnContext.ts'

/** Derivatives of one body, kept: those of columns with the same rows have the same map. */
export class DerivativeColumns {
  private readonly known = new Map<string, { points: DerivationPoints; derived: Derived }>()
  private readonly pointsOf = new Map<string, DerivationPoints>()

  constructor(private readonly context: ColumnContext) {}

  /** Returns the column of a derivative. */
  make(quantity: DerivativeQuantity): Column {
    const { context } = this
    const { derivation } = context.settings
    const method = DERIVATIVES[derivation.method]
    const position = context.positions(QUANTITIES[quantity.of] as PositionQuantity)
    const { points, derived } = this.derivedFrom(position, quantity.order)
    const isWhole = position.rows.length === context.count
    const rows = isWhole ? derived.rows : derived.rows.map((i) => position.rows[i])
    const values = context.spread(rows, applyMap(derived.map, position.values))
    return {
      ...context.base(quantity),
      values,
      calibrationSensitivities: context.scaled(
        values,
        { length: quantity.dimension.length, time: -quantity.order },
        (parameter) =>
          context.spread(rows, applyMap(derived.map, context.axesSensitivity(position, parameter))),
      ),
      errors: context.spread(rows, derivedErrors(derived, position.errorMap())),
      rows,
      position,
      map: derived.map,
      scatter: derived.scatter ?? null,
      notes: [{ code: 'derived', derivation }],
      bias: once(() => context.spread(rows, biasBounds(points, derived, method.exact, position.values))),
      addSensitivity: (i, factor, into) => {
        derived.map.coefficients[i].forEach((coefficient, k) => {
          const at = derived.map.start[i] + k
          context.addRowSensitivity(position.rows[at], position.gradients[at], factor * coefficient, into)
        })
      },
    }
  }

  private derivedFrom(
    position: PositionColumn,
    order: 1 | 2,
  ): { points: DerivationPoints; derived: Derived } {
    const { settings, rowTimes, count } = this.context
    const { derivation } = settings
    const method = DERIVATIVES[derivation.method]
    const whose = position.rows.length < count ? position.quantity.id : ''
    const key = `${method.readsValues ? position.quantity.id : whose} ${order}`
    const known = this.known.get(key)
    if (known) return known
    const points = this.pointsOf.get(whose) ?? pickPoints(rowTimes, position.rows)
    this.pointsOf.set(whose, points)
    const made = {
      points,
      derived: method.derive(points, order, derivation.reach, position.values, derivation.weighted),
    }
    this.known.set(key, made)
    return made
  }
}

/** Returns the standard errors of derived values; `errors` maps independent unit errors to the errors of the positions. */
function derivedErrors({ map, widened }: Derived, errors: LinearMap): Float64Array {
  const { coefficients } = composedMap(map, errors)
  return Float64Array.from(
    coefficients,
    (row, i) => (widened ? widened[i] : 1) * Math.sqrt(row.reduce((sum, one) => sum + one * one, 0)),
  )
}
