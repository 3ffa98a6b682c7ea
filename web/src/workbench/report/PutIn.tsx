import type { BlockContent } from '@apokinema/core/investigation'
import type { BlockChoice } from '@apokinema/words/report/choices'
import { Box, Button, Input, Stack, Text } from '@chakra-ui/react'
import {
  type DragEvent,
  type MouseEvent,
  memo,
  useCallback,
  useDeferredValue,
  useMemo,
  useState,
} from 'react'
import { insertBlocks } from './editor/insert.ts'
import { choosePictures } from './editor/insertPictures.ts'
import { copyHtml } from './editor/nodes.ts'
import type { Writing } from './editor/writing.ts'
import { useFollowed, useSource } from './source.ts'

const NOTHING = () => {}

/** The things that can be put into the report: each goes in where the cursor is, or where it is dropped. */
export function PutIn({
  writing,
  done = NOTHING,
}: {
  writing: Writing
  /** Called when something was put in. */
  done?: () => void
}) {
  const { session } = useSource()
  // The page comes first: what can be put in follows when there is time.
  const measured = useDeferredValue<object | null>(
    useFollowed((source) => source.measured()),
    null,
  )
  const [query, setQuery] = useState('')
  const put = useCallback(
    (content: BlockContent, { detail }: MouseEvent) => {
      insertBlocks(session, writing, [content])
      done()
      // Writing goes on after a click; who came with the keyboard stays in the list.
      if (detail > 0) writing.editor?.view.focus()
    },
    [session, writing, done],
  )
  return (
    <Box padding="4">
      <Text as="h2" fontWeight="600">
        Put in
      </Text>
      <Input
        size="xs"
        marginTop="2"
        placeholder="search"
        aria-label="Search what can be put in"
        value={query}
        onChange={({ target }) => setQuery(target.value)}
        onKeyDown={(event) => event.stopPropagation()}
      />
      <Button
        size="xs"
        variant="outline"
        width="100%"
        marginTop="2"
        onClick={() => {
          choosePictures(session, writing)
          done()
        }}
      >
        Picture from a file …
      </Button>
      {measured && <Choices measured={measured} query={query} put={put} />}
    </Box>
  )
}

/** What can be put in, by what it is. Rendered when the page has been, so it is no part of what renders with the page. */
const Choices = memo(function Choices({
  measured,
  query,
  put,
}: {
  /** What the choices follow from. */
  measured: object
  query: string
  put: (content: BlockContent, event: MouseEvent) => void
}) {
  const source = useSource()
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is measured says when there are other choices
  const groups = useMemo(() => source.blockChoices(), [source, measured])
  const wanted = query.trim().toLowerCase()
  const shown = groups
    .map(({ group, choices }) => ({
      group,
      choices: choices.filter(({ title, detail }) => `${title} ${detail}`.toLowerCase().includes(wanted)),
    }))
    .filter(({ choices }) => choices.length > 0)
  if (shown.length === 0)
    return (
      <Text marginTop="3" fontSize="small" color="ink.muted">
        {wanted ? 'Nothing of that name.' : 'Graphs, fits and tables appear here once a body is marked.'}
      </Text>
    )
  return shown.map(({ group, choices }) => (
    <Stack key={group} gap="1" marginTop="3">
      <Text as="h3" fontSize="tiny" color="ink.muted">
        {group}
      </Text>
      {choices.map((choice) => (
        <Choice key={choice.key} choice={choice} put={put} />
      ))}
    </Stack>
  ))
})

/** Goes in where the cursor is when it is pressed, or where it is dropped. */
function Choice({
  choice: { title, detail, content },
  put,
}: {
  choice: BlockChoice
  put: (content: BlockContent, event: MouseEvent) => void
}) {
  const { SmallPicture } = useSource()
  return (
    <Box
      as="button"
      display="flex"
      gap="3"
      alignItems="center"
      textAlign="left"
      borderRadius="8px"
      padding="1"
      _hover={{ bg: 'petrol.tint' }}
      onClick={(event: MouseEvent) => put(content, event)}
      draggable
      onDragStart={({ dataTransfer }: DragEvent) => {
        dataTransfer.setData('text/html', copyHtml(content))
        dataTransfer.effectAllowed = 'copy'
      }}
    >
      <Box
        flex="none"
        width="44px"
        height="32px"
        border="1px solid"
        borderColor="line"
        borderRadius="6px"
        display="grid"
        placeItems="center"
        overflow="hidden"
        color="petrol"
      >
        <SmallPicture content={content} />
      </Box>
      <Box minWidth="0">
        <Text lineClamp={2} lineHeight="1.25" title={title}>
          {title}
        </Text>
        <Text fontSize="tiny" color="ink.muted" truncate title={detail}>
          {detail}
        </Text>
      </Box>
    </Box>
  )
}
