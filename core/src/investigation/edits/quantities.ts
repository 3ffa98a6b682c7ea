import { nextOrder } from '../document/order.ts'
import type { Constant, CustomQuantity } from '../document/quantities.ts'
import type { Mutator } from '../patch.ts'
import { removeDangling } from '../references.ts'

/** States the acceleration of free fall here, in m/s², with its standard error. */
export function setFreeFall(freeFall: { value: number; error: number }): Mutator {
  return (draft) => {
    draft.freeFall = freeFall
  }
}

/** Chooses the direction along which displacements are measured, in radians from +x towards +y. */
export function setDirection(direction: number): Mutator {
  return (draft) => {
    draft.direction = direction
  }
}

/** Adds a constant, or changes one. */
export function setConstant(id: string, constant: Omit<Constant, 'order'>): Mutator {
  return (draft) => {
    const order = draft.constants[id]?.order ?? nextOrder(draft.constants)
    draft.constants[id] = { order, ...constant }
  }
}

export function removeConstant(id: string): Mutator {
  return (draft) => {
    delete draft.constants[id]
  }
}

/** Defines a quantity, or changes one. */
export function setQuantity(id: string, quantity: Omit<CustomQuantity, 'order'>): Mutator {
  return (draft) => {
    const order = draft.quantities[id]?.order ?? nextOrder(draft.quantities)
    draft.quantities[id] = { order, ...quantity }
  }
}

/** Removes a quantity that somebody has defined, with the graphs that show it. */
export function removeQuantity(id: string): Mutator {
  return (draft) => {
    delete draft.quantities[id]
    removeDangling(draft)
  }
}
