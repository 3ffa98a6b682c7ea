import type { GraphDrawing } from './graphDrawing.ts'
import { type PictureSize, withPicture } from './graphPictures.ts'
import { SvgContext } from './SvgContext.ts'

/** Draws a graph as vectors. */
export function svgOf(drawing: GraphDrawing, size: PictureSize, ground: string | null): SVGSVGElement {
  const context = new SvgContext(size)
  // A copy, because a chart empties its context when it is destroyed.
  const svg = withPicture(
    drawing,
    context,
    1,
    ground,
    () => context.getSvg().cloneNode(true) as SVGSVGElement,
  )
  // The package sets it as a plain attribute: as text, the drawing would have it twice.
  svg.removeAttribute('xmlns')
  return svg
}

/** Returns a drawing as the text of an SVG document. */
export const svgText = (svg: SVGElement): string => new XMLSerializer().serializeToString(svg)
