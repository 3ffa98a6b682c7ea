import type { ListedTrial } from '@apokinema/core/api'
import type { Investigation } from '@apokinema/core/investigation'
import { type Series, SeriesAnalysis } from '@apokinema/core/series'
import { createContext, type ReactNode, useContext, useMemo } from 'react'
import { useStore } from 'zustand'
import type { Session } from '../document/session.ts'

interface OpenSeries {
  session: Session<Series>
  /** The trials that are not deleted, by id. */
  listed: ReadonlyMap<string, ListedTrial>
  /** Their documents as far as they are loaded. */
  documents: ReadonlyMap<string, Investigation>
  /** Whether some are still to come. */
  isLoading: boolean
  /** Loads trials again that were added or changed. */
  refresh: () => Promise<void>
}

const SeriesContext = createContext<(OpenSeries & { analysis: SeriesAnalysis }) | null>(null)

/** Provides the open series, and everything that follows from it. */
export function SeriesProvider({ children, ...open }: OpenSeries & { children: ReactNode }) {
  const series = useStore(open.session.store, (state) => state.preview ?? state.document)
  const { session, listed, documents, isLoading, refresh } = open
  const value = useMemo(
    () => ({
      session,
      listed,
      documents,
      isLoading,
      refresh,
      analysis: new SeriesAnalysis(series, documents),
    }),
    [session, listed, documents, isLoading, refresh, series],
  )
  return <SeriesContext.Provider value={value}>{children}</SeriesContext.Provider>
}

/** Returns the open series with its trials. */
export function useOpenSeries() {
  const open = useContext(SeriesContext)
  if (!open) throw new Error('There is no open series here.')
  return open
}

export const useSeriesSession = () => useOpenSeries().session

/** Returns everything that follows from the series and its trials. */
export const useSeriesAnalysis = () => useOpenSeries().analysis

export const useSeries = (): Series => useSeriesAnalysis().series
