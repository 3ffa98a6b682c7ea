import type { PlacedMarks } from '../placedMarks.ts'
import type { Need } from '../quantities/index.ts'
import { type BodyConstants, QUANTITIES, type Quantity } from '../quantities/index.ts'
import type { Column, RowTimes } from './column.ts'
import { type BodyColumns, ColumnContext, type ColumnSettings, type OtherBodies } from './columnContext.ts'
import { DerivativeColumns } from './derivatives.ts'
import { makeDerived } from './derived.ts'
import { makeMultiBody } from './multiBody.ts'
import { makePath } from './path.ts'
import { makePositions } from './positions.ts'

/** The columns of one body, each computed when it is first asked for. */
export class Columns implements BodyColumns {
  private readonly known = new Map<string, Column>()
  private readonly context: ColumnContext
  private readonly derivatives: DerivativeColumns

  constructor(
    marks: PlacedMarks,
    readonly rowTimes: RowTimes,
    settings: ColumnSettings,
  ) {
    this.context = new ColumnContext(marks, rowTimes, settings, (id) => this.column(id))
    this.derivatives = new DerivativeColumns(this.context)
  }

  get frames(): readonly number[] {
    return this.context.marks.frames
  }

  get constants(): BodyConstants {
    return this.context.settings.constants
  }

  /** Sets the bodies of quantities of several bodies. */
  set others(others: OtherBodies) {
    this.context.others = others
  }

  /** @throws RangeError for an unknown quantity */
  column(id: string): Column {
    const known = this.known.get(id)
    if (known) return known
    const column = Object.hasOwn(QUANTITIES, id)
      ? this.make(QUANTITIES[id as keyof typeof QUANTITIES])
      : this.makeCustom(id)
    this.known.set(id, column)
    return column
  }

  private makeCustom(id: string): Column {
    const defined = this.context.settings.custom(id)
    if (!defined) throw new RangeError(`There is no quantity ${id}.`)
    return defined.quantity
      ? this.make(defined.quantity)
      : this.context.empty({ ...QUANTITIES.v, id, unit: '' }, { code: 'definition', problem: defined.error })
  }

  private make(quantity: Quantity): Column {
    const missing = quantity.needs.find((need) => !this.has(need))
    if (missing) return this.context.empty(quantity, { code: missing })
    switch (quantity.kind) {
      case 'position':
        return makePositions(quantity, this.context)
      case 'derivative':
        return this.derivatives.make(quantity)
      case 'derived':
        return makeDerived(quantity, this.context)
      case 'multiBody':
        return makeMultiBody(quantity, this.context, this)
      case 'path':
        return makePath(quantity, this.context)
    }
  }

  private has(need: Need): boolean {
    const { settings, others, marks } = this.context
    switch (need) {
      case 'mass':
        return settings.constants.mass > 0
      case 'masses':
        return others.all().every(({ constants }) => constants.mass > 0)
      case 'scale':
        return settings.length !== 'px'
      case 'second':
        return marks.hasSeconds
      case 'other':
        return others.pair().length === 2
    }
  }
}
