import { create } from 'zustand'

/** What is being done for a trial, and how much of it is done, 0 to 1. */
export interface MeasuringProgress {
  doing: 'reading' | 'following'
  share: number
}

/** Trials are measured whichever page is shown, one at a time. */
export const useMeasuring = create<{
  /** The series whose trials are measured or wait; null if there is none. */
  series: string | null
  /** The trial that is being measured, and how far it is. */
  running: ({ trial: string } & MeasuringProgress) | null
}>(() => ({ series: null, running: null }))
