import type { PlacedByHand, PlacingTool, Point } from '@apokinema/core/geometry'
import { type PlacedPoint, PROBE_POINTS, type ProbeKind } from '@apokinema/core/investigation'
import { openedState } from '../document/openedState.ts'

/** What a click on the stage does. */
export type Mode =
  | { kind: 'select' }
  | { kind: 'mark'; body: string }
  /** Marks the second point of a body, which shows how it is turned. */
  | { kind: 'second'; body: string }
  /** Has a body followed, from outlining it to the end of the run. */
  | { kind: 'follow'; body: string }
  | { kind: 'origin' }
  /** Marks a landmark; null: a new one. */
  | { kind: 'landmark'; id: string | null }
  | PointsMode

/** Modes that collect points, each on whichever frame it is placed, until there are enough. */
export type PointsMode = { points: PlacedPoint[] } & (
  | { kind: 'reference'; id: string | null }
  /** Draws a line that an axis, or the plumb line, is laid along. */
  | { kind: 'axis-line'; along: 'x' | 'y' | 'gravity' }
  /** Draws along an upright edge that a rolling shutter makes lean. */
  | { kind: 'edge' }
  | { kind: 'probe'; probe: ProbeKind }
  /** Places the corners of something rectangular. */
  | { kind: 'plane' }
  /** Goes along an edge that is straight in reality. */
  | { kind: 'lens' }
)

/** Returns how many points a mode collects; null: as many as one likes, until Enter or the button ends it. */
export function pointsOf(mode: PointsMode): number | null {
  if (mode.kind === 'probe') return PROBE_POINTS[mode.probe]
  if (mode.kind === 'lens') return null
  return mode.kind === 'plane' ? 4 : 2
}

export function collectsPoints(mode: Mode): mode is PointsMode {
  return 'points' in mode
}

/** Returns true if a mode sets mark after mark, by hand or by following: then the picture comes first. */
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
  /** The point of it that is reported, in the frame from which it is to be followed. */
  | { kind: 'point'; body: string }
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
  /** What the reticle was last moved with. */
  reticleTool: PlacingTool
  /** One end of a streak that is being marked, in the picture. */
  streak: PlacedByHand | null
  /** A point that is being dragged, for the loupe. */
  dragged: Point | null
  /** Whether the strip shows what the camera did in place of the motion. */
  cameraGraph: boolean
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
  reticleTool: 'mouse',
  streak: null,
  dragged: null,
  cameraGraph: false,
  view: null,
}

/** What the person is doing right now at the workbench. */
export const useWorkbench = openedState<WorkbenchState>('workbench', START)

const set = useWorkbench.setState

/** Changes of the workbench's own state. */
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
