import type { SKRSContext2D } from '@napi-rs/canvas'
import type { Vector } from '../samples/sample.ts'

/** Fills a picture with a colour. */
export function fill(context: SKRSContext2D, colour: string, width: number, height: number): void {
  context.fillStyle = colour
  context.fillRect(0, 0, width, height)
}

/** Draws the string that a body hangs on, so many times as thick as usual. */
export function string(context: SKRSContext2D, from: Vector, to: Vector, size: number): void {
  context.strokeStyle = '#4a4238'
  context.lineWidth = 1.5 * size
  context.beginPath()
  context.moveTo(from.x, from.y)
  context.lineTo(to.x, to.y)
  context.stroke()
}

/** Draws a soft shadow around a place. */
export function shadow(context: SKRSContext2D, { x, y }: Vector, radius: number): void {
  const soft = context.createRadialGradient(x, y, 0.3 * radius, x, y, 1.4 * radius)
  soft.addColorStop(0, 'rgba(10,10,20,0.35)')
  soft.addColorStop(1, 'rgba(10,10,20,0)')
  context.fillStyle = soft
  context.fillRect(x - 1.5 * radius, y - 1.5 * radius, 3 * radius, 3 * radius)
}
