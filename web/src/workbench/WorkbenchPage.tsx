import { type Investigation, readInvestigation } from '@apokinema/core/investigation'
import { Box, Flex } from '@chakra-ui/react'
import { memo, useEffect, useLayoutEffect } from 'react'
import { useNavigate, useParams } from 'react-router'
import { v4 as uuid } from 'uuid'
import { client, RefusedError } from '../api/client.ts'
import { openInvestigation } from '../api/queries.ts'
import { loadedLater } from '../common/loadedLater.tsx'
import { notify } from '../common/messages.tsx'
import { Loading, ProblemPage } from '../common/states.tsx'
import { browserStore } from '../document/localStore.ts'
import { beginOpenedState } from '../document/openedState.ts'
import { SaveNotices } from '../document/SaveNotices.tsx'
import { SessionContext, useSession } from '../document/SessionContext.tsx'
import { useOnlyHere } from '../document/useOnlyHere.ts'
import { useOpenedSession } from '../document/useOpenedSession.ts'
import { useSessionPage } from '../document/useSessionPage.ts'
import { GuideBar } from '../help/GuideBar.tsx'
import { ClipProvider, PicturesAhead, useClip } from './ClipContext.tsx'
import { useFollowing } from './following/followStore.ts'
import { followIn } from './following/followWorker.ts'
import { leaveFullScreen, useFullScreen } from './fullScreen.ts'
import { MeasureView } from './measure/MeasureView.tsx'
import { TopBar, type ViewName } from './TopBar.tsx'
import { useBackgroundDiagnosis } from './trackDiagnosis.ts'
import { showAddress, useAddress } from './useAddress.ts'

const GraphsView = loadedLater(() => import('./graphs/GraphsView.tsx'), 'Drawing the graphs …')
const ReportView = loadedLater(() => import('./report/investigation/ReportView.tsx'), 'Opening the report …')
// A page that opens with one of them loads it beside the document.
if (location.pathname.endsWith('/graphs')) GraphsView.load()
if (location.pathname.endsWith('/report')) ReportView.load()

/** Delay in milliseconds before an edit is sent, so that it is shown and stored in this browser first. */
const SHOWN_FIRST = 20

const reach = {
  client: {
    ...client,
    open: openInvestigation,
    edit: async (...given: Parameters<typeof client.edit>) => {
      await new Promise((resolve) => setTimeout(resolve, SHOWN_FIRST))
      return client.edit(...given)
    },
  },
  localStore: browserStore,
  read: readInvestigation,
  wait: (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms)),
}

/** Begins the state of an investigation that was just opened, as its address says. */
function begin(document: Investigation): void {
  beginOpenedState()
  showAddress(window.location.search, document, true)
}

/** An open investigation: opens its session and shows its views. */
export function WorkbenchPage() {
  const { id = '', view } = useParams()
  const navigate = useNavigate()
  const { here, takeOver } = useOnlyHere(id)
  const { session: opened, failure } = useOpenedSession(id, reach, here === true, begin)

  if (here === false)
    return (
      <ProblemPage
        title="This investigation is open in another tab"
        text="So that nothing gets mixed up it is worked on in one tab at a time. Everything is saved."
        again={takeOver}
      />
    )
  if (failure) {
    const isUnreadable = failure instanceof RefusedError && failure.code === 'unreadable-document'
    const openCopy = async () => {
      const copy = uuid()
      await client.copy(id, copy, true)
      await navigate(`/investigations/${copy}`)
    }
    return (
      <ProblemPage
        title="This investigation can’t be opened"
        text={failure.message}
        again={
          isUnreadable
            ? () => void openCopy().catch((error: Error) => notify(error.message))
            : () => window.location.reload()
        }
        {...(isUnreadable && { againLabel: 'Open its last readable state' })}
      />
    )
  }
  if (!opened) return <Loading text="Opening the investigation …" />
  return (
    <SessionContext.Provider value={opened}>
      <ClipProvider>
        <Address />
        <FollowingIn />
        <BackgroundDiagnosis />
        <Bench view={view === 'graphs' || view === 'report' ? view : 'measure'} />
      </ClipProvider>
    </SessionContext.Provider>
  )
}

/** Keeps the address in step with the view; nothing else renders when it changes. */
function Address() {
  useAddress()
  return null
}

/** Lets bodies be followed in the open footage, whichever view is shown. */
function FollowingIn() {
  const { from } = useClip()
  // Before anything is seen of the footage: a key that follows may come as soon as its picture stands there.
  useLayoutEffect(() => (from ? followIn(from) : undefined), [from])
  return null
}

/** Looks at the marks of long tracks after each edit; nothing else renders with it. */
function BackgroundDiagnosis() {
  useBackgroundDiagnosis(useFollowing(({ phase }) => phase === 'running'))
  return null
}

const Bench = memo(function Bench({ view }: { view: ViewName }) {
  const session = useSession()
  useSessionPage(session)
  const isAlone = useFullScreen(({ on }) => on) && view === 'measure'
  useEffect(() => leaveFullScreen, [])

  return (
    <Flex direction="column" height="100dvh" overflow="hidden">
      {!isAlone && <TopBar view={view} />}
      <SaveNotices session={session} />
      <GuideBar />
      {/* A report shows no current frame: what decodes it takes the processor from somebody who writes. */}
      {view !== 'report' && <PicturesAhead />}
      <Box flex="1" minHeight="0">
        {view === 'measure' && <MeasureView />}
        {view === 'graphs' && <GraphsView />}
        {view === 'report' && <ReportView />}
      </Box>
    </Flex>
  )
})
