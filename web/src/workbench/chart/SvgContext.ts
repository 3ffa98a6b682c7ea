import { Context } from 'svgcanvas'

/**
 * A canvas context that writes SVG. The package reads a font from an inline style, which the page's content security
 * policy forbids, so texts are written here.
 */
export class SvgContext extends Context {
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
        'xml:space': 'preserve',
        x,
        y,
        'text-anchor': ANCHORS[this.textAlign],
        'dominant-baseline': this.textBaseline === 'middle' ? 'central' : 'alphabetic',
      },
      true,
    )
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
