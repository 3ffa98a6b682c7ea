import type { Limits } from '@apokinema/core/graphs'
import { openedState } from '../../document/openedState.ts'

/** The times that all graphs show; null: all marks. Not saved. */
export const useTimeView = openedState<{ seen: Limits | null }>('time view', { seen: null })

/** Margin beside a range that is zoomed to, as a share of it. */
const ROOM = 0.05
/** Shortest visible range, in seconds. */
const LEAST = 1e-4

/** Shows a range of times with a margin. */
export function seeTimes({ from, to }: Limits): void {
  const room = ROOM * (to - from)
  showTimes({ from: from - room, to: to + room })
}

/** Shows a range of times exactly; null shows all. */
export function showTimes(seen: Limits | null): void {
  if (!seen || seen.to - seen.from > LEAST) useTimeView.setState({ seen })
}

/** Axis limits during a drag, except of time. Only the affected graph is redrawn; the limits become an edit on release. */
export const useDraggedScale = openedState<{
  dragged: { id: string; direction: 'x' | 'y'; limits: Limits } | null
}>('scale being dragged', { dragged: null })
