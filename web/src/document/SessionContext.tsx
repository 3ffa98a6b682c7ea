import type { Investigation } from '@apokinema/core/investigation'
import { createContext, useContext } from 'react'
import { useStore } from 'zustand'
import type { Session, SessionState } from './session.ts'

export const SessionContext = createContext<Session | null>(null)

/** The session of the investigation that is open. */
export function useSession(): Session {
  const session = useContext(SessionContext)
  if (!session) throw new Error('There is no open investigation here.')
  return session
}

export function useSessionState<T>(pick: (state: SessionState) => T): T {
  return useStore(useSession().store, pick)
}

/** The document as it is shown: with what a drag makes of it while it goes on. */
export function useInvestigation(): Investigation {
  return useSessionState((state) => state.preview ?? state.document)
}
