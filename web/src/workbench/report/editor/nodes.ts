import { MOST_INDENT, type TextStyle } from '@apokinema/core/investigation'
import { Extension, Mark, mergeAttributes, Node } from '@tiptap/core'
import { Bold } from '@tiptap/extension-bold'
import { Document } from '@tiptap/extension-document'
import { HardBreak } from '@tiptap/extension-hard-break'
import { Italic } from '@tiptap/extension-italic'
import { Link } from '@tiptap/extension-link'
import { Text } from '@tiptap/extension-text'
import { Dropcursor, Gapcursor, Placeholder } from '@tiptap/extensions'
import { Plugin } from '@tiptap/pm/state'
import { ReactNodeViewRenderer } from '@tiptap/react'
import { v4 as uuid } from 'uuid'
import { FixedBlockView } from '../blocks/FixedBlockView.tsx'
import { QuestionView } from '../blocks/QuestionView.tsx'
import { EquationChip, ReferenceChip, ValueChip } from './chips.tsx'

const TAGS: Record<TextStyle, string> = {
  paragraph: 'p',
  heading: 'h2',
  subheading: 'h3',
  bullet: 'p',
  numbered: 'p',
  quote: 'blockquote',
}

/** Returns the attribute that holds the id of a block; a pasted block gets a new one. */
const id = { default: null, rendered: false }

/** A paragraph, a heading or an item of a list. */
const TextBlock = Node.create({
  name: 'textBlock',
  group: 'block',
  content: 'inline*',
  addAttributes: () => ({
    id,
    style: { default: 'paragraph', rendered: false },
    indent: { default: 0, rendered: false },
  }),
  parseHTML: () => [
    { tag: 'h1, h2', attrs: { style: 'heading' } },
    { tag: 'h3, h4, h5, h6', attrs: { style: 'subheading' } },
    { tag: 'blockquote', attrs: { style: 'quote' } },
    { tag: 'ol > li', attrs: { style: 'numbered' } },
    { tag: 'li', attrs: { style: 'bullet' } },
    { tag: 'p' },
  ],
  renderHTML({ node, HTMLAttributes }) {
    const { style, indent } = node.attrs as { style: TextStyle; indent: number }
    return [
      TAGS[style],
      mergeAttributes(HTMLAttributes, { 'data-style': style, 'data-indent': String(indent) }),
      0,
    ]
  },
  addKeyboardShortcuts() {
    const styleNow = () =>
      this.editor.state.selection.$from.node(1)?.attrs as { style: TextStyle; indent: number }
    const set = (attributes: object) => this.editor.commands.updateAttributes('textBlock', attributes)
    const indentBy = (by: number) => {
      const now = styleNow()
      if (now?.style !== 'bullet' && now?.style !== 'numbered') return false
      return set({ indent: Math.min(MOST_INDENT, Math.max(0, now.indent + by)) })
    }
    return {
      Enter: () => {
        const { $from, empty } = this.editor.state.selection
        const now = styleNow()
        if (!now || !empty || $from.parent.type.name !== 'textBlock') return false
        const isList = now.style === 'bullet' || now.style === 'numbered'
        // An empty item ends its list.
        if (isList && $from.parent.content.size === 0)
          return set(now.indent > 0 ? { indent: now.indent - 1 } : { style: 'paragraph' })
        const isAtEnd = $from.parentOffset === $from.parent.content.size
        if (isList || !isAtEnd || now.style === 'paragraph') return this.editor.commands.splitBlock()
        return this.editor
          .chain()
          .splitBlock()
          .updateAttributes('textBlock', { style: 'paragraph', indent: 0 })
          .run()
      },
      Backspace: () => {
        const { $from, empty } = this.editor.state.selection
        if (!empty || $from.parentOffset > 0 || $from.parent.type.name !== 'textBlock') return false
        const now = styleNow()
        return now.style === 'paragraph' ? false : set({ style: 'paragraph', indent: 0 })
      },
      Tab: () => indentBy(1) || true,
      'Shift-Tab': () => indentBy(-1) || true,
      'Mod-Alt-0': () => set({ style: 'paragraph' }),
      'Mod-Alt-1': () => set({ style: 'heading' }),
      'Mod-Alt-2': () => set({ style: 'subheading' }),
      'Mod-Shift-7': () => set({ style: 'numbered' }),
      'Mod-Shift-8': () => set({ style: 'bullet' }),
    }
  },
})

/** A block that is not written in, such as a graph: what it shows comes from the document. */
const FixedBlock = Node.create({
  name: 'fixedBlock',
  group: 'block',
  atom: true,
  draggable: true,
  selectable: true,
  addAttributes: () => ({ id }),
  parseHTML: () => [],
  renderHTML: ({ HTMLAttributes }) => ['div', HTMLAttributes],
  addNodeView: () => ReactNodeViewRenderer(FixedBlockView),
})

/** A question with a place for its answer. */
const QuestionBlock = Node.create({
  name: 'questionBlock',
  group: 'block',
  content: 'inline*',
  defining: true,
  addAttributes: () => ({ id, question: { default: '', rendered: false } }),
  parseHTML: () => [],
  renderHTML: ({ HTMLAttributes }) => ['div', HTMLAttributes, 0],
  addNodeView: () => ReactNodeViewRenderer(QuestionView),
})

const inlineAtom = (name: string, attributes: string[], view: Parameters<typeof ReactNodeViewRenderer>[0]) =>
  Node.create({
    name,
    group: 'inline',
    inline: true,
    atom: true,
    selectable: true,
    addAttributes: () =>
      Object.fromEntries(attributes.map((key) => [key, { default: null, rendered: false }])),
    parseHTML: () => [],
    renderHTML: ({ HTMLAttributes }) => ['span', HTMLAttributes],
    addNodeView: () => ReactNodeViewRenderer(view, { as: 'span', className: 'chip' }),
  })

/** A number or name that follows its source. */
const Value = inlineAtom('value', ['source', 'format'], ValueChip)
const InlineEquation = inlineAtom('inlineEquation', ['tex'], EquationChip)
/** The number of a figure, a table or an equation. */
const Reference = inlineAtom('reference', ['block'], ReferenceChip)

const script = (name: 'subscript' | 'superscript', tag: 'sub' | 'sup') =>
  Mark.create({
    name,
    excludes: name === 'subscript' ? 'superscript' : 'subscript',
    parseHTML: () => [{ tag }],
    renderHTML: ({ HTMLAttributes }) => [tag, HTMLAttributes, 0],
    addKeyboardShortcuts() {
      return { [name === 'subscript' ? 'Mod-,' : 'Mod-.']: () => this.editor.commands.toggleMark(name) }
    },
  })

/** Gives every block an id of its own: a split copies that of the block before, and a pasted one has none. */
const UniqueIds = Extension.create({
  name: 'uniqueIds',
  addProseMirrorPlugins: () => [
    new Plugin({
      appendTransaction: (transactions, _, { doc, tr }) => {
        if (!transactions.some(({ docChanged }) => docChanged)) return null
        const seen = new Set<string>()
        doc.forEach((node, offset) => {
          const given = node.attrs.id as string | null
          if (given === null || seen.has(given)) tr.setNodeAttribute(offset, 'id', uuid())
          else seen.add(given)
        })
        return tr.docChanged ? tr : null
      },
    }),
  ],
})

/** Returns true if an address can be linked to; see the schema of the document. */
const isLink = (address: string) => /^(https?:\/\/|mailto:)[^\s]+$/i.test(address)

/** Returns the extensions of the report's editor. Undo is the session's own, so there is no history among them. */
export function reportExtensions() {
  return [
    Document.extend({ content: 'block+' }),
    Text,
    TextBlock,
    FixedBlock,
    QuestionBlock,
    Value,
    InlineEquation,
    Reference,
    HardBreak,
    Bold,
    Italic,
    script('subscript', 'sub'),
    script('superscript', 'sup'),
    Link.configure({
      openOnClick: false,
      isAllowedUri: isLink,
      HTMLAttributes: { rel: 'noopener noreferrer' },
    }),
    Dropcursor,
    Gapcursor,
    Placeholder.configure({ placeholder: 'Write, or type / for blocks and = for values' }),
    UniqueIds,
  ]
}
