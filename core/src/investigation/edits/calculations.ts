import type { Calculation } from '../document/fits.ts'
import { nextOrder } from '../document/order.ts'
import type { Mutator } from '../patch.ts'

/** Adds a calculation, or changes one. */
export function setCalculation(id: string, calculation: Omit<Calculation, 'order'>): Mutator {
  return (draft) => {
    const order = draft.calculations[id]?.order ?? nextOrder(draft.calculations)
    draft.calculations[id] = { order, ...calculation }
  }
}

export function removeCalculation(id: string): Mutator {
  return (draft) => {
    delete draft.calculations[id]
  }
}

/** Says within how many percent a class counts a result as right; null: nothing is said. */
export function setTolerance(percent: number | null): Mutator {
  return (draft) => {
    draft.tolerance = percent
  }
}
