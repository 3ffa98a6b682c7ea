import { nextOrder } from '../document/order.ts'
import type { RefusedProposal } from '../document/refusals.ts'
import type { Mutator } from '../patch.ts'

/** Remembers that a proposal was refused. */
export function refuse(id: string, proposal: RefusedProposal): Mutator {
  return (draft) => {
    draft.refusals[id] = { order: nextOrder(draft.refusals), ...proposal }
  }
}

/** Forgets that a proposal was refused: it is made again. */
export function takeBackRefusal(id: string): Mutator {
  return (draft) => {
    delete draft.refusals[id]
  }
}
