import type { Investigation } from '@apokinema/core/investigation'
import { useEffect, useRef } from 'react'
import { NavigationType, useLocation, useNavigate, useNavigationType } from 'react-router'
import { useSession } from '../document/SessionContext.tsx'
import { addressOf, isStep, readAddress } from './address.ts'
import { useWorkbench, workbench } from './workbenchStore.ts'

/** Pause in milliseconds after which the state is written into the address. */
const REST = 300

/** Shows the state that an address describes. Other parts stay as they are, or are reset on request. */
export function showAddress(search: string, investigation: Investigation, isWhole: boolean): void {
  const { frame, body, stretch } = readAddress(search, investigation)
  if (frame !== null || isWhole) workbench.goTo(frame ?? investigation.span.first)
  if (body !== null || isWhole) workbench.setBody(body)
  const { selection } = useWorkbench.getState()
  if (stretch !== null) workbench.select({ kind: 'stretch', id: stretch })
  else if (isWhole && selection?.kind === 'stretch') workbench.select(null)
}

/**
 * Synchronises the page's address and the workbench: frame, body and stretch are written into it after a pause, and
 * restored on the way back.
 */
export function useAddress(): void {
  const session = useSession()
  const { search } = useLocation()
  const navigate = useNavigate()
  const type = useNavigationType()
  /** The address as last written or shown. */
  const known = useRef(search)

  useEffect(() => {
    if (search === known.current) return
    known.current = search
    showAddress(search, session.document, type === NavigationType.Pop)
  }, [search, type, session])

  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined
    const write = () => {
      const next = addressOf(useWorkbench.getState(), session.document)
      if (next === known.current) return
      const before = known.current
      known.current = next
      const { pathname, hash } = window.location
      if (isStep(before, next)) navigate({ search: next, hash })
      // Bypasses the router: another frame is no reason to render anything.
      else window.history.replaceState(window.history.state, '', `${pathname}${next}${hash}`)
    }
    const later = () => {
      clearTimeout(timer)
      timer = setTimeout(write, REST)
    }
    const unsubscribe = useWorkbench.subscribe((now, before) => {
      if (now.playing) clearTimeout(timer)
      else if (
        now.frame !== before.frame ||
        now.body !== before.body ||
        now.selection !== before.selection ||
        before.playing
      )
        later()
    })
    // Links to other views do not contain the state, and some contain what does not exist here.
    if (search !== addressOf(useWorkbench.getState(), session.document)) later()
    return () => {
      clearTimeout(timer)
      unsubscribe()
    }
  }, [session, navigate, search])
}
