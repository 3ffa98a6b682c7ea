import {
  type BlockContent,
  type Inline,
  isLink,
  MOST_INDENT,
  readBlockContent,
  readInline,
  type TextStyle,
} from '@apokinema/core/investigation'
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
import { PageGaps } from '../pages/pageGaps.ts'
import { EquationChip, ReferenceChip, ValueChip } from './chips.tsx'
import { MoveBlocks } from './moveBlocks.ts'

const TAGS: Record<TextStyle, string> = {
  paragraph: 'p',
  heading: 'h2',
  subheading: 'h3',
  bullet: 'p',
  numbered: 'p',
  quote: 'blockquote',
}

/** Returns an attribute that is neither written to HTML nor read from it: pasted elements may have one of the same name. */
const kept = (value: unknown) => ({ default: value, rendered: false, parseHTML: () => null })

/** The id of a block; a pasted block gets a new one. */
const id = kept(null)

/** Attribute of HTML on the clipboard that holds a piece of text or a block, as JSON. */
const COPIED = 'data-apokinema'

/** Returns a block as HTML, from which a copy of it is put in where it is dropped or pasted. */
export function copyHtml(content: BlockContent): string {
  const element = document.createElement('div')
  element.setAttribute(COPIED, JSON.stringify(content))
  return element.outerHTML
}

/** Returns what was copied with an element, checked: HTML on the clipboard may come from anywhere. */
function readCopied<T>(element: HTMLElement, read: (value: unknown) => T | null): T | null {
  try {
    return read(JSON.parse(element.getAttribute(COPIED) ?? ''))
  } catch {
    return null
  }
}

/** A paragraph, a heading or an item of a list. */
const TextBlock = Node.create({
  name: 'textBlock',
  group: 'block',
  content: 'inline*',
  // A pasted heading stays one.
  extendNodeSchema: ({ name }) => (name === 'textBlock' ? { definingForContent: true } : {}),
  addAttributes: () => ({
    id,
    style: kept('paragraph'),
    indent: kept(0),
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
      mergeAttributes(HTMLAttributes, { 'data-style': style, 'data-indent': String(indent), dir: 'auto' }),
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
const FixedBlock = Node.create<{ contentOf: (id: string) => BlockContent | null }>({
  name: 'fixedBlock',
  group: 'block',
  atom: true,
  draggable: true,
  selectable: true,
  addOptions: () => ({ contentOf: () => null }),
  /** `content` is that of a copied block until the document has it. */
  addAttributes: () => ({ id, content: kept(null) }),
  parseHTML: () => [
    {
      tag: `div[${COPIED}]`,
      getAttrs: (element) => {
        const content = readCopied(element, readBlockContent)
        return content !== null && { content }
      },
    },
  ],
  renderHTML({ node }) {
    const { id: of, content } = node.attrs as { id: string; content: BlockContent | null }
    return ['div', { [COPIED]: JSON.stringify(content ?? this.options.contentOf(of)) }]
  },
  addNodeView: () => ReactNodeViewRenderer(FixedBlockView),
})

/** A question with a place for its answer. */
const QuestionBlock = Node.create({
  name: 'questionBlock',
  group: 'block',
  content: 'inline*',
  defining: true,
  addAttributes: () => ({ id, question: kept('') }),
  parseHTML: () => [
    {
      tag: 'div[data-question]',
      getAttrs: (element) => ({ question: element.getAttribute('data-question') }),
    },
  ],
  renderHTML: ({ node }) => ['div', { 'data-question': node.attrs.question }, 0],
  addNodeView: () => ReactNodeViewRenderer(QuestionView),
})

/** Returns a node of the text whose attributes are those of a piece of a kind. */
const inlineAtom = (
  name: string,
  kind: Inline['kind'],
  attributes: string[],
  view: Parameters<typeof ReactNodeViewRenderer>[0],
) =>
  Node.create({
    name,
    group: 'inline',
    inline: true,
    atom: true,
    selectable: true,
    addAttributes: () => Object.fromEntries(attributes.map((key) => [key, kept(null)])),
    parseHTML: () => [
      {
        tag: `span[${COPIED}]`,
        getAttrs: (element) => {
          const piece = readCopied(element, readInline)
          return piece?.kind === kind && { ...piece }
        },
      },
    ],
    renderHTML: ({ node }) => ['span', { [COPIED]: JSON.stringify({ kind, ...node.attrs }) }],
    addNodeView: () => ReactNodeViewRenderer(view, { as: 'span', className: 'chip' }),
  })

/** A number or name that follows its source. */
const Value = inlineAtom('value', 'value', ['source', 'format'], ValueChip)
const InlineEquation = inlineAtom('inlineEquation', 'equation', ['tex'], EquationChip)
/** The number of a figure, a table or an equation. */
const Reference = inlineAtom('reference', 'reference', ['block'], ReferenceChip)

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

/**
 * Returns the extensions of the report's editor. Undo is the session's own, so there is no history among them.
 *
 * @param contentOf returns what a block of the document shows, for a copy of it
 */
export function reportExtensions(contentOf: (id: string) => BlockContent | null) {
  return [
    Document.extend({ content: 'block+' }),
    Text,
    TextBlock,
    FixedBlock.configure({ contentOf }),
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
    PageGaps,
    MoveBlocks,
  ]
}
