import { Box, HStack, IconButton, Input, Text } from '@chakra-ui/react'
import { Redo2, Undo2 } from 'lucide-react'
import { memo, type ReactNode, useDeferredValue } from 'react'
import { useStore } from 'zustand'
import type { Session } from './session.ts'

/** Parts of a page's top bar that say and do what every open document needs. */

/** Undo and redo; their titles follow the document with a delay. */
export function History<D extends object>({ session }: { session: Session<D> }) {
  const undo = useDeferredValue(useStore(session.store, (state) => state.undo.at(-1)?.label))
  const redo = useDeferredValue(useStore(session.store, (state) => state.redo.at(-1)?.label))
  return (
    <HStack gap="0">
      <HistoryButton name="Undo" label={undo} act={() => session.undo()} />
      <HistoryButton name="Redo" label={redo} act={() => session.redo()} />
    </HStack>
  )
}

const HistoryButton = memo(
  function HistoryButton({
    name,
    label,
    act,
  }: {
    name: 'Undo' | 'Redo'
    label: string | undefined
    act: () => void
  }) {
    return (
      <IconButton
        size="sm"
        variant="ghost"
        aria-label={name}
        title={label ? `${name}: ${label}` : `Nothing to ${name.toLowerCase()}`}
        disabled={!label}
        onClick={act}
      >
        {name === 'Undo' ? <Undo2 size={18} /> : <Redo2 size={18} />}
      </IconButton>
    )
  },
  (before, now) => before.label === now.label,
)

/** The title of a document, which a click edits. */
export function TitleField({
  label,
  title,
  rename,
}: {
  label: string
  title: string
  rename: (title: string) => void
}) {
  const commit = (text: string) => {
    const wanted = text.trim()
    if (wanted && wanted !== title) rename(wanted)
  }
  return (
    <Input
      key={title}
      aria-label={label}
      title={title}
      defaultValue={title}
      size="sm"
      variant="subtle"
      bg="transparent"
      fontWeight="600"
      maxLength={200}
      width={{ base: 'auto', md: `${Math.min(34, Math.max(10, title.length + 3))}ch` }}
      flex={{ base: '1', md: '0 1 auto' }}
      minWidth="3rem"
      textOverflow="ellipsis"
      paddingX="2"
      onBlur={(event) => commit(event.currentTarget.value)}
      onKeyDown={(event) => {
        event.stopPropagation()
        if (event.key === 'Escape') event.currentTarget.value = title
        if (event.key === 'Enter' || event.key === 'Escape') event.currentTarget.blur()
      }}
    />
  )
}

const clock = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' })

/** The state of saving; `children` say what else is on its way. */
export function SaveState<D extends object>({
  session,
  children,
}: {
  session: Session<D>
  children?: ReactNode
}) {
  const save = useStore(session.store, ({ save, isWriting }) =>
    save === 'saved' && isWriting ? 'saving' : save,
  )
  const savedAt = useStore(session.store, (state) => state.savedAt)
  const says = {
    saved: savedAt ? `Saved ${clock.format(savedAt)}` : 'Saved',
    saving: 'Saving …',
    offline: 'Offline, kept in this browser',
    held: 'Not saved yet, kept in this browser',
    conflict: 'Not saved: changed elsewhere',
    gone: 'Not saved: deleted elsewhere',
  }[save]
  const colour = save === 'saved' ? 'good' : save === 'saving' ? 'ink.muted' : 'alarm'
  return (
    <HStack
      gap="2"
      fontSize="small"
      color="ink.muted"
      role="status"
      data-save={save}
      minWidth="0"
      // What stands here nearly always is short: the title gives way to it.
      flexShrink={{ lg: save === 'saved' || save === 'saving' ? 0 : 1 }}
      title={says}
      aria-label={says}
    >
      <Box width="8px" height="8px" borderRadius="full" bg={colour} flex="none" aria-hidden />
      <Text truncate display={{ base: 'none', md: 'block' }}>
        {says}
      </Text>
      {children}
    </HStack>
  )
}
