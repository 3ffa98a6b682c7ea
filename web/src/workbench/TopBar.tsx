import { edits } from '@apokinema/core/investigation'
import { Box, Button, Text } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { Repeat2 } from 'lucide-react'
import { useEffect, useRef } from 'react'
import { Link, useNavigate } from 'react-router'
import { listsChanged, seriesOfQuery } from '../api/queries.ts'
import { DocumentBar } from '../common/DocumentBar.tsx'
import { notify } from '../common/messages.tsx'
import { ViewTabs } from '../common/ViewTabs.tsx'
import { History, SaveState, TitleField } from '../document/SessionBar.tsx'
import { useSession, useSessionState } from '../document/SessionContext.tsx'
import { useUploads } from '../footage/uploads.ts'
import { Help } from '../help/Help.tsx'
import { createSeriesWith } from '../series/createSeries.ts'
import { useMeasuring } from '../series/measuringStore.ts'
import { DisplayMenu } from '../theme/DisplayMenu.tsx'

export type ViewName = 'measure' | 'graphs' | 'report'

const NAMES: readonly (readonly [ViewName, string])[] = [
  ['measure', 'Measure'],
  ['graphs', 'Graphs'],
  ['report', 'Report'],
]

/** Title, state of saving, undo and redo, and the tabs of the views. */
export function TopBar({ view }: { view: ViewName }) {
  const session = useSession()
  const views = NAMES.map(([name, label]) => [`/investigations/${session.id}/${name}`, label] as const)
  return (
    <DocumentBar>
      <SeriesLink />
      <Title />
      <Box flex="1" display={{ base: 'none', md: 'block' }} />
      <MeasureAgain />
      <SavedAndUploaded />
      <History session={session} />
      <ViewTabs views={views} current={`/investigations/${session.id}/${view}`} />
      <DisplayMenu />
      <Help />
    </DocumentBar>
  )
}

/** The way to the series that this is a trial of. */
function SeriesLink() {
  const { data: series } = useQuery(seriesOfQuery(useSession().id))
  if (!series) return null
  return (
    <>
      <Text truncate minWidth="0" maxWidth="16rem" asChild color="ink.muted" _hover={{ color: 'petrol' }}>
        <Link to={`/series/${series.id}`} title={`To all trials of ${series.title}`}>
          {series.title}
        </Link>
      </Text>
      <OthersMeasured series={series.id} />
      <Text color="ink.muted" aria-hidden>
        ›
      </Text>
    </>
  )
}

/** How far measuring of another trial of the series is; nothing while none is measured. */
function OthersMeasured({ series }: { series: string }) {
  const share = useMeasuring(({ series: measured, running }) =>
    measured === series && running ? running.share : null,
  )
  if (share === null) return null
  return (
    <Text fontSize="small" color="ink.muted" whiteSpace="nowrap" data-others-measured>
      measuring {Math.round(100 * share)} %
    </Text>
  )
}

/** Begins a series with this investigation as its first trial; nothing if it is in one. */
function MeasureAgain() {
  const session = useSession()
  const hasFootage = useSessionState(({ document }) => document.footage !== null)
  const { data: series } = useQuery(seriesOfQuery(session.id))
  const navigate = useNavigate()
  if (series !== null || !hasFootage) return null
  const begin = async () => {
    try {
      const id = await createSeriesWith(session.id, session.document)
      await listsChanged()
      await navigate(`/series/${id}`)
    } catch (error) {
      notify((error as Error).message)
    }
  }
  return (
    <Button
      size="sm"
      variant="ghost"
      color="ink.muted"
      display={{ base: 'none', lg: 'inline-flex' }}
      aria-label="Measure again"
      title="Film the same again: more trials with this set-up, side by side"
      onClick={() => void begin()}
    >
      <Repeat2 size={16} aria-hidden />
      <Box as="span" display={{ base: 'none', xl: 'inline' }}>
        Measure again
      </Box>
    </Button>
  )
}

function Title() {
  const session = useSession()
  const title = useSessionState((state) => state.document.title)
  return (
    <TitleField
      label="Title of the investigation"
      title={title}
      rename={(wanted) => session.edit('rename the investigation', edits.setTitle(wanted))}
    />
  )
}

/** The state of saving, and of the upload of the video. */
function SavedAndUploaded() {
  const session = useSession()
  const upload = useUploads((all) => all[session.id])
  const told = useRef<string | null>(null)
  useEffect(() => {
    if (!upload?.failed || upload.failed === told.current) return
    told.current = upload.failed
    notify(upload.failed)
  }, [upload?.failed])
  return (
    <SaveState session={session}>
      {upload && (
        <Text truncate color={upload.failed ? 'alarm' : undefined} title={upload.failed ?? undefined}>
          {upload.failed ? 'video not uploaded' : `· video ${Math.round(100 * upload.share)} %`}
        </Text>
      )}
    </SaveState>
  )
}
