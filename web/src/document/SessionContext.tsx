import type { Investigation } from '@apokinema/core/investigation'
import { createContext, type ReactNode, useContext, useDeferredValue, useRef } from 'react'
import { useStore } from 'zustand'
import type { Session } from './session.ts'
import type { SessionState } from './sessionState.ts'

export const SessionContext = createContext<Session | null>(null)

/** Returns the session of the investigation that is open. */
export function useSession(): Session {
  const session = useContext(SessionContext)
  if (!session) throw new Error('There is no open investigation here.')
  return session
}

export function useSessionState<T>(pick: (state: SessionState) => T): T {
  return useStore(useSession().store, pick)
}

/** Returns the document with what a drag makes of it. */
export const shownOf = ({ preview, document }: SessionState) => preview ?? document

/** What parts of the page are shown that may lag behind; null elsewhere. */
const DeferredContext = createContext<Investigation | null>(null)

const whole = (investigation: Investigation) => investigation

/** Returns the document as it is shown: with what a drag makes of it while it goes on. */
export function useInvestigation(): Investigation
/** Returns what is picked of it: rendered again only where that is another one. */
export function useInvestigation<T>(pick: (investigation: Investigation) => T): T
export function useInvestigation<T>(pick: (investigation: Investigation) => T | Investigation = whole) {
  const later = useContext(DeferredContext)
  // What may lag behind is not rendered by every change, but by the one that comes to it.
  const now = useSessionState((state) => (later ? null : pick(shownOf(state))))
  return later ? pick(later) : now
}

/**
 * Returns the document as it is shown, for what does not look at some of its parts: rendered again only where another part is
 * another one.
 *
 * @param ignored the parts that do not matter, given the document as it is
 */
export function useInvestigationExcept(
  ignored: (now: Investigation) => readonly (keyof Investigation)[],
): Investigation {
  const last = useRef<Investigation | null>(null)
  return useInvestigation((now) => {
    const before = last.current
    const parts = ignored(now)
    const isSame =
      before !== null &&
      (Object.keys(now) as (keyof Investigation)[]).every(
        (part) => before[part] === now[part] || parts.includes(part),
      )
    if (isSame) return before
    last.current = now
    return now
  })
}

/**
 * Lets parts of the page follow changes of the document a moment later while something is dragged, and when it is asked
 * for, so that what is worked on is shown first. Otherwise they follow at once; going from one to the other renders
 * nothing.
 */
export function Deferred({ when = false, children }: { when?: boolean; children: ReactNode }) {
  const now = useSessionState(shownOf)
  const isHeld = useSessionState(({ preview }) => preview !== null)
  const later = useDeferredValue(now)
  return <DeferredContext.Provider value={when || isHeld ? later : now}>{children}</DeferredContext.Provider>
}
