import { useLayoutEffect, useMemo, useState } from 'react'
import { createStore } from 'zustand/vanilla'
import { ReportPage } from '../../workbench/report/ReportPage.tsx'
import { SourceProvider } from '../../workbench/report/source.ts'
import { useOpenSeries } from '../SeriesContext.tsx'
import type { MeasuredTrials } from './measuredTrials.ts'
import { seriesSource } from './seriesSource.ts'

/** The report of the open series. */
export default function SeriesReport() {
  const { session, analysis, titles } = useOpenSeries()
  const [trials] = useState(() => createStore<MeasuredTrials>(() => ({ analysis, titles })))
  useLayoutEffect(() => trials.setState({ analysis, titles }), [trials, analysis, titles])
  const source = useMemo(() => seriesSource(session, trials), [session, trials])
  return (
    <SourceProvider value={source}>
      <ReportPage />
    </SourceProvider>
  )
}
