import { useSession } from '../document/SessionContext.tsx'
import { usePutInto } from './report/usePutInto.ts'

/** Returns a function that adds a block at the end of the report of the open investigation. */
export function usePutIntoReport() {
  const session = useSession()
  return usePutInto(session, `/investigations/${session.id}/report`)
}
