/** What is used of the package, which comes without types: a canvas context that writes SVG, and what of it is overridden. */
declare module 'svgcanvas' {
  export class Context {
    constructor(options: { width: number; height: number })
    font: string
    textAlign: CanvasTextAlign
    textBaseline: CanvasTextBaseline
    /** Element that the context draws on now. */
    __currentElement: SVGElement
    /** Writes a text; how it is filled or stroked is as the context is set. */
    __applyText(text: string, x: number, y: number, action: 'fill' | 'stroke'): void
    __createElement(name: string, attributes: Record<string, unknown>, resetFill: boolean): SVGElement
    __closestGroupOrSvg(): SVGElement
    __applyTransformation(element: SVGElement): void
    __applyStyleToCurrentElement(action: 'fill' | 'stroke'): void
    /** Returns the drawing as a document. */
    getSerializedSvg(): string
  }
}
