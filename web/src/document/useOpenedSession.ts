import { useEffect, useState } from 'react'
import { listsChanged } from '../api/queries.ts'
import { openSession } from './openSession.ts'
import type { Session } from './session.ts'
import type { Reach } from './sessionState.ts'

/**
 * Opens a document for as long as the page shows it: its session, or why there is none.
 *
 * @param reach the same object in every rendering
 * @param isHere whether it may be opened in this tab
 * @param onOpened called before the session is shown
 */
export function useOpenedSession<D extends object>(
  id: string,
  reach: Reach<D>,
  isHere = true,
  onOpened?: (document: D) => void,
): { session: Session<D> | null; failure: Error | null } {
  const [session, setSession] = useState<Session<D> | null>(null)
  const [failure, setFailure] = useState<Error | null>(null)

  useEffect(() => {
    if (!isHere) return
    let dropped = false
    let opened: Session<D> | null = null
    setFailure(null)
    openSession(id, reach)
      .then((ready) => {
        opened = ready
        if (dropped) ready.close()
        else {
          onOpened?.(ready.document)
          setSession(ready)
        }
      })
      .catch((error: Error) => {
        if (!dropped) setFailure(error)
      })
    const online = () => opened?.retryNow()
    const seen = () => void opened?.refresh().catch(() => {})
    window.addEventListener('online', online)
    window.addEventListener('focus', seen)
    return () => {
      dropped = true
      opened?.close()
      setSession(null)
      window.removeEventListener('online', online)
      window.removeEventListener('focus', seen)
      void listsChanged()
    }
  }, [id, reach, isHere, onOpened])

  return { session, failure }
}
