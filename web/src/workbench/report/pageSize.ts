import type { Paper } from '@apokinema/core/investigation'

/** Paper formats in millimetres. */
export const PAPER_SIZE: Record<Paper, { width: number; height: number }> = {
  a4: { width: 210, height: 297 },
  letter: { width: 215.9, height: 279.4 },
}

/** CSS pixels per millimetre. */
export const MILLIMETRE = 96 / 25.4

/** Margin on all sides, in millimetres. */
export const MARGIN = 20

/** Width of the text of an A4 page in CSS pixels. */
export const TEXT_WIDTH = 643

/** Pixels of a picture per CSS pixel, so that it has 300 to the inch. */
export const PIXEL_RATIO = 300 / 96
