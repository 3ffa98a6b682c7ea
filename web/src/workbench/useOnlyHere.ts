import { useCallback, useEffect, useState } from 'react'

/**
 * Whether this tab is the one that works on an investigation: null while that is being found out. Two
 * tabs of one browser share what waits to be sent, so only one may send it; it can be taken over.
 */
export function useOnlyHere(id: string): { here: boolean | null; takeOver: () => void } {
  // Browsers have locks on secure addresses only; without them there is nothing to ask.
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
      navigator.locks
        .request(`apokinema:${id}`, steal ? { steal: true } : { ifAvailable: true }, (lock) => {
          if (dropped) return
          setHere(lock !== null)
          return lock ? held : undefined
        })
        // The lock was taken over by another tab.
        .catch(() => {
          if (!dropped) {
            setSteal(false)
            setHere(false)
          }
        })
    void request()
    return () => {
      dropped = true
      release()
    }
  }, [id, steal])

  const takeOver = useCallback(() => {
    setHere(null)
    setSteal(true)
  }, [])
  return { here, takeOver }
}
