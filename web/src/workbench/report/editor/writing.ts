import { type Block, type ById, edits } from '@apokinema/core/investigation'
import type { Editor, JSONContent } from '@tiptap/core'
import type { Node as ProseMirrorNode } from '@tiptap/pm/model'
import { v4 as uuid } from 'uuid'
import type { ReportSession } from '../source.ts'
import { changedBlocks, editorContent } from './convert.ts'

/** Time in milliseconds after which what is written becomes an edit, so that little is lost if the browser ends. */
const KEEP_AFTER = 250
/** Pause in writing, in milliseconds, that ends a step of the undo history. */
const PAUSE = 700

/** Marks transactions that bring the document's blocks into the editor. */
export const FROM_DOCUMENT = 'fromDocument'

/** The JSON of nodes, which never change. */
const jsonOf = new WeakMap<ProseMirrorNode, JSONContent>()

function nodesOf(doc: ProseMirrorNode): JSONContent[] {
  return doc.children.map((node) => {
    const json = jsonOf.get(node) ?? (node.toJSON() as JSONContent)
    jsonOf.set(node, json)
    return json
  })
}

/** Brings blocks into the editor: only nodes that differ are replaced, so that the cursor stays. */
function showBlocks(editor: Editor, blocks: ById<Block>): void {
  const { state, schema } = editor
  const wanted = editorContent(blocks).map((json) => schema.nodeFromJSON(json))
  if (wanted.length === 0) wanted.push(schema.nodes.textBlock.create())
  const { doc } = state
  const isSame = (now: number, other: number) => doc.child(now).eq(wanted[other])
  let first = 0
  while (first < doc.childCount && first < wanted.length && isSame(first, first)) first++
  let [endNow, endWanted] = [doc.childCount, wanted.length]
  while (endNow > first && endWanted > first && isSame(endNow - 1, endWanted - 1)) {
    endNow--
    endWanted--
  }
  if (endNow === first && endWanted === first) return
  const offset = (child: number) => {
    let at = 0
    for (let i = 0; i < child; i++) at += doc.child(i).nodeSize
    return at
  }
  const tr = state.tr.replaceWith(offset(first), offset(endNow), wanted.slice(first, endWanted))
  editor.view.dispatch(tr.setMeta(FROM_DOCUMENT, true))
}

/** Milliseconds after which an edit is made even if keys leave no pause. */
const MOST_WAIT = 250

/** Does something between keys: an edit of a long report takes longer than a key may wait. Some browsers don't tell when they are idle. */
function whenIdle(act: () => void): void {
  if ('requestIdleCallback' in window) requestIdleCallback(act, { timeout: MOST_WAIT })
  else act()
}

/**
 * Keeps the editor and the document's blocks in step. What was written becomes an edit a moment later; blocks that others change
 * meanwhile are shown at once, without touching those that are being written in.
 */
export class Writing {
  private timer: ReturnType<typeof setTimeout> | null = null
  /** When something was written last, and the name of the undo step that it belongs to. */
  private last = Number.NEGATIVE_INFINITY
  private burst = ''
  /** The document's blocks as they were shown last: what differs from them was written here. */
  private base: ById<Block>
  editor: Editor | null = null

  constructor(private readonly session: ReportSession) {
    this.base = session.document.report.blocks
  }

  /** Notes that something was written. */
  later(): void {
    const now = performance.now()
    if (now - this.last > PAUSE) this.burst = uuid()
    this.last = now
    this.timer ??= this.soon()
    this.session.noteWriting(true)
  }

  /**
   * Makes an edit of what was written a moment later, and so on for as long as somebody writes. Only then the session is told that
   * writing has ended: for people who go on, the state of saving would change with every edit.
   */
  private soon(): ReturnType<typeof setTimeout> {
    const since = performance.now()
    const act = () => {
      // What was committed meanwhile ended writing.
      if (this.timer !== timer) return
      const goesOn = this.last > since
      this.commit(goesOn)
      if (goesOn) this.timer = this.soon()
    }
    const timer = setTimeout(() => whenIdle(act), KEEP_AFTER)
    return timer
  }

  /**
   * Makes an edit of what was written since the last one. The edits of one burst of writing are undone together.
   *
   * @param goesOn whether writing goes on
   */
  commit(goesOn = false): void {
    if (this.timer) clearTimeout(this.timer)
    this.timer = null
    const changed = this.written()
    if (Object.keys(changed).length > 0)
      this.session.edit('write in the report', edits.setBlocks(changed), this.burst)
    this.session.noteWriting(goesOn)
  }

  /** Shows the document's blocks, with what has been written since the last edit. */
  show(): void {
    const { blocks } = this.session.document.report
    const changed = this.written()
    this.base = blocks
    if (!this.editor || this.editor.isDestroyed) return
    const merged = Object.entries({ ...blocks, ...changed }).filter(([, block]) => block !== null)
    showBlocks(this.editor, Object.fromEntries(merged) as ById<Block>)
  }

  private written(): Record<string, Block | null> {
    if (!this.editor || this.editor.isDestroyed) return {}
    const changed = changedBlocks(nodesOf(this.editor.state.doc), this.base)
    // An empty report has an empty paragraph in the editor, which is nothing that was written.
    const isEmpty = Object.keys(this.base).length === 0 && this.editor.isEmpty
    return isEmpty ? {} : changed
  }
}
