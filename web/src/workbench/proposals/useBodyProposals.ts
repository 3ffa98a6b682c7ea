import type { Body, Investigation } from '@apokinema/core/investigation'
import {
  type BodyProposals,
  openAxes,
  openStretches,
  type ProposedAxes,
  type ProposedStretch,
  steadiedBody,
} from '@apokinema/core/proposals'
import { clockOf } from '@apokinema/core/scene'
import { useEffect } from 'react'
import { useParams } from 'react-router'
import { useShallow } from 'zustand/react/shallow'
import { openedState } from '../../document/openedState.ts'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { activeBody } from '../shown.ts'
import { trackWorker } from '../trackDiagnosis.ts'
import { useWorkbench } from '../workbenchStore.ts'

/** What the marks of a body say, and the state of the body that it is of: an edit of a mark replaces the body. */
interface Found extends BodyProposals {
  body: Body
  /** What the camera did, by landmarks. */
  camera: Investigation['camera']
  seconds: Float64Array
  limit: number
}

/** What the marks of each body said last, by id. */
const useFound = openedState<Record<string, Found>>('bodyProposals', {})

/** Pause after the last edit before the marks are looked at, in milliseconds. */
const PAUSE = 300

/** Returns whether marks are just being set: by following anywhere, by hand only in Measure, where a mode stays on until it is left. */
function useIsBusy(): boolean {
  const { view } = useParams()
  const isMeasure = view !== 'graphs' && view !== 'report'
  return useWorkbench(({ mode }) => (isMeasure ? mode.kind !== 'select' : mode.kind === 'follow'))
}

/** Looks at the marks of the active body whenever they change, unless it is being marked or followed. Shows nothing: a view does not render with every mark for it. */
export function ProposalSearch(): null {
  const session = useSession()
  const investigation = useInvestigation()
  const chosen = useWorkbench((state) => state.body)
  const isBusy = useIsBusy()
  const id = activeBody(investigation, chosen)
  const body = id === null ? null : investigation.bodies[id]
  const seconds = clockOf(investigation)?.seconds
  const limit = investigation.outlierLimit
  const { camera } = investigation
  useEffect(() => {
    if (id === null || !body || !seconds || isBusy) return
    const known = useFound.getState()[id]
    if (known?.body === body && known.seconds === seconds && known.limit === limit && known.camera === camera)
      return
    const timer = setTimeout(async () => {
      const steadied = steadiedBody(session.document, id)
      const nothing: BodyProposals = { stretches: [], axes: null }
      // Then nothing is proposed; nothing else depends on it.
      const found = steadied
        ? await trackWorker()
            .bodyProposals(steadied, seconds, limit)
            .catch(() => nothing)
        : nothing
      useFound.setState({ [id]: { body, camera, seconds, limit, ...found } })
    }, PAUSE)
    return () => clearTimeout(timer)
  }, [session, id, body, camera, seconds, limit, isBusy])
  return null
}

/** Everything that the marks of a body say, also what is taken or refused; the same until they change. */
export interface FoundProposals {
  body: string
  found: BodyProposals
}

/** Returns what the marks of the active body say; null while they change. Renders again only when that changes. */
export function useFoundProposals(): FoundProposals | null {
  const chosen = useWorkbench((state) => state.body)
  const isBusy = useIsBusy()
  const all = useFound()
  const id = useInvestigation((now) => {
    const active = activeBody(now, chosen)
    return active !== null && all[active]?.body === now.bodies[active] && all[active].camera === now.camera
      ? active
      : null
  })
  return id === null || isBusy ? null : { body: id, found: all[id] }
}

/** Returns the stretches of the active body that are proposed, by time. */
export function useProposedStretches(): ProposedStretch[] {
  const found = useFoundProposals()
  return useInvestigation(
    useShallow((now) => (found ? openStretches(now, found.body, found.found.stretches) : NONE)),
  )
}

const NONE: ProposedStretch[] = []

/** Returns the axes that are proposed by the motion of the active body; null if there are none. */
export function useProposedAxes(): ProposedAxes | null {
  const found = useFoundProposals()
  return useInvestigation((now) => found && openAxes(now, found.body, found.found.axes))
}
