import { useSyncExternalStore } from 'react'

const WIDE = matchMedia('(min-width: 1024px)')

/** Returns true where columns have room beside the middle of a view; otherwise they are sheets. */
export function useIsWide(): boolean {
  return useSyncExternalStore(
    (changed) => {
      WIDE.addEventListener('change', changed)
      return () => WIDE.removeEventListener('change', changed)
    },
    () => WIDE.matches,
  )
}
