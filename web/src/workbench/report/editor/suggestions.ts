import { AS_MEASURED, type BlockContent } from '@apokinema/core/investigation'
import { blockLabels } from '@apokinema/words/report/showReport'
import { type Editor, Extension, type Range } from '@tiptap/core'
import { PluginKey } from '@tiptap/pm/state'
import Suggestion, { type SuggestionOptions } from '@tiptap/suggestion'
import { create } from 'zustand'
import type { ReportSource } from '../source.ts'
import { STYLE_NAMES } from '../textStyles.ts'
import { insertBlocks, selectBlock } from './insert.ts'
import { choosePictures } from './insertPictures.ts'
import type { Writing } from './writing.ts'

/** Something that can be put in where the cursor is. */
export interface InsertItem {
  title: string
  detail: string
  apply: (editor: Editor, range: Range) => void
}

/** The menu at the cursor; `items` is empty while it is closed. */
export const useInsertMenu = create<{
  items: InsertItem[]
  index: number
  /** Of the cursor, in CSS pixels of the window. */
  at: { left: number; top: number; bottom: number } | null
  choose: (item: InsertItem) => void
}>(() => ({ items: [], index: 0, at: null, choose: () => {} }))

const MOST_ITEMS = 40

/** Returns true if every word of a query begins a word of a text. */
function matches(text: string, query: string): boolean {
  const words = text.toLowerCase().split(/[^\p{L}\p{N}²χ]+/u)
  return query
    .toLowerCase()
    .split(/\s+/)
    .every((part) => part === '' || words.some((word) => word.startsWith(part)))
}

const OTHERS: [string, string, BlockContent][] = [
  ['Equation', 'on a line of its own', { kind: 'equation', tex: '' }],
  ['Question', 'with a place for the answer', { kind: 'question', question: '', answer: [] }],
  ['Page break', 'the next block begins a page', { kind: 'page-break' }],
]

/** Returns what the slash menu offers: styles, other blocks, and things of what the report is written of. */
function blockItems(source: ReportSource, writing: Writing): InsertItem[] {
  const { session } = source
  const insert =
    (content: BlockContent): InsertItem['apply'] =>
    (editor, range) => {
      editor.chain().deleteRange(range).run()
      const [id] = insertBlocks(session, writing, [content])
      // An equation and a question are written at once; behind anything else, writing goes on.
      if (content.kind === 'equation' || content.kind === 'question') selectBlock(writing, id)
    }
  return [
    ...STYLE_NAMES.map(([style, title, detail]) => ({
      title,
      detail,
      apply: (editor: Editor, range: Range) =>
        void editor.chain().deleteRange(range).updateAttributes('textBlock', { style, indent: 0 }).run(),
    })),
    {
      title: 'Equation in the text',
      detail: 'within a line',
      apply: (editor, range) =>
        void editor
          .chain()
          .focus()
          .insertContentAt(range, { type: 'inlineEquation', attrs: { tex: '' } })
          .setNodeSelection(range.from)
          .run(),
    },
    {
      title: 'Picture from a file',
      detail: 'such as a photo of the set-up',
      apply: (editor: Editor, range: Range) => {
        editor.chain().deleteRange(range).run()
        choosePictures(session, writing)
      },
    },
    ...OTHERS.map(([title, detail, content]) => ({ title, detail, apply: insert(content) })),
    ...source
      .blockChoices()
      .flatMap(({ choices }) =>
        choices.map(({ title, detail, content }) => ({ title, detail, apply: insert(content) })),
      ),
  ]
}

/** Returns the values and the numbers of figures that can stand in a text. */
function valueItems(source: ReportSource): InsertItem[] {
  const put =
    (node: object): InsertItem['apply'] =>
    (editor, range) =>
      void editor
        .chain()
        .focus()
        .insertContentAt(range, [node, { type: 'text', text: ' ' }])
        .run()
  return [
    ...source.valueChoices().map(({ label, source: of, text }) => ({
      title: label,
      detail: text,
      apply: put({ type: 'value', attrs: { source: of, format: AS_MEASURED } }),
    })),
    ...[...blockLabels(source.session.document.report.blocks)].map(([block, label]) => ({
      title: label,
      detail: 'its number in the text',
      apply: put({ type: 'reference', attrs: { block } }),
    })),
  ]
}

const close = () => useInsertMenu.setState({ items: [], index: 0, at: null })

function plugin(editor: Editor, name: string, char: string, itemsNow: () => InsertItem[]) {
  const options: SuggestionOptions<InsertItem, InsertItem> = {
    editor,
    char,
    pluginKey: new PluginKey(name),
    allowedPrefixes: null,
    items: ({ query }) =>
      itemsNow()
        .filter(({ title }) => matches(title, query))
        .slice(0, MOST_ITEMS),
    command: ({ editor: of, range, props }) => props.apply(of, range),
    allow: ({ state, range }) => {
      // "/" within a word or a number, such as m/s, opens nothing.
      const before = state.doc.textBetween(Math.max(0, range.from - 1), range.from, '\n', ' ')
      return before === '' || /\s/.test(before)
    },
    render: () => {
      let choose: (item: InsertItem) => void = () => {}
      const show = (props: {
        items: InsertItem[]
        clientRect?: (() => DOMRect | null) | null
        command: (item: InsertItem) => void
      }) => {
        choose = props.command
        const box = props.clientRect?.() ?? null
        useInsertMenu.setState(({ index }) => ({
          items: props.items,
          index: Math.min(index, Math.max(0, props.items.length - 1)),
          at: box && { left: box.left, top: box.top, bottom: box.bottom },
          choose: (item) => choose(item),
        }))
      }
      return {
        onStart: (props) => {
          useInsertMenu.setState({ index: 0 })
          show(props)
        },
        onUpdate: show,
        onExit: close,
        onKeyDown: ({ event }) => {
          const { items, index } = useInsertMenu.getState()
          if (items.length === 0) return false
          const by = { ArrowDown: 1, ArrowUp: -1 }[event.key]
          if (by) {
            useInsertMenu.setState({ index: (index + by + items.length) % items.length })
            return true
          }
          if (event.key === 'Enter' || event.key === 'Tab') {
            choose(items[index])
            return true
          }
          if (event.key === 'Escape') {
            close()
            return true
          }
          return false
        },
      }
    },
  }
  return Suggestion(options)
}

/** Returns the menus at the cursor: "/" for blocks, "=" for values. */
export function suggestions(source: ReportSource, writing: Writing): Extension {
  return Extension.create({
    name: 'suggestions',
    addProseMirrorPlugins() {
      return [
        plugin(this.editor, 'blocks', '/', () => blockItems(source, writing)),
        plugin(this.editor, 'values', '=', () => valueItems(source)),
      ]
    },
  })
}
