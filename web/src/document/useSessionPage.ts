import { useEffect } from 'react'
import { useStore } from 'zustand'
import { notify } from '../common/messages.tsx'
import type { Session } from './session.ts'

/** Names the page after its document, and shows what the session has to say, except for a conflict, which is asked about. */
export function useSessionPage<D extends { title: string }>(session: Session<D>): void {
  const title = useStore(session.store, (state) => state.document.title)
  const message = useStore(session.store, (state) => state.message)
  const isConflict = useStore(session.store, ({ save }) => save === 'conflict')
  useEffect(() => {
    document.title = `${title} – Apokinema`
    return () => {
      document.title = 'Apokinema'
    }
  }, [title])
  useEffect(() => {
    if (!message || isConflict) return
    notify(message)
    session.dismissMessage()
  }, [message, isConflict, session])
}
