import type { Calculation } from '../document/fits.ts'
import { nextOrder } from '../document/order.ts'
import type { Recipe } from '../patch.ts'

/** Adds a calculation, or changes one. */
export function setCalculation(id: string, calculation: Omit<Calculation, 'order'>): Recipe {
  return (draft) => {
    const order = draft.calculations[id]?.order ?? nextOrder(draft.calculations)
    draft.calculations[id] = { order, ...calculation }
  }
}

export function removeCalculation(id: string): Recipe {
  return (draft) => {
    delete draft.calculations[id]
  }
}

/** Says within how many percent a class counts a result as right; null: nothing is said. */
export function setTolerance(percent: number | null): Recipe {
  return (draft) => {
    draft.tolerance = percent
  }
}
