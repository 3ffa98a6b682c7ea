import type { TextStyle } from '@apokinema/core/investigation'
import { HStack, IconButton } from '@chakra-ui/react'
import { type Editor, useEditorState } from '@tiptap/react'
import { Bold, Italic, Sigma, Subscript, Superscript } from 'lucide-react'
import { Select } from '../../common/Select.tsx'
import { SymbolMenu } from './SymbolMenu.tsx'
import { STYLE_NAMES } from './textStyles.ts'

const STYLES = STYLE_NAMES.map(([style, name]) => [style, name] as const)

/** Style and emphasis of the text at the cursor, symbols and equations. */
export function TextTools({ editor }: { editor: Editor }) {
  const state = useEditorState({
    editor,
    selector: ({ editor: now }) => ({
      style: (now.getAttributes('textBlock').style as TextStyle | undefined) ?? null,
      bold: now.isActive('bold'),
      italic: now.isActive('italic'),
      subscript: now.isActive('subscript'),
      superscript: now.isActive('superscript'),
    }),
  })
  const tool = (label: string, isOn: boolean, icon: React.ReactNode, act: () => void) => (
    <IconButton
      size="xs"
      variant={isOn ? 'subtle' : 'ghost'}
      aria-label={label}
      title={label}
      aria-pressed={isOn}
      disabled={state.style === null}
      // The focus stays in the text.
      onMouseDown={(event) => event.preventDefault()}
      onClick={act}
    >
      {icon}
    </IconButton>
  )
  const chain = () => editor.chain().focus()
  return (
    <HStack
      gap="1"
      paddingX="3"
      height="10"
      flex="none"
      bg="paper"
      borderBottom="1px solid"
      borderColor="line"
      role="toolbar"
      aria-label="Text"
      overflowX="auto"
      className="tools"
    >
      <Select
        label="Style of the text"
        width="9rem"
        value={state.style ?? 'paragraph'}
        options={STYLES}
        choose={(style) => chain().updateAttributes('textBlock', { style, indent: 0 }).run()}
      />
      {tool('Bold (Ctrl B)', state.bold, <Bold size={15} />, () => chain().toggleBold().run())}
      {tool('Italic (Ctrl I)', state.italic, <Italic size={15} />, () => chain().toggleItalic().run())}
      {tool('Subscript (Ctrl ,)', state.subscript, <Subscript size={15} />, () =>
        chain().toggleMark('subscript').run(),
      )}
      {tool('Superscript (Ctrl .)', state.superscript, <Superscript size={15} />, () =>
        chain().toggleMark('superscript').run(),
      )}
      {tool('Equation in the text', false, <Sigma size={15} />, () => {
        const { from } = editor.state.selection
        chain()
          .insertContent({ type: 'inlineEquation', attrs: { tex: '' } })
          .setNodeSelection(from)
          .run()
      })}
      <SymbolMenu insert={(symbol) => chain().insertContent(symbol).run()} />
    </HStack>
  )
}
