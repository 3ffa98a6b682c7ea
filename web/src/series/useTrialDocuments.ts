import type { ListedTrial } from '@apokinema/core/api'
import type { Investigation } from '@apokinema/core/investigation'
import { useCallback, useEffect, useRef, useState } from 'react'
import { client } from '../api/client.ts'

/** Trials whose documents are requested at a time, and requests that are under way. */
const AT_A_TIME = 25
const REQUESTS = 4

interface Loaded {
  listed: ReadonlyMap<string, ListedTrial>
  documents: ReadonlyMap<string, Investigation>
  isLoading: boolean
}

/**
 * Loads the documents of a series' trials, some at a time, and again those that have changed since when the page is looked at again.
 * Returns what is there so far.
 */
export function useTrialDocuments(id: string): Loaded & { refresh: () => Promise<void> } {
  const [loaded, setLoaded] = useState<Loaded>({
    listed: new Map(),
    documents: new Map(),
    isLoading: true,
  })
  const versions = useRef(new Map<string, number>())
  const run = useRef(0)

  const refresh = useCallback(async () => {
    const mine = ++run.current
    const { trials } = await client.openSeries(id)
    if (mine !== run.current) return
    const present = new Set(trials.map((trial) => trial.id))
    for (const known of versions.current.keys()) if (!present.has(known)) versions.current.delete(known)
    const missing = trials.filter((trial) => versions.current.get(trial.id) !== trial.version)
    setLoaded((now) => ({
      listed: new Map(trials.map((trial) => [trial.id, trial])),
      documents: new Map([...now.documents].filter(([known]) => present.has(known))),
      isLoading: missing.length > 0,
    }))
    // Everything is computed anew for whatever has come, so it comes in few parts.
    for (let from = 0; from < missing.length; from += REQUESTS * AT_A_TIME) {
      const parts = Array.from({ length: REQUESTS }, (_, i) =>
        missing.slice(from + i * AT_A_TIME, from + (i + 1) * AT_A_TIME).map((trial) => trial.id),
      ).filter((ids) => ids.length > 0)
      const opened = (await Promise.all(parts.map((ids) => client.trials(id, ids)))).flat()
      if (mine !== run.current) return
      for (const one of opened) versions.current.set(one.id, one.version)
      setLoaded((now) => ({
        ...now,
        documents: new Map([...now.documents, ...opened.map((one) => [one.id, one.document] as const)]),
        isLoading: from + REQUESTS * AT_A_TIME < missing.length,
      }))
    }
  }, [id])

  useEffect(() => {
    const load = () => void refresh().catch(() => setLoaded((now) => ({ ...now, isLoading: false })))
    load()
    window.addEventListener('focus', load)
    return () => {
      run.current++
      window.removeEventListener('focus', load)
    }
  }, [refresh])

  return { ...loaded, refresh }
}
