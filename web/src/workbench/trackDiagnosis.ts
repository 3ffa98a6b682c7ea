import type { Body, Investigation } from '@apokinema/core/investigation'
import { diagnoseTrack, type TrackDiagnosis } from '@apokinema/core/motion'
import { clockOf } from '@apokinema/core/scene'
import * as Comlink from 'comlink'
import { useEffect } from 'react'
import { openedState } from '../document/openedState.ts'
import { useInvestigation } from '../document/SessionContext.tsx'
import type { TrackWorker } from './trackDiagnosis.worker.ts'
import { workbench } from './workbenchStore.ts'

/** A diagnosis, and the body that it is of: an edit of a mark replaces the body. */
interface Diagnosed {
  body: Body
  seconds: Float64Array
  limit: number
  diagnosis: TrackDiagnosis
}

const NOTHING: TrackDiagnosis = { outliers: [], breaks: [], jumps: [] }

/** Number of marks up to which a body is diagnosed at once; more are diagnosed in a worker, since that can take a second. */
const MOST_AT_ONCE = 1500

/** Pause after an edit before that begins, in milliseconds: transferring many marks takes time. */
const PAUSE = 800

/** Diagnoses of bodies with few marks. */
const small = new WeakMap<Body, Diagnosed>()

/** The last diagnosis of each body with many marks, by id. */
const useLarge = openedState<Record<string, Diagnosed>>('diagnoses', {})

/** Pending and running diagnoses in the worker, by body: only the last request counts. */
const wanted = new Map<string, Omit<Diagnosed, 'diagnosis'>>()
const working = new Map<string, Promise<void>>()

let worker: Comlink.Remote<TrackWorker> | null = null

/** Returns the worker that looks at the marks of bodies. */
export function trackWorker(): Comlink.Remote<TrackWorker> {
  worker ??= Comlink.wrap<TrackWorker>(
    new Worker(new URL('./trackDiagnosis.worker.ts', import.meta.url), { type: 'module', name: 'diagnosis' }),
  )
  return worker
}

const isOf = (known: Diagnosed | undefined, body: Body, seconds: Float64Array, limit: number) =>
  known?.body === body && known.seconds === seconds && known.limit === limit

/** Diagnoses a body with few marks. */
function diagnosedAtOnce(body: Body, seconds: Float64Array, limit: number): TrackDiagnosis {
  const known = small.get(body)
  if (isOf(known, body, seconds, limit)) return known!.diagnosis
  const diagnosis = diagnoseTrack(body, seconds, limit)
  small.set(body, { body, seconds, limit, diagnosis })
  return diagnosis
}

/**
 * Diagnoses a body with many marks in the worker. Resolves once this or a later state is diagnosed, or the worker
 * has failed.
 */
function diagnoseInWorker(id: string, body: Body, seconds: Float64Array, limit: number): Promise<void> {
  wanted.set(id, { body, seconds, limit })
  const known = working.get(id)
  if (known) return known
  const work = async () => {
    for (;;) {
      const next = wanted.get(id)!
      if (isOf(useLarge.getState()[id], next.body, next.seconds, next.limit)) return
      const diagnosis = await trackWorker().diagnoseTrack(next.body, next.seconds, next.limit)
      useLarge.setState({ [id]: { ...next, diagnosis } })
    }
  }
  // Without a diagnosis nothing is flagged; nothing else depends on it.
  const made = work()
    .catch(() => {})
    .finally(() => working.delete(id))
  working.set(id, made)
  return made
}

const isSmall = ({ marks }: Body) => {
  let count = 0
  for (const _ in marks) if (++count > MOST_AT_ONCE) return false
  return true
}

/** Returns the diagnosis of a body's marks in a document. */
export async function trackDiagnosis(investigation: Investigation, id: string): Promise<TrackDiagnosis> {
  const body = investigation.bodies[id]
  const seconds = clockOf(investigation)?.seconds
  if (!body || !seconds) return NOTHING
  const { outlierLimit } = investigation
  if (isSmall(body)) return diagnosedAtOnce(body, seconds, outlierLimit)
  await diagnoseInWorker(id, body, seconds, outlierLimit)
  return useLarge.getState()[id]?.diagnosis ?? NOTHING
}

/**
 * Diagnoses bodies with many marks in the background whenever they change.
 *
 * @param isPaused while marks are being added by the thousand
 */
export function useBackgroundDiagnosis(isPaused: boolean): void {
  const investigation = useInvestigation()
  const { bodies, outlierLimit } = investigation
  const seconds = clockOf(investigation)?.seconds
  useEffect(() => {
    if (!seconds || isPaused) return
    const timer = setTimeout(() => {
      for (const [id, body] of Object.entries(bodies))
        if (!isSmall(body)) void diagnoseInWorker(id, body, seconds, outlierLimit)
    }, PAUSE)
    return () => clearTimeout(timer)
  }, [bodies, seconds, outlierLimit, isPaused])
}

/** Returns a function that returns the diagnosis of a body's marks; for many marks the last known one. */
export function useTrackDiagnoses(): (id: string | null) => TrackDiagnosis {
  const investigation = useInvestigation()
  const large = useLarge()
  const seconds = clockOf(investigation)?.seconds
  return (id) => {
    const body = id === null ? undefined : investigation.bodies[id]
    if (!body || !seconds) return NOTHING
    return isSmall(body)
      ? diagnosedAtOnce(body, seconds, investigation.outlierLimit)
      : (large[id!]?.diagnosis ?? NOTHING)
  }
}

/** Returns the diagnosis of one body's marks. */
export const useTrackDiagnosis = (id: string | null) => useTrackDiagnoses()(id)

/** Goes to the next outlier after a frame, or to the first. */
export function goToNextOutlier(body: string, { outliers }: TrackDiagnosis, after: number): void {
  goToNextOf(
    body,
    outliers.map(({ frame }) => frame),
    after,
  )
}

/** Goes to the next of some frames of a body after a frame, or to the first. */
export function goToNextOf(body: string, frames: number[], after: number): void {
  const next = frames.find((frame) => frame > after) ?? frames[0]
  if (next === undefined) return
  workbench.goTo(next)
  workbench.select({ kind: 'mark', body, frame: next })
}
