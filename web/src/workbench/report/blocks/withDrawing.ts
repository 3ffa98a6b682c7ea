import type { Investigation } from '@apokinema/core/investigation'
import type { Shown } from '@apokinema/words/report/shown'
import { graphSvg } from './graphSvg.ts'

/** Returns what a block shows with its graph as a drawing, so that it no longer needs its source. */
export async function withDrawing(document: Investigation, shown: Shown): Promise<Shown> {
  if (shown.kind !== 'figure' || shown.picture.of !== 'graph') return shown
  const svg = await graphSvg(document, shown.picture, shown.width)
  return svg === null ? shown : { ...shown, picture: { of: 'drawing', svg } }
}
