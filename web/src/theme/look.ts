import { LIGHT_PALETTE, type Palette } from './palettes.ts'

/** What a drawing needs to know of the appearance. */
export interface Look {
  palette: Palette
  /** Multiples of the usual size of type and width of strokes. */
  type: number
  stroke: number
}

/** Size of type and width of strokes on a projector, and as usual. */
export const PROJECTED: Pick<Look, 'type' | 'stroke'> = { type: 1.25, stroke: 1.7 }
export const UNPROJECTED: typeof PROJECTED = { type: 1, stroke: 1 }

/** How pictures look that leave the page: printed, or in a file. */
export const PRINTED: Look = { palette: LIGHT_PALETTE, ...UNPROJECTED }

/** Returns the size of marks as a multiple of the usual one: they grow less than strokes, so that they stay apart. */
export const markScale = ({ stroke }: Look) => Math.sqrt(stroke)

/** Returns the width of a stroke in CSS pixels as a value of CSS, thicker on a projector. */
export const strokeWidth = (width: number) => `calc(var(--stroke, 1) * ${width}px)`
