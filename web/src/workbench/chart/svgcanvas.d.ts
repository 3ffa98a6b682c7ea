/** Types of the parts of the package that are used: a canvas context that writes SVG, and what of it is overridden. */
declare module 'svgcanvas' {
  export class Context {
    constructor(options: { width: number; height: number })
    font: string
    textAlign: CanvasTextAlign
    textBaseline: CanvasTextBaseline
    /** The element to which the context adds. */
    __currentElement: SVGElement
    /** Writes a text with the context's fill or stroke. */
    __applyText(text: string, x: number, y: number, action: 'fill' | 'stroke'): void
    __createElement(name: string, attributes: Record<string, unknown>, resetFill: boolean): SVGElement
    __closestGroupOrSvg(): SVGElement
    __applyTransformation(element: SVGElement): void
    __applyStyleToCurrentElement(action: 'fill' | 'stroke'): void
    /** What turns a place of the context into one of the drawing; another object for each transformation. */
    __transformMatrix: DOMMatrix
    /** Returns where a place of the context is in the drawing. */
    __matrixTransform(x: number, y: number): { x: number; y: number }
    /** Returns the drawing. */
    getSvg(): SVGSVGElement
  }
}
