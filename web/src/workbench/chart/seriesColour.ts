import type { SeriesDescription } from '@apokinema/core/graphs'
import { BODY_PAINT, PAINT } from '../../theme/system.ts'

/** Returns the colour of a series: that of its body, or ink for all bodies together. */
export function seriesColour({ colour }: Pick<SeriesDescription, 'colour'>): string {
  return colour ? BODY_PAINT[colour].mark : PAINT.ink
}
