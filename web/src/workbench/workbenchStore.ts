import type { PlacedByHand, PlacingTool, Point } from '@apokinema/core/geometry'
import { type PlacedPoint, PROBE_POINTS, type ProbeKind } from '@apokinema/core/investigation'
import { openedState } from '../document/openedState.ts'

/** Modes: what a click on the stage does. */
export type Mode =
  | { kind: 'select' }
  | { kind: 'mark'; body: string }
  /** Marks the second point of a body, which shows its rotation. */
  | { kind: 'second'; body: string }
  /** Follows a body, from outlining it to the end of the run. */
  | { kind: 'follow'; body: string }
  | { kind: 'origin' }
  /** Marks a landmark; null: a new one. */
  | { kind: 'landmark'; id: string | null }
  | PointsMode

/** Modes that collect points, each on any frame, until there are enough. */
export type PointsMode = { points: PlacedPoint[] } & (
  | { kind: 'reference'; id: string | null }
  /** Draws a line along which an axis, or the direction of gravity, is laid. */
  | { kind: 'axis-line'; along: 'x' | 'y' | 'gravity' }
  /** Draws along an upright edge that leans because of a rolling shutter. */
  | { kind: 'edge' }
  | { kind: 'probe'; probe: ProbeKind }
  /** Places the corners of a rectangle. */
  | { kind: 'plane' }
  /** Places points along an edge that is straight in reality. */
  | { kind: 'lens' }
)

/** Returns the number of points that a mode collects; null for any number, until Enter or the button ends it. */
export function pointsOf(mode: PointsMode): number | null {
  if (mode.kind === 'probe') return PROBE_POINTS[mode.probe]
  if (mode.kind === 'lens') return null
  return mode.kind === 'plane' ? 4 : 2
}

export function collectsPoints(mode: Mode): mode is PointsMode {
  return 'points' in mode
}

/** Returns true if a mode sets mark after mark, by hand or by following: then the picture has priority. */
export function marks({ kind }: Mode): boolean {
  return kind === 'mark' || kind === 'second' || kind === 'follow'
}

export type Selection =
  | { kind: 'mark'; body: string; frame: number }
  | { kind: 'end'; reference: string; end: 0 | 1 }
  | { kind: 'origin' }
  | { kind: 'tilt' }
  | { kind: 'corner'; corner: number }
  | { kind: 'probe'; probe: string; point: number }
  | { kind: 'landmark'; landmark: string; frame: number }
  /** A part of the outline by which a body is to be followed. */
  | { kind: 'outline'; body: string; direction: number }
  /** The point that is reported, in the frame from which the body is to be followed. */
  | { kind: 'point'; body: string }
  | { kind: 'stretch'; id: string }

/** Position of the picture on the stage: screen = picture · zoom + offset, in CSS pixels. */
export interface View {
  zoom: number
  x: number
  y: number
}

interface WorkbenchState {
  /** The current frame of all views. */
  frame: number
  /** The frame whose picture is displayed; the current one's may still be decoding. Null before the first. */
  shown: number | null
  playing: boolean
  /** Playback speed against real time. */
  speed: number
  mode: Mode
  selection: Selection | null
  /** The active body. */
  body: string | null
  /** Picture point on which a click, or Enter, would act; null if the pointer is elsewhere. */
  reticle: Point | null
  /** What the reticle was last moved with. */
  reticleTool: PlacingTool
  /** One end of a streak that is being marked, in the picture. */
  streak: PlacedByHand | null
  /** A point that is being dragged, for the loupe. */
  dragged: Point | null
  /** Whether the strip shows the motion of the camera instead of the position. */
  cameraGraph: boolean
  /** Null: the whole picture, as large as fits. */
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
  reticleTool: 'mouse',
  streak: null,
  dragged: null,
  cameraGraph: false,
  view: null,
}

/** State of the workbench that is not saved. */
export const useWorkbench = openedState<WorkbenchState>('workbench', START)

const set = useWorkbench.setState

/** Changes of the workbench's state. */
export const workbench = {
  goTo: (frame: number) => set({ frame, streak: null, playing: false }),
  showWhilePlaying: (frame: number) => set({ frame }),
  setShown: (shown: number | null) => set({ shown }),
  play: (playing: boolean) => set({ playing }),
  setSpeed: (speed: number) => set({ speed }),
  enter: (mode: Mode) => set({ mode, selection: null, streak: null, playing: false }),
  leave: () => set({ mode: { kind: 'select' }, dragged: null, streak: null }),
  select: (selection: Selection | null) =>
    set(selection?.kind === 'mark' ? { selection, body: selection.body } : { selection }),
  setBody: (body: string | null) =>
    set(({ mode }) => ({
      body,
      ...((mode.kind === 'mark' || mode.kind === 'second') && body
        ? { mode: { kind: mode.kind, body } }
        : {}),
    })),
  setReticle: (reticle: Point | null, reticleTool: PlacingTool) => set({ reticle, reticleTool }),
  setStreak: (streak: PlacedByHand | null) => set({ streak }),
  drag: (dragged: Point | null) => set({ dragged }),
  showCameraGraph: (cameraGraph: boolean) => set({ cameraGraph }),
  setView: (view: View | null) => set({ view }),
}
