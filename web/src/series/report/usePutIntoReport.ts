import { usePutInto } from '../../workbench/report/usePutInto.ts'
import { useSeriesSession } from '../SeriesContext.tsx'

/** Returns a function that adds a block at the end of the report of the open series. */
export function usePutIntoReport() {
  const session = useSeriesSession()
  return usePutInto(session, `/series/${session.id}/report`)
}
