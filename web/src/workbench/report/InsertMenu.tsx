import { Box, Portal, Text } from '@chakra-ui/react'
import type { Editor } from '@tiptap/react'
import { useEffect, useRef } from 'react'
import { useInsertMenu } from './editor/suggestions.ts'

const HEIGHT = 260

/** The menu at the cursor: what can be put in there. The focus stays in the text; arrow keys, Enter and Esc work it. */
export function InsertMenu({ editor }: { editor: Editor }) {
  const { items, index, at, choose } = useInsertMenu()
  const chosen = useRef<HTMLDivElement>(null)
  const isOpen = items.length > 0 && at !== null
  // biome-ignore lint/correctness/useExhaustiveDependencies: another item is chosen
  useEffect(() => {
    chosen.current?.scrollIntoView({ block: 'nearest' })
  }, [index])
  useEffect(() => {
    if (!isOpen) return
    const { dom } = editor.view
    dom.setAttribute('aria-controls', 'insert-menu')
    dom.setAttribute('aria-activedescendant', `insert-${index}`)
    return () => {
      dom.removeAttribute('aria-controls')
      dom.removeAttribute('aria-activedescendant')
    }
  }, [editor, isOpen, index])
  if (!isOpen) return null
  const isBelow = at.bottom + HEIGHT < window.innerHeight
  return (
    <Portal>
      <Box
        id="insert-menu"
        role="listbox"
        aria-label="Put in"
        position="fixed"
        zIndex="popover"
        left={`${Math.min(at.left, window.innerWidth - 390)}px`}
        top={isBelow ? `${at.bottom + 4}px` : undefined}
        bottom={isBelow ? undefined : `${window.innerHeight - at.top + 4}px`}
        width="380px"
        maxHeight={`${HEIGHT}px`}
        overflowY="auto"
        bg="panel"
        border="1px solid"
        borderColor="line"
        borderRadius="8px"
        boxShadow="0 6px 24px rgba(0,0,0,0.16)"
        paddingY="1"
      >
        {items.map((item, i) => (
          <Box
            key={`${item.title} ${item.detail}`}
            ref={i === index ? chosen : undefined}
            id={`insert-${i}`}
            role="option"
            aria-selected={i === index}
            display="flex"
            gap="3"
            justifyContent="space-between"
            paddingX="3"
            paddingY="1.5"
            cursor="pointer"
            bg={i === index ? 'petrol.tint' : undefined}
            onMouseDown={(event) => {
              event.preventDefault()
              choose(item)
            }}
          >
            <Text truncate>{item.title}</Text>
            <Text fontFamily="mono" fontSize="tiny" color="ink.muted" whiteSpace="nowrap" flex="none">
              {item.detail}
            </Text>
          </Box>
        ))}
      </Box>
    </Portal>
  )
}
