import { edit, inOrder } from '@apokinema/core/investigation'
import { type AxesRule, seriesEdits } from '@apokinema/core/series'
import { useEffect } from 'react'
import { v4 as uuid } from 'uuid'
import { create } from 'zustand'
import { client } from '../api/client.ts'
import { footageSource } from '../footage/footageSource.ts'
import type { Pattern } from './addTrials.ts'
import { type Measured, type MeasuringProgress, measureTrial } from './measureTrial.ts'
import { useOpenSeries, useSeriesAnalysis } from './SeriesContext.tsx'

/** The trial that is being measured, and how far it is; null if none is. */
export type Running = ({ trial: string } & MeasuringProgress) | null

/** One trial is measured at a time, also while another page is looked at. */
const useRunning = create<{ running: Running }>(() => ({ running: null }))

/**
 * Measures the trials that wait for it, one after the other. Which ones wait stands in the series, so it goes on at the next visit. Returns
 * what is being done.
 */
export function useMeasuringQueue(): Running {
  const { session, documents, refresh } = useOpenSeries()
  const analysis = useSeriesAnalysis()
  const running = useRunning((state) => state.running)
  const isBusy = running !== null
  const { axesRule, trials } = analysis.series
  const patternId = analysis.patternId()
  const document = analysis.patternDocument()
  const next = inOrder(trials).find(
    ([id, { measuring }]) => measuring?.kind === 'waiting' && documents.has(id) && id !== patternId,
  )?.[0]

  useEffect(() => {
    if (next === undefined || patternId === null || !document || isBusy) return
    useRunning.setState({ running: { trial: next, doing: 'reading', share: 0 } })
    const onProgress = (progress: MeasuringProgress) =>
      useRunning.setState({ running: { trial: next, ...progress } })
    measureAndSave(next, { id: patternId, document }, axesRule, onProgress)
      .catch((): Measured['question'] => ({ kind: 'question', frame: 0, why: 'no-film' }))
      .then(async (question) => {
        if (session.document.trials[next])
          session.edit('measure a trial', seriesEdits.setMeasuring(next, question))
        await session.delivered()
        await refresh().catch(() => {})
      })
      .finally(() => useRunning.setState({ running: null }))
  }, [next, patternId, document, axesRule, session, refresh, isBusy])

  return running
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
