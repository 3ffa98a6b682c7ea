import type { Point } from '@apokinema/core/geometry'
import { stampOf } from './stamps.ts'

/** Strokes on a canvas that are visible on any picture: each with a dark and a light edge. */

export const DARK = 'rgba(16,24,26,0.85)'
export const LIGHT = '#FFFFFF'
/** Colour of the selection. */
export const CHOSEN = '#9FE3DC'

export function ring(
  context: CanvasRenderingContext2D,
  { x, y }: Point,
  radius: number,
  width: number,
  colour: string,
): void {
  context.beginPath()
  context.arc(x, y, radius, 0, 2 * Math.PI)
  context.lineWidth = width
  context.strokeStyle = colour
  context.stroke()
}

export function dot(
  context: CanvasRenderingContext2D,
  { x, y }: Point,
  radius: number,
  colour: string,
): void {
  context.beginPath()
  context.arc(x, y, radius, 0, 2 * Math.PI)
  context.fillStyle = colour
  context.fill()
}

/** Half the width of a spot's sprite at its usual size, in CSS pixels. */
const SPOT = 6

const MIDDLE = { x: 0, y: 0 }

/** Returns the sprite of a spot: a trail has hundreds. */
const spotStamp = (look: 'full' | 'hollow', colour: string, scale: number) =>
  stampOf(`spot ${look} ${colour} ${scale}`, SPOT * Math.max(1, scale), (context) => {
    if (look === 'hollow') {
      ring(context, MIDDLE, 3.8 * scale, 3, DARK)
      ring(context, MIDDLE, 3.8 * scale, 1.8, colour)
    } else {
      dot(context, MIDDLE, 4.8 * scale, DARK)
      dot(context, MIDDLE, 4.2 * scale, LIGHT)
      dot(context, MIDDLE, 3.2 * scale, colour)
    }
  })

/** Draws a spot of a trail. */
export function spot(
  context: CanvasRenderingContext2D,
  { x, y }: Point,
  look: 'full' | 'hollow',
  colour: string,
  scale: number,
): void {
  const half = SPOT * Math.max(1, scale)
  context.drawImage(spotStamp(look, colour, scale), x - half, y - half, 2 * half, 2 * half)
}

/** Draws polylines with their edges. */
export function lines(
  context: CanvasRenderingContext2D,
  pieces: Point[][],
  { width, colour, dash = [] }: { width: number; colour: string; dash?: number[] },
): void {
  context.lineCap = 'round'
  context.lineJoin = 'round'
  for (const [paint, wide] of [
    [DARK, width + 2.4],
    [LIGHT, width + 1.2],
    [colour, width],
  ] as const) {
    context.strokeStyle = paint
    context.lineWidth = wide
    context.setLineDash(paint === colour ? dash : [])
    context.beginPath()
    for (const [first, ...rest] of pieces) {
      context.moveTo(first.x, first.y)
      for (const { x, y } of rest) context.lineTo(x, y)
    }
    context.stroke()
  }
  context.setLineDash([])
}

/** Draws an arrow from a point. One that is too short to be seen is left out. */
export function arrow(
  context: CanvasRenderingContext2D,
  from: Point,
  by: Point,
  look: { width: number; colour: string; dash?: number[] },
): void {
  const length = Math.hypot(by.x, by.y)
  if (length < 3) return
  const [shaft, head] = arrowPieces(from, { x: from.x + by.x, y: from.y + by.y }, Math.min(9, length * 0.6))
  lines(context, [shaft], look)
  lines(context, [head], { ...look, dash: [] })
}

/** Returns an arrow's shaft, and its head with strokes of a length. */
export function arrowPieces(from: Point, tip: Point, long: number): [Point[], Point[]] {
  const wing = (turn: number) => {
    const angle = Math.atan2(tip.y - from.y, tip.x - from.x) + turn
    return { x: tip.x - long * Math.cos(angle), y: tip.y - long * Math.sin(angle) }
  }
  return [
    [from, tip],
    [wing(0.45), tip, wing(-0.45)],
  ]
}

/** Writes a text. @param type multiple of the usual size */
export function words(context: CanvasRenderingContext2D, { x, y }: Point, text: string, type = 1): void {
  context.font = `${12 * type}px 'JetBrains Mono Variable'`
  context.textBaseline = 'middle'
  context.lineJoin = 'round'
  context.strokeStyle = DARK
  context.lineWidth = 3
  context.strokeText(text, x, y)
  context.fillStyle = LIGHT
  context.fillText(text, x, y)
}
