import type { Body } from '@apokinema/core/investigation'
import { openStretches, type ProposedStretch } from '@apokinema/core/proposals'
import { clockOf } from '@apokinema/core/scene'
import { useEffect } from 'react'
import { openedState } from '../../document/openedState.ts'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { activeBody } from '../shown.ts'
import { trackWorker } from '../trackDiagnosis.ts'
import { useWorkbench } from '../workbenchStore.ts'

/** The stretches of a body, and the state of the body that they are of: an edit of a mark replaces the body. */
interface Found {
  body: Body
  seconds: Float64Array
  limit: number
  stretches: ProposedStretch[]
}

/** The last stretches that were found of each body, by id. */
const useFound = openedState<Record<string, Found>>('stretches', {})

/** Pause after the last edit before they are looked for, in milliseconds. */
const PAUSE = 300

/** Looks for stretches of the active body whenever its marks change, unless it is being marked or followed. */
export function useStretchSearch(): void {
  const investigation = useInvestigation()
  const chosen = useWorkbench((state) => state.body)
  const isBusy = useWorkbench(({ mode }) => mode.kind !== 'select')
  const id = activeBody(investigation, chosen)
  const body = id === null ? null : investigation.bodies[id]
  const seconds = clockOf(investigation)?.seconds
  const limit = investigation.outlierLimit
  useEffect(() => {
    if (id === null || !body || !seconds || isBusy) return
    const known = useFound.getState()[id]
    if (known?.body === body && known.seconds === seconds && known.limit === limit) return
    const timer = setTimeout(async () => {
      // Without stretches nothing is proposed; nothing else depends on them.
      const stretches = await trackWorker()
        .bodyStretches(body, seconds, limit)
        .catch(() => [])
      useFound.setState({ [id]: { body, seconds, limit, stretches } })
    }, PAUSE)
    return () => clearTimeout(timer)
  }, [id, body, seconds, limit, isBusy])
}

/** Returns the stretches of the active body that are proposed, by time; none while its marks change. */
export function useProposedStretches(): { body: string; stretches: ProposedStretch[] } | null {
  const investigation = useInvestigation()
  const chosen = useWorkbench((state) => state.body)
  const isBusy = useWorkbench(({ mode }) => mode.kind !== 'select')
  const id = activeBody(investigation, chosen)
  const found = useFound((state) => (id === null ? undefined : state[id]))
  if (id === null || isBusy || !found || found.body !== investigation.bodies[id]) return null
  const stretches = openStretches(investigation, id, found.stretches)
  return stretches.length > 0 ? { body: id, stretches } : null
}
