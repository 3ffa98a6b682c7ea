import type { Pen, Run, Setting, Stroke } from './draw.ts'
import { BELOW } from './svgPen.ts'

/** What of a canvas's context is drawn with. */
export interface CanvasContext<Path> {
  fillStyle: unknown
  strokeStyle: unknown
  lineWidth: number
  font: string
  textAlign: unknown
  textBaseline: unknown
  fillRect(x: number, y: number, width: number, height: number): void
  setLineDash(dash: number[]): void
  fill(path: Path): void
  stroke(path: Path): void
  fillText(text: string, x: number, y: number): void
  measureText(text: string): { width: number }
  save(): void
  restore(): void
  beginPath(): void
  rect(x: number, y: number, width: number, height: number): void
  clip(): void
}

/** Draws on a canvas. */
export class CanvasPen<Path> implements Pen {
  /** @param pathOf makes the canvas's own kind of path of one in SVG's notation */
  constructor(
    private readonly context: CanvasContext<Path>,
    private readonly width: number,
    private readonly height: number,
    private readonly pathOf: (path: string) => Path,
  ) {}

  ground(colour: string): void {
    this.context.fillStyle = colour
    this.context.fillRect(0, 0, this.width, this.height)
  }

  path(path: string, { stroke, width, dash = [], fill }: Stroke): void {
    const { context } = this
    const own = this.pathOf(path)
    if (fill !== undefined) {
      context.fillStyle = fill
      context.fill(own)
    }
    context.strokeStyle = stroke
    context.lineWidth = width
    context.setLineDash([...dash])
    context.stroke(own)
    context.setLineDash([])
  }

  words(x: number, y: number, runs: readonly Run[], { font, size, bold, colour, anchor }: Setting): void {
    const { context } = this
    const fontOf = ({ italic, below }: Run) =>
      `${italic || below ? 'italic ' : ''}${bold ? '600 ' : ''}${below ? BELOW.size * size : size}px ${font}`
    const wide = runs.map((run) => {
      context.font = fontOf(run)
      return context.measureText(run.text).width
    })
    const whole = wide.reduce((sum, one) => sum + one, 0)
    let left = x - (anchor === 'start' ? 0 : anchor === 'middle' ? whole / 2 : whole)
    context.textAlign = 'left'
    context.textBaseline = 'alphabetic'
    runs.forEach((run, i) => {
      context.font = fontOf(run)
      context.fillStyle = run.colour ?? colour
      context.fillText(run.text, left, y + (run.below ? BELOW.drop * size : 0))
      left += wide[i]
    })
  }

  within(x: number, y: number, width: number, height: number, draw: () => void): void {
    this.context.save()
    this.context.beginPath()
    this.context.rect(x, y, width, height)
    this.context.clip()
    draw()
    this.context.restore()
  }
}
