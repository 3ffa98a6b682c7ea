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

/** Draws a person who walks, from a foot on the ground up to a height in pixels. */
export function walker(context: SKRSContext2D, foot: Vector, height: number, time: number): void {
  const { x, y } = foot
  const hip = { x, y: y - 0.48 * height }
  const stride = 0.2 * height * Math.sin(2 * Math.PI * 1.1 * time)
  context.lineCap = 'round'
  context.strokeStyle = '#3a4658'
  context.lineWidth = 0.09 * height
  for (const way of [-1, 1]) {
    context.beginPath()
    context.moveTo(hip.x, hip.y)
    context.lineTo(x + way * stride, y)
    context.stroke()
  }
  context.strokeStyle = '#7c5a6a'
  context.lineWidth = 0.2 * height
  context.beginPath()
  context.moveTo(hip.x, hip.y)
  context.lineTo(x, y - 0.75 * height)
  context.stroke()
  context.lineWidth = 0.06 * height
  context.beginPath()
  context.moveTo(x, y - 0.75 * height)
  context.lineTo(x - 0.9 * stride, y - 0.5 * height)
  context.stroke()
  context.fillStyle = '#c9a184'
  context.beginPath()
  context.arc(x, y - 0.92 * height, 0.08 * height, 0, 2 * Math.PI)
  context.fill()
}

/** Draws a flag that waves on its pole, whose upper end is given; the cloth is so wide, in pixels. */
export function flag(context: SKRSContext2D, top: Vector, wide: number, time: number): void {
  context.fillStyle = '#4a4238'
  context.fillRect(top.x - 2, top.y, 3, 3 * wide)
  context.fillStyle = '#b8433c'
  const wave = (along: number) => 0.12 * wide * along * Math.sin(2 * Math.PI * (1.3 * along - 1.7 * time))
  context.beginPath()
  const steps = 12
  for (let i = 0; i <= steps; i++) context.lineTo(top.x + (wide * i) / steps, top.y + wave(i / steps))
  for (let i = steps; i >= 0; i--)
    context.lineTo(top.x + (wide * i) / steps, top.y + 0.6 * wide + wave(i / steps))
  context.fill()
}
