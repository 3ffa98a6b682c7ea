import type { ListedTrial, OpenedInvestigation } from '@apokinema/core/api'
import type { Investigation } from '@apokinema/core/investigation'
import { type NumbersByTrial, noteNumbers } from '@apokinema/core/series'
import { useCallback, useEffect, useRef, useState } from 'react'
import { client } from '../api/client.ts'
import { openSeries } from '../api/queries.ts'
import { keepTrialNumbers, numbersOf } from './keptNumbers.ts'

/** Trials whose documents are requested at a time, and requests that are under way. */
const AT_A_TIME = 25
const REQUESTS = 4

interface Loaded {
  /** The trials that are not deleted, by id. */
  listed: ReadonlyMap<string, ListedTrial>
  /** Their documents as far as they are loaded. */
  documents: ReadonlyMap<string, Investigation>
  /** Numbers of trials whose documents are still to come, from the last time. */
  kept: NumbersByTrial
  /** Whether some are still to come. */
  isLoading: boolean
}

/** A trial as the server has it. */
type TrialVersion = Pick<OpenedInvestigation, 'id' | 'version' | 'document'>

/** The documents of a series' trials. */
export interface TrialDocuments extends Loaded {
  /** Loads trials again that were added or changed. */
  refresh: () => Promise<void>
  /** Notes trials as the server has them now, after they were changed from here. */
  setTrials: (trials: readonly TrialVersion[]) => void
}

/**
 * Loads the documents of a series' trials, some at a time, and again those that have changed since when the page is looked at again.
 * Returns what is there so far.
 *
 * @param isShown whether the page shows the series already
 */
export function useTrialDocuments(id: string, isShown: boolean): TrialDocuments {
  const [loaded, setLoaded] = useState<Loaded>({
    listed: new Map(),
    documents: new Map(),
    kept: new Map(),
    isLoading: true,
  })
  const versions = useRef(new Map<string, number>())
  const run = useRef(0)
  const [shown] = useState(signal)

  const refresh = useCallback(async () => {
    const mine = ++run.current
    const isFirst = versions.current.size === 0
    const opening = openSeries(id, 'trials')
    const kept = isFirst ? await numbersOf(id, async () => (await opening).trials) : new Map()
    const { trials } = await opening
    if (mine !== run.current) return
    const present = new Set(trials.map((trial) => trial.id))
    for (const known of versions.current.keys()) if (!present.has(known)) versions.current.delete(known)
    const missing = trials.filter((trial) => versions.current.get(trial.id) !== trial.version)
    setLoaded((now) => ({
      listed: new Map(trials.map((trial) => [trial.id, trial])),
      documents: new Map([...now.documents].filter(([known]) => present.has(known))),
      kept,
      isLoading: missing.length > 0,
    }))
    // What is known of all of them is shown before their documents take the machine.
    if (missing.length > 0 && missing.every((trial) => kept.has(trial.id))) await shown.promise
    // Everything is computed anew for whatever has come, so it comes in few parts.
    for (let from = 0; from < missing.length; from += REQUESTS * AT_A_TIME) {
      const parts = Array.from({ length: REQUESTS }, (_, i) =>
        missing.slice(from + i * AT_A_TIME, from + (i + 1) * AT_A_TIME).map((trial) => trial.id),
      ).filter((ids) => ids.length > 0)
      const opened = (await Promise.all(parts.map((ids) => client.trials(id, ids)))).flat()
      if (mine !== run.current) return
      for (const one of opened) {
        versions.current.set(one.id, one.version)
        const numbers = kept.get(one.id)
        // It may have changed since it was listed.
        if (numbers && missing.some((trial) => trial.id === one.id && trial.version === one.version))
          noteNumbers(one.document, numbers)
      }
      setLoaded((now) => ({
        ...now,
        documents: new Map([...now.documents, ...opened.map((one) => [one.id, one.document] as const)]),
        isLoading: from + REQUESTS * AT_A_TIME < missing.length,
      }))
    }
  }, [id, shown])

  const setTrials = useCallback((trials: readonly TrialVersion[]) => {
    for (const { id, version } of trials) versions.current.set(id, version)
    setLoaded((now) => {
      const [listed, documents] = [new Map(now.listed), new Map(now.documents)]
      for (const { id, version, document } of trials) {
        const before = listed.get(id)
        if (before) listed.set(id, { ...before, version, title: document.title })
        documents.set(id, document)
      }
      return { ...now, listed, documents }
    })
  }, [])

  useEffect(() => {
    if (isShown) void nextPaint().then(shown.resolve)
  }, [isShown, shown])
  useEffect(() => {
    const load = () => void refresh().catch(() => setLoaded((now) => ({ ...now, isLoading: false })))
    load()
    window.addEventListener('focus', load)
    return () => {
      run.current++
      window.removeEventListener('focus', load)
    }
  }, [refresh])

  useKeepingNumbers(id, loaded, versions.current)
  return { ...loaded, refresh, setTrials }
}

/** Returns a promise and what resolves it. */
function signal(): { promise: Promise<void>; resolve: () => void } {
  let resolve = () => {}
  const promise = new Promise<void>((done) => {
    resolve = done
  })
  return { promise, resolve }
}

/** Resolves when what was rendered last has been painted; soon, too, where nothing is painted. */
const nextPaint = (): Promise<void> =>
  new Promise((resolve) => {
    const done = () => setTimeout(resolve)
    requestAnimationFrame(done)
    setTimeout(done, UNSEEN_AFTER)
  })

/** Milliseconds after which a page counts as one that isn't painted, such as one in another tab. */
const UNSEEN_AFTER = 1000

/** Milliseconds after which numbers are kept: what shows them has been rendered by then. */
const KEEP_AFTER = 2000

/** Keeps the numbers of the trials in this browser once all are loaded and shown. */
function useKeepingNumbers(
  id: string,
  { listed, documents, isLoading }: Loaded,
  versions: ReadonlyMap<string, number>,
): void {
  useEffect(() => {
    if (isLoading || documents.size === 0) return
    const timer = window.setTimeout(() => {
      const loaded = [...listed.values()].filter((trial) => versions.get(trial.id) === trial.version)
      void keepTrialNumbers(id, loaded, documents)
    }, KEEP_AFTER)
    return () => window.clearTimeout(timer)
  }, [id, listed, documents, isLoading, versions])
}
