import { Box, Button, Flex, Grid, Heading, HStack, Stack, Text, Link as TextLink } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { FileVideo, Upload, Video } from 'lucide-react'
import { type DragEvent, useRef, useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { client } from '../api/client.ts'
import { listsChanged, seriesListQuery, useListMutation } from '../api/queries.ts'
import { notify } from '../common/messages.tsx'
import { PageHeader } from '../common/PageHeader.tsx'
import { Loading, ProblemPage } from '../common/states.tsx'
import { browserLack } from '../footage/browserLack.ts'
import { Help } from '../help/Help.tsx'
import { useStartGuide } from '../help/useStartGuide.ts'
import { createSeriesFromFiles } from '../series/createSeries.ts'
import { SeriesCard } from '../series/SeriesCard.tsx'
import { createFromFile, createFromPacked, createFromStills } from './create.ts'
import { type Enter, investigationAt, seriesAt } from './enter.ts'
import { InvestigationCard } from './InvestigationCard.tsx'
import { prefetchWorkbench } from './prefetchWorkbench.ts'
import { Samples } from './Samples.tsx'
import { StillsDialog } from './StillsDialog.tsx'
import { type SortedFiles, sortFiles } from './sortFiles.ts'
import { useInvestigations } from './useInvestigations.ts'

const ACCEPT =
  'video/*,image/gif,image/png,image/jpeg,application/zip,.mp4,.m4v,.mov,.webm,.mkv,.avi,.wmv,.ts,.mts,.m2ts,.mpg,.3gp,.flv,.zip'

/** Home page: the way to a new investigation, and the list. */
export function InvestigationsPage() {
  const navigate = useNavigate()
  const list = useInvestigations()
  const [busy, setBusy] = useState<string | null>(null)
  const [over, setOver] = useState(false)
  const [refused, setRefused] = useState<string | null>(null)
  const [stills, setStills] = useState<File[] | null>(null)

  const enter: Enter = async (what, make) => {
    setBusy(what)
    setRefused(null)
    try {
      const address = await make(setBusy)
      void listsChanged()
      await navigate(address)
    } catch (error) {
      setRefused((error as Error).message)
    } finally {
      setBusy(null)
    }
  }
  const unreadable = (error: Error) =>
    setRefused(
      `This file can’t be read (${error.message}). Is it still where it was? Choose it again; nothing was changed.`,
    )
  const takeSorted = (sorted: SortedFiles) => {
    const { kind, file } = sorted
    if (kind === 'refused') setRefused(sorted.why)
    else if (kind === 'stills') setStills(sorted.stills)
    else if (kind === 'packed')
      void enter(`Opening ${file.name} …`, () => investigationAt(createFromPacked(sorted.packed)))
    else if (kind === 'videos') void enter('Opening the clips …', (say) => seriesOf(sorted.videos, say))
    else {
      prefetchWorkbench()
      void enter(`Opening ${file.name} …`, () => investigationAt(createFromFile(file)))
    }
  }
  const takeFiles = (files: FileList | null) => {
    if (!files || files.length === 0) return
    setRefused(null)
    void sortFiles([...files]).then(takeSorted, unreadable)
  }
  const onDrop = (event: DragEvent) => {
    event.preventDefault()
    setOver(false)
    takeFiles(event.dataTransfer.files)
  }

  return (
    <Box
      minHeight="100%"
      onDragOver={(event) => {
        event.preventDefault()
        setOver(true)
      }}
      onDragLeave={(event) => {
        if (!event.currentTarget.contains(event.relatedTarget as Node)) setOver(false)
      }}
      onDrop={onDrop}
      outline={over ? '3px dashed' : undefined}
      outlineColor="petrol"
      outlineOffset="-10px"
    >
      <PageHeader>
        <Help />
      </PageHeader>
      <Box as="main" maxWidth="72rem" marginX="auto" padding={{ base: '4', md: '8' }}>
        <WayIn busy={busy} refused={refused} empty={list.all?.length === 0} takeFiles={takeFiles} />
        {list.all?.length === 0 && <Samples busy={busy !== null} enter={enter} />}
        <Mine list={list} />
        {list.all && list.all.length > 0 && <Samples busy={busy !== null} enter={enter} />}
        <Deleted />
        {stills && (
          <StillsDialog
            stills={stills}
            close={() => setStills(null)}
            take={(rate) =>
              void enter('Packing the stills …', () => investigationAt(createFromStills(stills, rate)))
            }
          />
        )}
      </Box>
    </Box>
  )
}

/** Makes a series of several clips; returns its address. */
function seriesOf(videos: readonly File[], say: (what: string) => void): Promise<string> {
  return seriesAt(
    createSeriesFromFiles(videos, {
      progress: (done) => say(`Opening clip ${done + 1} of ${videos.length} …`),
      refused: (name, error) => notify(`${name} was not added. ${error.message}`),
    }),
  )
}

/** The person's investigations, or why they can't be shown. */
function Mine({ list }: { list: ReturnType<typeof useInvestigations> }) {
  const { data: series = [] } = useQuery(seriesListQuery(false))
  return (
    <>
      {list.isPending && <Loading text="Looking for your investigations …" />}
      {list.isError && (
        <ProblemPage
          title="The list can't be shown"
          text={`${list.error.message} What you have measured is safe.`}
          again={() => void list.refetch()}
        />
      )}
      {list.all && list.all.length + series.length > 0 && (
        <Box as="section" marginTop="10">
          <Heading as="h2" fontSize="title" fontWeight="600" marginBottom="4">
            Your investigations
          </Heading>
          <Grid templateColumns="repeat(auto-fill, minmax(260px, 1fr))" gap="5">
            {series.map((item) => (
              <SeriesCard key={item.id} item={item} />
            ))}
            {list.all
              .filter((item) => item.series === null)
              .map((item) => (
                <InvestigationCard key={item.id} item={item} />
              ))}
          </Grid>
          {list.hasNextPage && <More list={list} />}
        </Box>
      )}
    </>
  )
}

function WayIn(props: {
  busy: string | null
  refused: string | null
  empty: boolean
  takeFiles: (files: FileList | null) => void
}) {
  const input = useRef<HTMLInputElement>(null)
  const lack = browserLack()
  return (
    <Stack gap="4">
      {lack && <Refused>{lack}</Refused>}
      <Box
        border="1.5px dashed"
        borderColor="line"
        borderRadius="12px"
        padding={{ base: '5', md: '7' }}
        data-start={props.empty ? 'first' : 'further'}
      >
        <Stack gap="2">
          <Heading as="h1" fontSize="title" fontWeight="600">
            {props.empty ? 'Film something that moves, and measure it here' : 'Start a new investigation'}
          </Heading>
          <Text color="ink.muted" maxWidth="38rem">
            {props.empty
              ? 'Drop a video of it anywhere on this page. What moves in it is looked for; you say how long something in the picture is, and read its velocity and acceleration off the graphs. No video at hand? Begin with a sample.'
              : 'Drop what a phone or camera has recorded anywhere on this page, several clips of the same measurement, numbered stills as pictures or ZIP, or an investigation that was saved as one file.'}
          </Text>
          <HStack gap="3" marginTop="2" flexWrap="wrap">
            <Button
              colorPalette="brand"
              disabled={props.busy !== null}
              onClick={() => input.current?.click()}
            >
              <Upload size={16} /> Choose a video
            </Button>
            <Button variant="outline" bg="panel" asChild>
              <Link to="/record">
                <Video size={16} /> Record
              </Link>
            </Button>
            {props.empty && <FirstTime busy={props.busy !== null} />}
            <TextLink asChild color="petrol" marginLeft="2">
              <Link to="/film-it-well">Film it well</Link>
            </TextLink>
            {props.busy && (
              <Text color="ink.muted" role="status">
                {props.busy}
              </Text>
            )}
          </HStack>
          <input
            ref={input}
            type="file"
            multiple
            accept={ACCEPT}
            hidden
            aria-label="Video file"
            onChange={(event) => {
              props.takeFiles(event.target.files)
              event.target.value = ''
            }}
          />
        </Stack>
      </Box>
      {props.refused && <Refused>{props.refused}</Refused>}
    </Stack>
  )
}

function Refused({ children }: { children: string }) {
  return (
    <Flex
      role="alert"
      gap="3"
      align="center"
      bg="panel"
      border="1px solid"
      borderColor="alarm"
      borderRadius="8px"
      padding="3"
    >
      <Box color="alarm">
        <FileVideo size={18} />
      </Box>
      <Text>{children}</Text>
    </Flex>
  )
}

/** The way into the guided first measurement. */
function FirstTime({ busy }: { busy: boolean }) {
  const begin = useStartGuide()
  return (
    <Button variant="outline" bg="panel" disabled={busy} onClick={() => void begin()}>
      First time? Step by step
    </Button>
  )
}

/** Deleted investigations that can still be restored. */
function Deleted() {
  const [open, setOpen] = useState(false)
  const deleted = useInvestigations(true)
  const restore = useListMutation(client.restore)
  if (!deleted.all || deleted.all.length === 0) return null
  return (
    <Box as="section" marginTop="10" color="ink.muted">
      <TextLink as="button" color="ink.muted" onClick={() => setOpen(!open)} aria-expanded={open}>
        {deleted.all.length === 1
          ? '1 deleted investigation'
          : `${deleted.all.length}${deleted.hasNextPage ? ' or more' : ''} deleted investigations`}
        , kept for 30 days
      </TextLink>
      {open && (
        <Stack marginTop="3" gap="1" maxWidth="36rem">
          {deleted.all.map((item) => (
            <Flex key={item.id} align="center" justify="space-between" gap="4">
              <Text truncate>{item.title}</Text>
              <Button size="xs" variant="outline" onClick={() => restore(item.id)}>
                Bring back
              </Button>
            </Flex>
          ))}
          {deleted.hasNextPage && <More list={deleted} />}
        </Stack>
      )}
    </Box>
  )
}

/** Loads the next page of a list. */
function More({ list }: { list: ReturnType<typeof useInvestigations> }) {
  return (
    <Button
      marginTop="4"
      size="sm"
      variant="outline"
      alignSelf="flex-start"
      loading={list.isFetchingNextPage}
      onClick={() => void list.fetchNextPage()}
    >
      Show more
    </Button>
  )
}
