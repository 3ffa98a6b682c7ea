import type { Point } from '@apokinema/core/geometry'
import { create } from 'zustand'

/** What a click on the stage does. */
export type Mode =
  | { kind: 'select' }
  | { kind: 'mark'; body: string }
  /** Places the two ends of a new reference length, or of one that is there. */
  | { kind: 'reference'; id: string | null; first: Point | null }
  | { kind: 'origin' }
  /** Draws a line that the x axis is laid along. */
  | { kind: 'axis-line'; first: Point | null }
  /** Draws along an upright edge that a rolling shutter makes lean. */
  | { kind: 'edge'; first: Point | null }

export type Selection =
  | { kind: 'mark'; body: string; frame: number }
  | { kind: 'end'; reference: string; end: 0 | 1 }
  | { kind: 'origin' }
  | { kind: 'tilt' }
  | { kind: 'stretch'; id: string }

/** How the picture lies on the stage: screen = picture · zoom + offset, in CSS pixels. */
export interface View {
  zoom: number
  x: number
  y: number
}

interface WorkbenchState {
  /** The current frame, everywhere. */
  frame: number
  /** The frame whose picture is on show; behind the current one while that is being decoded, null before the first. */
  shown: number | null
  playing: boolean
  /** Playback speed against real time. */
  speed: number
  mode: Mode
  selection: Selection | null
  /** The active body. */
  body: string | null
  /** Picture point that a click, or Enter, would act on; null where the pointer is elsewhere. */
  reticle: Point | null
  /** A point that is being dragged, for the loupe. */
  dragged: Point | null
  /** null: the whole picture, as large as fits. */
  view: View | null
}

const START: WorkbenchState = {
  frame: 0,
  shown: null,
  playing: false,
  speed: 0.25,
  mode: { kind: 'select' },
  selection: null,
  body: null,
  reticle: null,
  dragged: null,
  view: null,
}

/** What the person is doing right now at the workbench; nothing of it is saved. */
export const useWorkbench = create<WorkbenchState>(() => START)

const set = useWorkbench.setState

/** Changes of the workbench's own state. */
export const workbench = {
  reset: (frame: number) => set(({ shown }) => ({ ...START, frame, shown })),
  goTo: (frame: number) => set({ frame, playing: false }),
  showWhilePlaying: (frame: number) => set({ frame }),
  setShown: (shown: number | null) => set({ shown }),
  play: (playing: boolean) => set({ playing }),
  setSpeed: (speed: number) => set({ speed }),
  enter: (mode: Mode) => set({ mode, selection: null, playing: false }),
  leave: () => set({ mode: { kind: 'select' }, dragged: null }),
  select: (selection: Selection | null) =>
    set(selection?.kind === 'mark' ? { selection, body: selection.body } : { selection }),
  setBody: (body: string | null) =>
    set(({ mode }) => ({
      body,
      ...(mode.kind === 'mark' && body ? { mode: { kind: 'mark' as const, body } } : {}),
    })),
  setReticle: (reticle: Point | null) => set({ reticle }),
  drag: (dragged: Point | null) => set({ dragged }),
  setView: (view: View | null) => set({ view }),
}
