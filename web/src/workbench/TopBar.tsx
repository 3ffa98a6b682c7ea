import { edits } from '@apokinema/core/investigation'
import { Box, Button, Flex, HStack, IconButton, Input, Text } from '@chakra-ui/react'
import { Redo2, Undo2 } from 'lucide-react'
import { memo, useDeferredValue, useEffect, useRef } from 'react'
import { Link } from 'react-router'
import { Brand } from '../common/Brand.tsx'
import { notify } from '../common/messages.tsx'
import { useSession, useSessionState } from '../document/SessionContext.tsx'
import { useUploads } from '../footage/uploads.ts'
import { Help } from '../help/Help.tsx'
import { DisplayMenu } from '../theme/DisplayMenu.tsx'

export type ViewName = 'measure' | 'graphs' | 'report'

/** Title, state of saving, undo and redo, and the tabs of the views. */
export function TopBar({ view }: { view: ViewName }) {
  const session = useSession()
  const views: [ViewName, string][] = [
    ['measure', 'Measure'],
    ['graphs', 'Graphs'],
    ['report', 'Report'],
  ]
  return (
    <Flex
      as="header"
      height="12"
      flex="none"
      align="center"
      gap={{ base: '1', md: '4' }}
      paddingX={{ base: '2', md: '4' }}
      bg="paper"
      borderBottom="1px solid"
      borderColor="line"
    >
      <Brand />
      <Text color="ink.muted" aria-hidden display={{ base: 'none', md: 'block' }}>
        ›
      </Text>
      <Title />
      <Box flex="1" display={{ base: 'none', md: 'block' }} />
      <SaveState />
      <History />
      <HStack
        as="nav"
        gap="0"
        border="1px solid"
        borderColor="line"
        borderRadius="8px"
        overflow="hidden"
        bg="panel"
      >
        {views.map(([name, label]) => (
          <Button
            key={name}
            asChild
            size="sm"
            paddingX={{ base: '1.5', md: '3.5' }}
            fontSize={{ base: 'tiny', md: 'text' }}
            borderRadius="0"
            variant={name === view ? 'solid' : 'ghost'}
            colorPalette={name === view ? 'brand' : 'gray'}
            color={name === view ? 'white' : 'ink.muted'}
          >
            <Link
              to={`/investigations/${session.id}/${name}`}
              aria-current={name === view ? 'page' : undefined}
            >
              {label}
            </Link>
          </Button>
        ))}
      </HStack>
      <DisplayMenu />
      <Help />
    </Flex>
  )
}

/** Undo and redo; their titles follow the document with a delay. */
function History() {
  const undo = useDeferredValue(useSessionState((state) => state.undo.at(-1)?.label))
  const redo = useDeferredValue(useSessionState((state) => state.redo.at(-1)?.label))
  return <HistoryButtons undo={undo} redo={redo} />
}

const HistoryButtons = memo(function HistoryButtons({
  undo,
  redo,
}: Record<'undo' | 'redo', string | undefined>) {
  const session = useSession()
  return (
    <HStack gap="0">
      <IconButton
        size="sm"
        variant="ghost"
        aria-label="Undo"
        title={undo ? `Undo: ${undo}` : 'Nothing to undo'}
        disabled={!undo}
        onClick={() => session.undo()}
      >
        <Undo2 size={18} />
      </IconButton>
      <IconButton
        size="sm"
        variant="ghost"
        aria-label="Redo"
        title={redo ? `Redo: ${redo}` : 'Nothing to redo'}
        disabled={!redo}
        onClick={() => session.redo()}
      >
        <Redo2 size={18} />
      </IconButton>
    </HStack>
  )
})

function Title() {
  const session = useSession()
  const title = useSessionState((state) => state.document.title)
  const commit = (text: string) => {
    const wanted = text.trim()
    if (wanted && wanted !== title) session.edit('rename the investigation', edits.setTitle(wanted))
  }
  return (
    <Input
      key={title}
      aria-label="Title of the investigation"
      title={title}
      defaultValue={title}
      size="sm"
      variant="subtle"
      bg="transparent"
      fontWeight="600"
      maxLength={200}
      width={{ base: 'auto', md: `${Math.min(34, Math.max(10, title.length + 3))}ch` }}
      flex={{ base: '1', md: 'none' }}
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

function SaveState() {
  const session = useSession()
  const save = useSessionState(({ save, isWriting }) => (save === 'saved' && isWriting ? 'saving' : save))
  const savedAt = useSessionState((state) => state.savedAt)
  const upload = useUploads((all) => all[session.id])
  const told = useRef<string | null>(null)
  useEffect(() => {
    if (!upload?.failed || upload.failed === told.current) return
    told.current = upload.failed
    notify(upload.failed)
  }, [upload?.failed])
  const says = {
    saved: savedAt ? `Saved ${clock.format(savedAt)}` : 'Saved',
    saving: 'Saving …',
    offline: 'Offline, kept in this browser',
    held: 'Not saved yet, kept in this browser',
    conflict: 'Not saved: changed elsewhere',
    gone: 'Not saved: deleted elsewhere',
  }[save]
  const colour = {
    saved: 'good',
    saving: 'ink.muted',
    offline: 'alarm',
    held: 'alarm',
    conflict: 'alarm',
    gone: 'alarm',
  }[save]
  return (
    <HStack
      gap="2"
      fontSize="small"
      color="ink.muted"
      role="status"
      data-save={save}
      minWidth="0"
      title={says}
      aria-label={says}
    >
      <Box width="8px" height="8px" borderRadius="full" bg={colour} flex="none" aria-hidden />
      <Text truncate display={{ base: 'none', md: 'block' }}>
        {says}
      </Text>
      {upload && (
        <Text truncate color={upload.failed ? 'alarm' : undefined} title={upload.failed ?? undefined}>
          {upload.failed ? 'video not uploaded' : `· video ${Math.round(100 * upload.share)} %`}
        </Text>
      )}
    </HStack>
  )
}
