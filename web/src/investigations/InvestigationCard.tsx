import { API, type ListedInvestigation } from '@apokinema/core/api'
import { edit, edits } from '@apokinema/core/investigation'
import { Box, Center, Flex, Image, Input, Stack, Text } from '@chakra-ui/react'
import { Film } from 'lucide-react'
import { type KeyboardEvent, useState } from 'react'
import { Link } from 'react-router'
import { v4 as uuid } from 'uuid'
import { client } from '../api/client.ts'
import { useListMutation } from '../api/queries.ts'
import { MoreMenu } from '../common/MoreMenu.tsx'
import { notify } from '../common/messages.tsx'
import { saveFrom } from '../common/saveFile.ts'
import { useUploads } from '../footage/uploads.ts'
import { PutIntoSeries } from '../series/PutIntoSeries.tsx'

const when = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' })

/** Returns a summary of the progress. */
function progress({ summary }: ListedInvestigation): string {
  if (!summary) return 'can’t be read here'
  if (!summary.footage) return 'no footage yet'
  const parts = [
    summary.scale ? 'scale' : null,
    summary.axes ? 'axes' : null,
    summary.marks > 0 ? `${summary.marks} marks` : null,
    summary.fits > 0 ? (summary.fits === 1 ? '1 fit' : `${summary.fits} fits`) : null,
  ].filter((part) => part !== null)
  return parts.length > 0 ? parts.join(' · ') : 'still to be measured'
}

/** One investigation in the list, with its menu. */
export function InvestigationCard({ item }: { item: ListedInvestigation }) {
  const [renaming, setRenaming] = useState(false)
  const [isPutting, setPutting] = useState(false)
  const uploading = useUploads((all) => all[item.id])
  const copy = useListMutation((readable: boolean) => client.copy(item.id, uuid(), readable))
  const restore = useListMutation(() => client.restore(item.id))
  const rename = useListMutation(async (title: string) => {
    const { version, document } = await client.open(item.id)
    const { patch } = edit(document, edits.setTitle(title))
    await client.edit(item.id, { key: uuid(), base: version, patch })
  })
  const remove = useListMutation(async () => {
    await client.remove(item.id)
    notify(`“${item.title}” was deleted.`, { label: 'Undo', onClick: restore })
  })
  const endRenaming = (title: string) => {
    setRenaming(false)
    if (title && title !== item.title) rename(title)
  }

  return (
    <Box
      position="relative"
      bg="panel"
      border="1px solid"
      borderColor="line"
      borderRadius="10px"
      overflow="hidden"
      data-card
    >
      <Poster item={item} />
      <Flex padding="3" paddingRight="1" gap="1" align="flex-start">
        <Stack gap="0" flex="1" minWidth="0">
          {renaming ? (
            <RenameField title={item.title} onDone={endRenaming} />
          ) : (
            <Text fontWeight="600" truncate asChild>
              <Link to={`/investigations/${item.id}`} title={item.title}>
                {item.title}
              </Link>
            </Text>
          )}
          <Text fontSize="small" color="ink.muted" truncate>
            {uploading ? `uploading, ${Math.round(100 * uploading.share)} %` : progress(item)}
          </Text>
          <Text fontSize="small" color="ink.muted">
            {when.format(new Date(item.updatedAt))}
          </Text>
        </Stack>
        <MoreMenu
          of={item.title}
          size="sm"
          choices={[
            ...(item.summary
              ? [
                  { label: 'Rename', act: () => setRenaming(true) },
                  { label: 'Save as one file', act: () => saveFrom(API.packed(item.id)) },
                  { label: 'Duplicate', act: () => copy(false) },
                  { label: 'Put into a series …', act: () => setPutting(true) },
                ]
              : [
                  {
                    label: 'Copy its last readable state',
                    act: () => copy(true),
                  },
                  { label: 'Save what is stored', act: () => saveFrom(API.stored(item.id)) },
                ]),
            { label: 'Delete', grave: true, act: remove },
          ]}
        />
      </Flex>
      {isPutting && <PutIntoSeries id={item.id} title={item.title} close={() => setPutting(false)} />}
    </Box>
  )
}

function Poster({ item }: { item: ListedInvestigation }) {
  return (
    <Link to={`/investigations/${item.id}`} aria-label={`Open ${item.title}`}>
      <Center bg="stage" height="146px" color="whiteAlpha.600">
        {item.poster ? (
          <Image src={API.poster(item.id, item.poster)} alt="" width="100%" height="100%" objectFit="cover" />
        ) : (
          <Film size={30} aria-hidden />
        )}
      </Center>
    </Link>
  )
}

function RenameField({ title, onDone }: { title: string; onDone: (title: string) => void }) {
  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>) => {
    if (event.key === 'Enter') event.currentTarget.blur()
    if (event.key === 'Escape') {
      event.currentTarget.value = title
      event.currentTarget.blur()
    }
  }
  return (
    <Input
      size="xs"
      autoFocus
      aria-label="Title"
      defaultValue={title}
      maxLength={200}
      onFocus={(event) => event.currentTarget.select()}
      onBlur={(event) => onDone(event.currentTarget.value.trim())}
      onKeyDown={onKeyDown}
    />
  )
}
