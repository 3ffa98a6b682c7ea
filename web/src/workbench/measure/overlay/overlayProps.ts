import type { Point } from '@apokinema/core/geometry'
import type { Investigation, PlacedPoint } from '@apokinema/core/investigation'
import type { ToStage } from './strokes.tsx'

/** What is drawn over the displayed picture, and its mapping to the stage. */
export interface OverlayProps {
  /** The document, replaced when a part that is drawn here changes. */
  investigation: Investigation
  frame: number
  toStage: ToStage
  /** Returns a placed point on the stage; null where the landmarks do not determine it in this frame. */
  see: (point: PlacedPoint) => Point | null
}
