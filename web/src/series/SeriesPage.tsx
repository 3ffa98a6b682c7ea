import { type Series, seriesEdits } from '@apokinema/core/series'
import { Box, Flex, Stack } from '@chakra-ui/react'
import { useDeferredValue } from 'react'
import { useParams, useSearchParams } from 'react-router'
import { DocumentBar } from '../common/DocumentBar.tsx'
import { loadedLater } from '../common/loadedLater.tsx'
import { Loading, ProblemPage } from '../common/states.tsx'
import { ViewTabs } from '../common/ViewTabs.tsx'
import { SaveNotices } from '../document/SaveNotices.tsx'
import { History, SaveState, TitleField } from '../document/SessionBar.tsx'
import type { Session } from '../document/session.ts'
import { useUndoKeys } from '../document/undoByKey.ts'
import { useOnlyHere } from '../document/useOnlyHere.ts'
import { useOpenedSession } from '../document/useOpenedSession.ts'
import { useSessionPage } from '../document/useSessionPage.ts'
import { Help } from '../help/Help.tsx'
import { DisplayMenu } from '../theme/DisplayMenu.tsx'
import { MeasuringQueue } from './MeasuringQueue.tsx'
import {
  SeriesProvider,
  useOpenSeries,
  useSeries,
  useSeriesAnalysis,
  useSeriesSession,
} from './SeriesContext.tsx'
import { SettingsNotice } from './SettingsNotice.tsx'
import { seriesReach } from './seriesReach.ts'
import { TakeSeriesAway } from './TakeSeriesAway.tsx'
import { TrialsTable } from './TrialsTable.tsx'
import { useMeasuringQueue } from './useMeasuringQueue.ts'
import { type TrialDocuments, useTrialDocuments } from './useTrialDocuments.ts'

const SeriesReport = loadedLater(() => import('./report/SeriesReport.tsx'), 'Opening the report …')
const TwoInStep = loadedLater(() => import('./TwoInStep.tsx'), 'Opening two trials …')
// With what draws graphs and typesets formulas they are as much code as all else: the table is there before.
const TrialGraphs = loadedLater(() => import('./TrialGraphs.tsx'))
const SeriesSide = loadedLater(() => import('./SeriesSide.tsx'))
// A page that opens with it loads it beside the series.
if (location.pathname.endsWith('/report')) SeriesReport.load()

type SeriesSession = Session<Series>

/** An open series: its trials, or the report of them. */
export function SeriesPage() {
  const { id = '', view } = useParams()
  const { here, takeOver } = useOnlyHere(id)
  const { session, failure } = useOpenedSession(id, seriesReach, here === true)
  // Its trials are loaded at once, beside the series itself.
  const trials = useTrialDocuments(id, session !== null)

  if (here === false)
    return (
      <ProblemPage
        title="This series is open in another tab"
        text="So that nothing gets mixed up it is worked on in one tab at a time. Everything is saved."
        again={takeOver}
      />
    )
  if (failure)
    return (
      <ProblemPage
        title="This series can’t be opened"
        text={failure.message}
        again={() => window.location.reload()}
      />
    )
  if (!session) return <Loading text="Opening the series …" />
  return <Opened key={id} session={session} trials={trials} isReport={view === 'report'} />
}

function Opened({
  session,
  trials,
  isReport,
}: {
  session: SeriesSession
  trials: TrialDocuments
  isReport: boolean
}) {
  useSessionPage(session)
  return (
    <SeriesProvider session={session} {...trials}>
      <Measuring />
      <Flex direction="column" height="100dvh" overflow="hidden">
        <SeriesBar isReport={isReport} />
        <SaveNotices session={session} />
        {isReport ? (
          <Box flex="1" minHeight="0">
            <SeriesReport />
          </Box>
        ) : (
          <TrialsView />
        )}
      </Flex>
    </SeriesProvider>
  )
}

/** Measures what waits, whichever view is shown. */
function Measuring() {
  useMeasuringQueue()
  return null
}

/** The table of trials on top, its graphs below, and what they say at the side. */
function TrialsView() {
  useUndoKeys(useSeriesSession())
  return (
    <Flex
      flex="1"
      minHeight="0"
      direction={{ base: 'column', lg: 'row' }}
      overflowY={{ base: 'auto', lg: 'hidden' }}
    >
      <Flex flex="1" minWidth="0" direction="column" overflowY={{ lg: 'auto' }} bg="panel" as="main">
        <Trials />
      </Flex>
      <Box
        as="aside"
        aria-label="What the trials say"
        width={{ lg: '318px' }}
        flex="none"
        borderLeft={{ lg: '1px solid' }}
        borderColor={{ lg: 'line' }}
        overflowY={{ lg: 'auto' }}
        bg="paper"
        padding="4"
      >
        <Stack gap="5">
          <MeasuringQueue />
          <SeriesSide />
        </Stack>
      </Box>
    </Flex>
  )
}

/** Parameter of the address with the ids of two trials that are looked at in step, separated by a comma. */
const PAIR = 'in-step'

/** The table of trials with their graphs, or two trials in step. */
function Trials() {
  const [search, setSearch] = useSearchParams()
  const { documents, kept, isLoading } = useOpenSeries()
  // The table comes first: graphs of many trials take as long again.
  const areGraphsDue = useDeferredValue(documents.size > 0 || kept.size > 0 || !isLoading, false)
  const analysis = useSeriesAnalysis()
  const ids = analysis.table.rows().map(({ id }) => id)
  const asked = (search.get(PAIR) ?? '').split(',').filter((id) => ids.includes(id))
  if (asked.length === 2)
    return (
      <TwoInStep
        first={asked[0]}
        second={asked[1]}
        choose={(first, second) => setSearch({ [PAIR]: `${first},${second}` }, { replace: true })}
        close={() => setSearch({})}
      />
    )
  return (
    <>
      <SettingsNotice />
      <TrialsTable />
      {areGraphsDue && (
        <TrialGraphs
          compare={ids.length > 1 ? () => setSearch({ [PAIR]: `${ids[0]},${ids[ids.length - 1]}` }) : null}
        />
      )}
    </>
  )
}

function SeriesBar({ isReport }: { isReport: boolean }) {
  const session = useSeriesSession()
  const address = `/series/${session.id}`
  const { title } = useSeries()
  return (
    <DocumentBar>
      <TitleField
        label="Title of the series"
        title={title}
        rename={(wanted) => session.edit('rename the series', seriesEdits.setTitle(wanted))}
      />
      <Box flex="1" display={{ base: 'none', md: 'block' }} />
      <SaveState session={session} />
      <History session={session} />
      {!isReport && <TakeSeriesAway />}
      <ViewTabs
        views={[
          [address, 'Trials'],
          [`${address}/report`, 'Report'],
        ]}
        current={isReport ? `${address}/report` : address}
      />
      <DisplayMenu />
      <Help />
    </DocumentBar>
  )
}
