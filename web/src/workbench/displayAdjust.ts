import { useCallback } from 'react'
import { create } from 'zustand'
import { useSession } from '../document/SessionContext.tsx'

/** Display adjustments of the picture, as factors; the footage and all numbers are unchanged. */
export interface DisplayAdjustment {
  brightness: number
  contrast: number
}

export const NO_ADJUSTMENT: DisplayAdjustment = { brightness: 1, contrast: 1 }

const keyOf = (investigation: string) => `apokinema:look:${investigation}`

function stored(investigation: string): DisplayAdjustment {
  try {
    const { brightness, contrast } = JSON.parse(localStorage.getItem(keyOf(investigation)) ?? '{}')
    return brightness > 0 && contrast > 0 ? { brightness, contrast } : NO_ADJUSTMENT
  } catch {
    return NO_ADJUSTMENT
  }
}

/** The adjustments stored on this machine, read once. */
const read = new Map<string, DisplayAdjustment>()

function kept(investigation: string): DisplayAdjustment {
  const look = read.get(investigation) ?? stored(investigation)
  read.set(investigation, look)
  return look
}

const useLooks = create<Record<string, DisplayAdjustment>>(() => ({}))

/** Returns the display adjustments of this investigation on this machine. */
export function useDisplayAdjustment() {
  const { id } = useSession()
  const look = useLooks((all) => all[id]) ?? kept(id)
  const setLook = useCallback(
    (changed: DisplayAdjustment) => {
      useLooks.setState({ [id]: changed })
      localStorage.setItem(keyOf(id), JSON.stringify(changed))
    },
    [id],
  )
  const filter =
    look.brightness === 1 && look.contrast === 1
      ? undefined
      : `brightness(${look.brightness}) contrast(${look.contrast})`
  return { look, setLook, filter }
}
