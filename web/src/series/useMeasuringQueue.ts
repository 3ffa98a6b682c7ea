import { edit, inOrder } from '@apokinema/core/investigation'
import { type AxesRule, type Series, seriesEdits } from '@apokinema/core/series'
import { useEffect } from 'react'
import { v4 as uuid } from 'uuid'
import { client } from '../api/client.ts'
import type { Session } from '../document/session.ts'
import { footageSource } from '../footage/footageSource.ts'
import type { Pattern } from './addTrials.ts'
import { type Measured, measureTrial } from './measureTrial.ts'
import { type MeasuringProgress, useMeasuring } from './measuringStore.ts'
import { useOpenSeries, useSeriesAnalysis } from './SeriesContext.tsx'

/** The session of the series that is open now, and what loads its trials; null while none is open. */
let open: { session: Session<Series>; refresh: () => Promise<void> } | null = null

/**
 * Measures the trials that wait for it, one after the other. Which ones wait stands in the series, so it goes on at the next visit.
 *
 * @param except a trial that a person has open: it is left alone meanwhile
 */
export function useMeasuringQueue(except: string | null = null): void {
  const { session, documents, refresh } = useOpenSeries()
  const analysis = useSeriesAnalysis()
  const isBusy = useMeasuring(({ running }) => running !== null)
  const { axesRule, trials } = analysis.series
  const patternId = analysis.patternId()
  const document = analysis.patternDocument()
  const waiting = inOrder(trials).filter(([, { measuring }]) => measuring?.kind === 'waiting')
  const next = waiting.find(([id]) => documents.has(id) && id !== patternId && id !== except)?.[0]
  const areWaiting = waiting.length > 0

  useEffect(() => {
    open = { session, refresh }
    return () => {
      open = null
    }
  }, [session, refresh])

  useEffect(() => {
    useMeasuring.setState({ series: areWaiting ? session.id : null })
  }, [session, areWaiting])

  useEffect(() => {
    if (next === undefined || patternId === null || !document || isBusy) return
    useMeasuring.setState({ running: { trial: next, doing: 'reading', share: 0 } })
    const onProgress = (progress: MeasuringProgress) =>
      useMeasuring.setState({ running: { trial: next, ...progress } })
    measureAndSave(next, { id: patternId, document }, axesRule, onProgress)
      .catch((): Measured['question'] => ({ kind: 'question', frame: 0, why: 'no-film' }))
      .then((question) => settle(session.id, next, question))
      // The server is away: the trial still waits, and is measured another time.
      .catch(() => {})
      .finally(() => useMeasuring.setState({ running: null }))
  }, [next, patternId, document, axesRule, session, isBusy])
}

/** Notes in a series what came of measuring a trial. The page that began it may be gone, or be another one by then. */
async function settle(series: string, trial: string, question: Measured['question']): Promise<void> {
  const settled = seriesEdits.setMeasuring(trial, question)
  if (open?.session.id === series) {
    const { session } = open
    if (session.document.trials[trial]) session.edit('measure a trial', settled)
    await session.delivered()
  } else {
    const { document, version } = await client.openSeries(series)
    if (document.trials[trial]) {
      const { patch } = edit(document, settled)
      if (patch.length > 0) await client.editSeries(series, { key: uuid(), base: version, patch })
    }
    // A page may have opened it meanwhile, as it was before.
    if (open?.session.id === series) await open.session.refresh()
  }
  if (open?.session.id === series) await open.refresh().catch(() => {})
}

/** Measures a trial and saves what was found as one edit of its investigation; returns what a person has to look at. */
async function measureAndSave(
  trial: string,
  pattern: Pattern,
  axesRule: AxesRule,
  onProgress: (progress: MeasuringProgress) => void,
): Promise<Measured['question']> {
  const { document, version } = await client.open(trial)
  const { footage } = document
  if (!footage) return { kind: 'question', frame: 0, why: 'no-film' }
  const from = await footageSource(trial, footage.id)
  const { mutators, question } = await measureTrial(document, pattern, axesRule, from, onProgress)
  const { patch } = edit(document, (draft) => {
    for (const mutator of mutators) mutator(draft)
  })
  if (patch.length > 0) await client.edit(trial, { key: uuid(), base: version, patch })
  return question
}
