import type { SKRSContext2D } from '@napi-rs/canvas'
import type { Vector } from '../samples/index.ts'
import type { Chooser, MotionKind } from './chooser.ts'

/** Shape, colours and pattern of a random body. */
export interface BodyLook {
  shape: 'ball' | 'stick' | 'crate'
  pattern: 'plain' | 'halves' | 'spots' | 'stripes'
  colour: string
  second: string
  spots: { angle: number; away: number; size: number }[]
  /** Colour of a wall that is as bright as the body. */
  wall: string
}

/** Pairs of different hues with equal Rec. 709 luma (within 2 of 255): of a body and of a wall. */
const EQUALLY_BRIGHT = [
  { body: [201, 106, 58], wall: [114, 125, 130] },
  { body: [70, 140, 110], wall: [126, 122, 116] },
  { body: [186, 150, 60], wall: [148, 151, 160] },
] as const

const rgb = ([r, g, b]: readonly number[]) => `rgb(${r},${g},${b})`

/** Returns a random look that suits a motion and a wall. */
export function randomLook({ between, pick, chance }: Chooser, motion: MotionKind, wall: string): BodyLook {
  const pair = pick(EQUALLY_BRIGHT)
  const shape = motion === 'tumble' ? 'stick' : motion === 'slide' && chance(0.6) ? 'crate' : 'ball'
  const patterns: BodyLook['pattern'][] =
    wall === 'body brightness' ? ['plain', 'spots'] : ['plain', 'halves', 'spots', 'stripes']
  const [colour, second] =
    wall === 'body brightness'
      ? [rgb(pair.body), '#8a4a2c']
      : pick([
          ['#d9652b', '#2a2f4a'],
          ['#b7352f', '#f0dfa8'],
          ['#1f4f9f', '#f4f2ea'],
          ['#e5b52e', '#3a2f28'],
        ] as const)
  return {
    shape,
    pattern: pick(patterns),
    colour,
    second,
    wall: rgb(pair.wall),
    spots: Array.from({ length: 4 }, () => ({
      angle: between(0, 6.28),
      away: between(0.2, 0.75),
      size: between(0.15, 0.35),
    })),
  }
}

/** Half the length and half the thickness of a stick, in its radius. */
const STICK = { length: 1, thickness: 0.22 }

/** Draws a body with its middle at a point of the picture, turned counterclockwise. */
export function drawBody(
  context: SKRSContext2D,
  { shape, pattern, colour, second, spots }: BodyLook,
  { x, y }: Vector,
  radius: number,
  turn: number,
): void {
  context.save()
  context.translate(x, y)
  context.rotate(-turn)
  context.beginPath()
  if (shape === 'ball') context.arc(0, 0, radius, 0, 7)
  else if (shape === 'crate') context.rect(-radius, -0.8 * radius, 2 * radius, 1.6 * radius)
  else {
    const [a, b] = [STICK.length * radius, STICK.thickness * radius]
    context.roundRect(-a, -b, 2 * a, 2 * b, b)
  }
  context.fillStyle = colour
  context.fill()
  context.clip()
  context.fillStyle = second
  if (pattern === 'halves') context.fillRect(0, -radius, radius, 2 * radius)
  if (pattern === 'stripes')
    for (const offset of [-0.6, 0, 0.6])
      context.fillRect(-radius, (offset - 0.1) * radius, 2 * radius, 0.2 * radius)
  if (pattern === 'spots')
    for (const { angle, away, size } of spots) {
      context.beginPath()
      context.arc(away * radius * Math.cos(angle), away * radius * Math.sin(angle), size * radius, 0, 7)
      context.fill()
    }
  context.restore()
  // Light from above, which does not turn with the body.
  if (shape === 'ball') {
    const light = context.createRadialGradient(x - 0.3 * radius, y - 0.4 * radius, 0.2 * radius, x, y, radius)
    light.addColorStop(0, 'rgba(255,255,240,0.15)')
    light.addColorStop(1, 'rgba(0,0,0,0.2)')
    context.fillStyle = light
    context.beginPath()
    context.arc(x, y, radius, 0, 7)
    context.fill()
  }
}
