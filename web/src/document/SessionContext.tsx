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

/** Returns the document, with the preview of a drag if there is one. */
export const shownOf = ({ preview, document }: SessionState) => preview ?? document

/** The document for parts of the page that may lag behind; null elsewhere. */
const DeferredContext = createContext<Investigation | null>(null)

const whole = (investigation: Investigation) => investigation

/** Returns the document as it is shown, with the preview of a drag. */
export function useInvestigation(): Investigation
/** Returns the part that `pick` selects; the component renders again only when it changes. */
export function useInvestigation<T>(pick: (investigation: Investigation) => T): T
export function useInvestigation<T>(pick: (investigation: Investigation) => T | Investigation = whole) {
  const later = useContext(DeferredContext)
  // Components that may lag behind render with the deferred document.
  const now = useSessionState((state) => (later ? null : pick(shownOf(state))))
  return later ? pick(later) : now
}

/**
 * Returns the document as it is shown. The component renders again only when a part changes that is not ignored.
 *
 * @param ignored keys of the parts that do not matter, given the document
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
 * Lets its children follow changes of the document with a delay while something is dragged, or when asked to, so that the
 * part that is worked on is rendered first. Otherwise they follow at once; switching between the two renders nothing.
 */
export function Deferred({ when = false, children }: { when?: boolean; children: ReactNode }) {
  const now = useSessionState(shownOf)
  const isHeld = useSessionState(({ preview }) => preview !== null)
  const later = useDeferredValue(now)
  return <DeferredContext.Provider value={when || isHeld ? later : now}>{children}</DeferredContext.Provider>
}
