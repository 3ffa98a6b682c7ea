import { Box, IconButton } from '@chakra-ui/react'
import { NodeSelection } from '@tiptap/pm/state'
import type { Editor } from '@tiptap/react'
import { GripVertical, Plus } from 'lucide-react'
import { type RefObject, useEffect, useState } from 'react'

/** A block under the pointer. */
interface Pointed {
  /** Where it begins in the editor. */
  position: number
  element: HTMLElement
  /** From the top of the sheet, in its own pixels. */
  top: number
}

/** Returns the block at a height of the window; null between two of them. */
function blockAt(editor: Editor, sheet: HTMLElement, clientY: number): Pointed | null {
  const scale = sheet.getBoundingClientRect().width / sheet.offsetWidth
  let found: Pointed | null = null
  editor.state.doc.forEach((_, position) => {
    const element = editor.view.nodeDOM(position)
    if (found || !(element instanceof HTMLElement)) return
    const { top, bottom } = element.getBoundingClientRect()
    if (clientY >= top && clientY < bottom)
      found = { position, element, top: (top - sheet.getBoundingClientRect().top) / scale }
  })
  return found
}

/** Opens the menu of blocks in a new paragraph below a block. */
function putInBelow(editor: Editor, position: number): void {
  const behind = position + editor.state.doc.nodeAt(position)!.nodeSize
  editor
    .chain()
    .insertContentAt(behind, { type: 'textBlock' })
    .setTextSelection(behind + 1)
    .focus()
    .insertContent('/')
    .run()
}

/** Begins to drag a whole block. */
function startDrag(editor: Editor, { position, element }: Pointed, transfer: DataTransfer): void {
  const { view, state } = editor
  const selection = NodeSelection.create(state.doc, position)
  view.dispatch(state.tr.setSelection(selection))
  const slice = selection.content()
  const { dom, text } = view.serializeForClipboard(slice)
  transfer.clearData()
  transfer.setData('text/html', dom.innerHTML)
  transfer.setData('text/plain', text)
  transfer.effectAllowed = 'copyMove'
  transfer.setDragImage(element, 0, 0)
  // The editor's own drags have the selection among them: with it the block is moved and not copied.
  view.dragging = Object.assign({ slice, move: true }, { node: selection })
}

/**
 * What stands beside the block under the pointer: a sign that puts something in below, and a grip to move it by.
 * With the keyboard, "/" and Alt with an arrow do the same.
 */
export function BlockHandle({ editor, sheet }: { editor: Editor; sheet: RefObject<HTMLElement | null> }) {
  const [pointed, setPointed] = useState<Pointed | null>(null)
  useEffect(() => {
    const element = sheet.current
    if (!element) return
    const follow = ({ clientY, buttons }: PointerEvent) => {
      if (buttons === 0) setPointed(blockAt(editor, element, clientY))
    }
    const leave = () => setPointed(null)
    element.addEventListener('pointermove', follow)
    element.addEventListener('pointerleave', leave)
    editor.on('update', leave)
    return () => {
      element.removeEventListener('pointermove', follow)
      element.removeEventListener('pointerleave', leave)
      editor.off('update', leave)
    }
  }, [editor, sheet])
  if (!pointed) return null
  const { position, top } = pointed
  return (
    <Box
      className="tools block-handle"
      contentEditable={false}
      position="absolute"
      left="6mm"
      top={`${top}px`}
      display="flex"
    >
      <IconButton
        size="2xs"
        variant="ghost"
        tabIndex={-1}
        aria-label="Put in below this block"
        title="Put in below"
        onClick={() => putInBelow(editor, position)}
      >
        <Plus size={15} />
      </IconButton>
      <IconButton
        size="2xs"
        variant="ghost"
        tabIndex={-1}
        draggable
        cursor="grab"
        aria-label="Move this block"
        title="Drag to move"
        onClick={() => {
          editor.commands.setNodeSelection(position)
          editor.view.focus()
        }}
        onDragStart={({ dataTransfer }) => startDrag(editor, pointed, dataTransfer)}
      >
        <GripVertical size={15} />
      </IconButton>
    </Box>
  )
}
