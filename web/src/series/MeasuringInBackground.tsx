import { useOnlyHere } from '../document/useOnlyHere.ts'
import { useOpenedSession } from '../document/useOpenedSession.ts'
import { SeriesProvider } from './SeriesContext.tsx'
import { seriesReach } from './seriesReach.ts'
import { useMeasuringQueue } from './useMeasuringQueue.ts'
import { useTrialDocuments } from './useTrialDocuments.ts'

/**
 * Measures the trials of a series that wait while another page is shown. Shows nothing.
 *
 * @param trial the trial that a person has open; null: none
 */
export default function MeasuringInBackground({ series, trial }: { series: string; trial: string | null }) {
  const { here } = useOnlyHere(series)
  const { session } = useOpenedSession(series, seriesReach, here === true)
  const trials = useTrialDocuments(series, true)
  return (
    session && (
      <SeriesProvider session={session} {...trials}>
        <Queue except={trial} />
      </SeriesProvider>
    )
  )
}

function Queue({ except }: { except: string | null }) {
  useMeasuringQueue(except)
  return null
}
