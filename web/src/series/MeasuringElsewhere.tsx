import { lazy, Suspense } from 'react'
import { useMatch } from 'react-router'
import { useMeasuring } from './measuringStore.ts'

const MeasuringInBackground = lazy(() => import('./MeasuringInBackground.tsx'))

/** Goes on measuring the trials of the series that was open last while another page than its own is shown. */
export function MeasuringElsewhere() {
  const series = useMeasuring((state) => state.series)
  const shown = useMatch('/series/:id/*')?.params.id
  const trial = useMatch('/investigations/:id/*')?.params.id ?? null
  // A camera that records needs the machine for itself.
  const isRecording = useMatch('/record') !== null
  if (series === null || series === shown || isRecording) return null
  return (
    <Suspense fallback={null}>
      <MeasuringInBackground key={series} series={series} trial={trial} />
    </Suspense>
  )
}
