import { type MeasuredSeries, type Series, SeriesAnalysis } from '@apokinema/core/series'
import { createContext, type ReactNode, useContext, useMemo, useState } from 'react'
import { useStore } from 'zustand'
import type { Session } from '../document/session.ts'
import { unlessReport } from '../document/unlessReport.ts'
import type { TrialDocuments } from './useTrialDocuments.ts'

interface OpenSeries extends TrialDocuments {
  session: Session<Series>
}

/** What follows from the open series. */
interface Derived {
  /** Titles of the trials, by id. */
  titles: ReadonlyMap<string, string>
  analysis: SeriesAnalysis
}

const SeriesContext = createContext<(OpenSeries & Derived) | null>(null)
/** The session alone, which stays the same: what edits only is not rendered again with the rest. */
const SessionContext = createContext<Session<Series> | null>(null)

/** Provides the open series, and everything that follows from it. */
export function SeriesProvider({ children, ...open }: OpenSeries & { children: ReactNode }) {
  const series = useMeasuredSeries(open.session)
  const { session, listed, documents, kept, isLoading, refresh, setTrials } = open
  const titles = useMemo(() => new Map([...listed].map(([id, { title }]) => [id, title])), [listed])
  const value = useMemo(
    () => ({
      session,
      listed,
      titles,
      documents,
      kept,
      isLoading,
      refresh,
      setTrials,
      analysis: new SeriesAnalysis(series, documents, kept),
    }),
    [session, listed, titles, documents, kept, isLoading, refresh, setTrials, series],
  )
  return (
    <SessionContext.Provider value={session}>
      <SeriesContext.Provider value={value}>{children}</SeriesContext.Provider>
    </SessionContext.Provider>
  )
}

/** Returns the series as it is shown: the same object as long as only its report changes. */
function useMeasuredSeries({ store }: Session<Series>): MeasuredSeries {
  const [pick] = useState(() => unlessReport<Series>())
  return useStore(store, ({ preview, document }) => pick(preview ?? document))
}

/** Returns the open series with its trials. */
export const useOpenSeries = () => provided(useContext(SeriesContext))

export const useSeriesSession = () => provided(useContext(SessionContext))

function provided<T>(value: T | null): T {
  if (value === null) throw new Error('There is no open series here.')
  return value
}

/** Returns everything that follows from the series and its trials. */
export const useSeriesAnalysis = () => useOpenSeries().analysis

export const useSeries = (): MeasuredSeries => useSeriesAnalysis().series
