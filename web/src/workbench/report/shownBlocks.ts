import type { Investigation } from '@apokinema/core/investigation'
import type { ShownBlock } from '@apokinema/words/report/shown'
import { showReport } from '@apokinema/words/report/showReport'
import { createContext, useContext, useMemo, useRef } from 'react'

/** What the blocks of the report show, by their ids. */
const ShownContext = createContext<ReadonlyMap<string, ShownBlock>>(new Map())
export const ShownProvider = ShownContext.Provider

/** Returns what a block shows; undefined for one that is not in the document yet. */
export const useShown = (id: string): ShownBlock | undefined => useContext(ShownContext).get(id)

/** Returns what all blocks of the report show, in order. */
export const useAllShown = () => useContext(ShownContext)

/** Leaves out the contents of pictures, which are long: those of a block without a pin are told apart by its digest, and a pin has its date. */
const withoutPictures = (key: string, value: unknown) => (key === 'data' || key === 'svg' ? undefined : value)

/** Returns what all blocks show. A block is the same object for as long as it shows the same, so that only changed ones render. */
export function useShownBlocks(document: Investigation): ReadonlyMap<string, ShownBlock> {
  const known = useRef(new Map<string, { text: string; block: ShownBlock }>())
  return useMemo(() => {
    const before = known.current
    known.current = new Map(
      showReport(document).map((block) => {
        const text = JSON.stringify(block, withoutPictures)
        const same = before.get(block.id)
        return [block.id, same?.text === text ? same : { text, block }]
      }),
    )
    return new Map([...known.current].map(([id, { block }]) => [id, block]))
  }, [document])
}
