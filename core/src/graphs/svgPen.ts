import type { Pen, Run, Setting, Stroke } from './draw.ts'

const ESCAPES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' }
const escaped = (text: string) => text.replace(/[&<>"]/g, (sign) => ESCAPES[sign])
const short = (value: number) => String(Number(value.toFixed(2)))

/** Draws as SVG. */
export class SvgPen implements Pen {
  private readonly parts: string[] = []
  private clips = 0

  constructor(
    private readonly width: number,
    private readonly height: number,
  ) {}

  ground(colour: string): void {
    this.parts.push(`<rect width="${this.width}" height="${this.height}" fill="${colour}"/>`)
  }

  path(path: string, { stroke, width, dash = [], fill = 'none' }: Stroke): void {
    const dashes = dash.length > 0 ? ` stroke-dasharray="${dash.join(' ')}"` : ''
    this.parts.push(`<path d="${path}" stroke="${stroke}" stroke-width="${width}" fill="${fill}"${dashes}/>`)
  }

  words(x: number, y: number, runs: readonly Run[], { font, size, bold, colour, anchor }: Setting): void {
    let isBelow = false
    const spans = runs.map(({ text, italic, below = false, colour: own }) => {
      const drop = below === isBelow ? 0 : below ? BELOW.drop * size : -BELOW.drop * size
      isBelow = below
      const look = [
        italic || below ? ' font-style="italic"' : '',
        below ? ` font-size="${short(BELOW.size * size)}"` : '',
        own ? ` fill="${own}"` : '',
        drop === 0 ? '' : ` dy="${short(drop)}"`,
      ].join('')
      return `<tspan${look}>${escaped(text)}</tspan>`
    })
    this.parts.push(
      `<text x="${short(x)}" y="${short(y)}" xml:space="preserve" font-family="${escaped(font)}" font-size="${size}"${bold ? ' font-weight="600"' : ''} fill="${colour}" text-anchor="${anchor}">${spans.join('')}</text>`,
    )
  }

  within(x: number, y: number, width: number, height: number, draw: () => void): void {
    const id = `inside${this.clips++}`
    this.parts.push(
      `<clipPath id="${id}"><rect x="${short(x)}" y="${short(y)}" width="${short(width)}" height="${short(height)}"/></clipPath><g clip-path="url(#${id})">`,
    )
    draw()
    this.parts.push('</g>')
  }

  /** What was drawn, as a document. */
  text(): string {
    const { width, height } = this
    return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">${this.parts.join('')}</svg>`
  }
}

/** What stands below the line: so far below, and so large, as shares of the size. */
export const BELOW = { drop: 0.22, size: 0.72 }
