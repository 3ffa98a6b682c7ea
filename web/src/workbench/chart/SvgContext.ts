import { Context } from 'svgcanvas'

/**
 * A canvas context that writes SVG. The package reads a font from an inline style, which the page's content security
 * policy forbids, so texts are written here; and it makes two points of the DOM for each coordinate of a path, which took
 * a third of the time of drawing a graph, so places are computed here.
 */
export class SvgContext extends Context {
  /** The last transformation by which a place was computed, as an object and as numbers: those of a DOM matrix are slow to read. */
  #matrix: DOMMatrix | null = null
  #numbers = [1, 0, 0, 1, 0, 0]

  override __matrixTransform(x: number, y: number): { x: number; y: number } {
    const matrix = this.__transformMatrix
    if (matrix !== this.#matrix) {
      this.#matrix = matrix
      this.#numbers = [matrix.a, matrix.b, matrix.c, matrix.d, matrix.e, matrix.f]
    }
    const [a, b, c, d, e, f] = this.#numbers
    return { x: a * x + c * y + e, y: b * x + d * y + f }
  }

  override __applyText(text: string, x: number, y: number, action: 'fill' | 'stroke'): void {
    const { style } = document.createElement('span')
    style.font = this.font
    const element = this.__createElement(
      'text',
      {
        'font-family': style.fontFamily,
        'font-size': style.fontSize,
        'font-style': style.fontStyle,
        'font-weight': style.fontWeight,
        x,
        y,
        'text-anchor': ANCHORS[this.textAlign],
        'dominant-baseline': this.textBaseline === 'middle' ? 'central' : 'alphabetic',
      },
      true,
    )
    // A caption is written in several pieces, some of which begin with a space.
    element.setAttributeNS('http://www.w3.org/XML/1998/namespace', 'xml:space', 'preserve')
    element.textContent = text
    this.__closestGroupOrSvg().appendChild(element)
    this.__currentElement = element
    this.__applyTransformation(element)
    this.__applyStyleToCurrentElement(action)
  }
}

const ANCHORS: Readonly<Record<CanvasTextAlign, string>> = {
  left: 'start',
  start: 'start',
  center: 'middle',
  right: 'end',
  end: 'end',
}
