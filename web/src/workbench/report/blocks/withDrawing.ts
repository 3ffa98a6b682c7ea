import type { Picture, Shown } from '@apokinema/words/report/shown'
import { svgText } from '../../chart/graphSvg.ts'
import type { Plot, ReportSource } from '../source.ts'
import { photoData } from './photos.ts'

/** Returns true if a picture is drawn from numbers, as vectors. */
export const isPlot = (picture: Picture): picture is Plot =>
  picture.of === 'graph' || (picture.of === 'motions' && picture.form === 'graph')

/** Returns what a block shows with its picture in it, so that it no longer needs its source. A picture that can't be made stays as it is. */
export async function withDrawing(source: ReportSource, shown: Shown): Promise<Shown> {
  if (shown.kind !== 'figure') return shown
  const { picture } = shown
  if (isPlot(picture)) {
    const svg = source.svg(picture, shown.width)
    return svg ? { ...shown, picture: { of: 'drawing', svg: svgText(svg) } } : shown
  }
  const photo = await source.photo(picture)
  const data = photo && (await photoData(photo))
  return data === null ? shown : { ...shown, picture: { of: 'photo', data } }
}
