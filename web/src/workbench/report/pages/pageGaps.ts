import { Extension } from '@tiptap/core'
import { Plugin, PluginKey } from '@tiptap/pm/state'
import { Decoration, DecorationSet } from '@tiptap/pm/view'
import { create } from 'zustand'

/** What stands between two pages on the screen. */
export interface PageGap {
  /** Number of the page that ends. */
  page: number
  /** Empty height left on it, in CSS pixels. */
  rest: number
}

/** A gap in front of a block, by the position of the block in the editor. */
export type GapAt = PageGap & { position: number }

/** Number of pages, and the gaps within tables: by the id of the block, then by the row that begins a page. */
export const usePageLayout = create<{
  pages: number
  tables: ReadonlyMap<string, ReadonlyMap<number, PageGap>>
}>(() => ({ pages: 1, tables: new Map() }))

const key = new PluginKey<DecorationSet>('pageGaps')

/** Sets the heights of an element that stands between two pages. */
export function fitGap(element: HTMLElement | null, { page, rest }: PageGap): void {
  if (!element) return
  element.style.setProperty('--rest', `${rest}px`)
  element.dataset.page = String(page)
}

function gapElement(gap: PageGap): HTMLElement {
  const element = document.createElement('div')
  element.className = 'page-gap'
  element.contentEditable = 'false'
  element.setAttribute('aria-hidden', 'true')
  fitGap(element, gap)
  return element
}

/** Shows gaps between pages; in print each is a forced break. They are not part of the text. */
export const PageGaps = Extension.create({
  name: 'pageGaps',
  addProseMirrorPlugins: () => [
    new Plugin<DecorationSet>({
      key,
      state: {
        init: () => DecorationSet.empty,
        apply: (transaction, before) => {
          const gaps = transaction.getMeta(key) as GapAt[] | undefined
          if (!gaps) return before.map(transaction.mapping, transaction.doc)
          return DecorationSet.create(
            transaction.doc,
            gaps.map((gap) =>
              Decoration.widget(gap.position, () => gapElement(gap), {
                side: -1,
                ignoreSelection: true,
                key: `${gap.page} ${gap.rest}`,
              }),
            ),
          )
        },
      },
      props: { decorations: (state) => key.getState(state) },
    }),
  ],
})

/** The key under which a transaction brings gaps. */
export const PAGE_GAPS = key
