import { useCallback, useEffect, useState } from 'react'
import { forgetPrefetched } from '../api/queries.ts'

/** Resolves when this tab has given back the locks that it needs no more. */
let released: Promise<unknown> = Promise.resolve()

/**
 * Returns true if this tab is the one that works on a document; null until that is known. Two
 * tabs of one browser share the unsent edits, so only one may send them; the other can take over.
 */
export function useOnlyHere(id: string): { here: boolean | null; takeOver: () => void } {
  // Browsers have locks on secure addresses only; without them every tab counts as the only one.
  const [here, setHere] = useState<boolean | null>(navigator.locks ? null : true)
  const [steal, setSteal] = useState(false)

  useEffect(() => {
    if (!navigator.locks) return
    let release: () => void = () => {}
    const held = new Promise<void>((resolve) => {
      release = resolve
    })
    let dropped = false
    const request = () =>
      navigator.locks.request(
        `apokinema:${id}`,
        steal ? { steal: true } : { ifAvailable: true },
        async (lock) => {
          if (dropped) return
          setHere(lock !== null)
          if (lock) await held
        },
      )
    // A lock that this tab is still releasing would look like another tab's.
    const ended = released
      .then(() => (dropped ? undefined : request()))
      // The lock was taken over by another tab.
      .catch(() => {
        if (!dropped) {
          setSteal(false)
          setHere(false)
        }
      })
    return () => {
      dropped = true
      release()
      released = Promise.all([released, ended])
    }
  }, [id, steal])

  const takeOver = useCallback(() => {
    // The other tab may have changed it since it was requested for this one.
    forgetPrefetched(id)
    setHere(null)
    setSteal(true)
  }, [id])
  return { here, takeOver }
}
