import type { SeriesDescription } from '@apokinema/core/graphs'
import { BODY_PAINT, type Palette } from '../../theme/palettes.ts'

/** Returns the colour of a series: that of its body, or ink for all bodies together. */
export function seriesColour(
  { colour }: Pick<SeriesDescription, 'colour'>,
  { ink }: Pick<Palette, 'ink'>,
): string {
  return colour ? BODY_PAINT[colour] : ink
}
