import type { Point } from '@apokinema/core/geometry'
import type { Investigation, PlacedPoint } from '@apokinema/core/investigation'
import type { ToStage } from './strokes.tsx'

/** What is drawn over the picture on show, and where it is on the stage. */
export interface OverlayProps {
  /** The document, as it was when a part that is drawn here changed last. */
  investigation: Investigation
  frame: number
  toStage: ToStage
  /** Returns a placed point on the stage; null where the landmarks do not determine it in this frame. */
  see: (point: PlacedPoint) => Point | null
}
