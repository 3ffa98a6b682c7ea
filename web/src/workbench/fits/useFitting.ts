import { analyse } from '@apokinema/core/analysis'
import { variableOf } from '@apokinema/core/fitting'
import { edits, type Graph, type Investigation, type Mutator, TIME } from '@apokinema/core/investigation'
import { v4 as uuid } from 'uuid'
import { openedState } from '../../document/openedState.ts'
import { useSession } from '../../document/SessionContext.tsx'
import { workbench } from '../workbenchStore.ts'
import type { FitChoice } from './FitMenu.tsx'

/** The stretch for which models are suggested; null for none. */
export const useSuggesting = openedState<{ stretch: string | null }>('suggesting', { stretch: null })

/** The fit whose curve is being laid by eye; null for none. */
export const useByEye = openedState<{ fit: string | null }>('by eye', { fit: null })

/** Returns an initial free form that is simple to change, in the graph's variable. */
function firstForm(investigation: Investigation, xQuantity: string): string {
  const quantity = xQuantity === TIME ? null : analyse(investigation).quantity(xQuantity)
  return `a + b*${quantity ? variableOf(quantity) : 't'}`
}

/** Returns the edit for a choice of the menu: the model, and what is fitted together. */
export function remodelled(
  id: string,
  choice: Exclude<FitChoice, 'suggest'>,
  { body, quantity, xQuantity }: Graph,
): Mutator {
  return (draft) => {
    const isY = quantity === 'y'
    const model = choice === 'throw' ? (isY ? 'uniform-acceleration' : 'uniform') : choice
    // What was expected of another model's reading can't be compared with this one's.
    const expected = model === draft.fits[id].model ? draft.fits[id].expected : null
    const expression = choice === 'free-form' ? draft.fits[id].expression || firstForm(draft, xQuantity) : ''
    edits.changeFit(id, { model, expression, expected, fixed: {}, shared: {}, start: {}, name: '' })(draft)
    for (const other of Object.keys(draft.fits[id].together)) edits.fitApart(other, id)(draft)
    if (choice === 'throw')
      edits.fitTogether(uuid(), id, {
        body,
        quantity: isY ? 'x' : 'y',
        model: isY ? 'uniform' : 'uniform-acceleration',
      })(draft)
  }
}

/** Returns the edit that adds a fit to a stretch, as chosen in the menu. */
export function fitMutator(stretch: string, choice: Exclude<FitChoice, 'suggest'>, graph: Graph): Mutator {
  return (draft) => {
    const id = uuid()
    edits.addFit(id, stretch, 'uniform')(draft)
    remodelled(id, choice, graph)(draft)
  }
}

/** Returns a function that fits a choice of the menu to a stretch, which is added first if there is none. */
export function useFitting(graphId: string, graph: Graph) {
  const session = useSession()
  return (choice: FitChoice, stretch: string | null, all: () => { from: number; to: number }) => {
    const fitted = stretch ?? uuid()
    const laid: Mutator = (draft) => {
      if (stretch) return
      const { from, to } = all()
      edits.addStretch(fitted, graphId, from, to)(draft)
    }
    if (choice === 'suggest') {
      if (!stretch) session.edit('lay a stretch', laid)
      useSuggesting.setState({ stretch: fitted })
    } else
      session.edit('fit a stretch', (draft) => {
        laid(draft)
        fitMutator(fitted, choice, graph)(draft)
      })
    workbench.select({ kind: 'stretch', id: fitted })
  }
}
