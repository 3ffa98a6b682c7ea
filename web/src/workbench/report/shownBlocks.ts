import type { ShownBlock } from '@apokinema/words/report/shown'
import { showReport } from '@apokinema/words/report/showReport'
import type { ReportSubject } from '@apokinema/words/report/subject'
import { createContext, useContext, useEffect, useState } from 'react'
import { createStore, type StoreApi, useStore } from 'zustand'
import { useSource } from './source.ts'

/** What the blocks of the report show, by their ids, in order. */
type ShownStore = StoreApi<ReadonlyMap<string, ShownBlock>>

const ShownContext = createContext<ShownStore>(createStore(() => new Map()))
export const ShownProvider = ShownContext.Provider

/** Returns what a block shows; undefined for one that is not in the document yet. */
export const useShown = (id: string): ShownBlock | undefined =>
  useStore(useContext(ShownContext), (shown) => shown.get(id))

/** Returns the number of a figure, a table or an equation, such as "Figure 2"; null for another block. */
export const useLabel = (id: string): string | null =>
  useStore(useContext(ShownContext), (all) => {
    const shown = all.get(id)?.shown
    return shown && 'label' in shown ? shown.label : null
  })

/** Returns what all blocks of the report show, in order. */
export const useAllShown = () => useStore(useContext(ShownContext))

/** Leaves out the contents of pictures, which are long: those of a block without a pin are told apart by its digest, and a pin has its date. */
const withoutPictures = (key: string, value: unknown) => (key === 'data' || key === 'svg' ? undefined : value)

/** Shows the blocks of one state of a report after the other. A block is the same object for as long as it shows the same. */
class Shower {
  private known = new Map<string, { text: string; block: ShownBlock }>()

  show(subject: ReportSubject): ReadonlyMap<string, ShownBlock> {
    const before = this.known
    this.known = new Map(
      showReport(subject).map((block) => {
        const same = before.get(block.id)
        if (same?.block.shown === block.shown && same.block.pinned === block.pinned) return [block.id, same]
        const text = JSON.stringify(block, withoutPictures)
        return [block.id, same?.text === text ? same : { text, block }]
      }),
    )
    return new Map([...this.known].map(([id, { block }]) => [id, block]))
  }
}

/** Returns what the blocks show, which follows their sources. Only what shows a changed block renders again. */
export function useShownStore(): ShownStore {
  const source = useSource()
  const [{ shower, store }] = useState(() => {
    const first = new Shower()
    return { shower: first, store: createStore(() => first.show(source.subject())) }
  })
  useEffect(() => {
    let before: ReportSubject | null = null
    const follow = () => {
      const now = source.subject()
      if (now === before) return
      before = now
      store.setState(shower.show(before), true)
    }
    follow()
    return source.follow(follow)
  }, [source, shower, store])
  return store
}
