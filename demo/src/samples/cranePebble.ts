import type { SKRSContext2D } from '@napi-rs/canvas'
import { boat, bunting, quay, sky, tideStaff, vignette, water, weathering } from '../scenery.ts'
import { inPicture, type Pose, type Sample, type Vector, type View } from './sample.ts'

const WIDTH = 540
const HEIGHT = 960
const G = 9.81
/** Real seconds at which the gripper opens. */
const RELEASE = 0.1216
const DROP = 1.72
const RADIUS = 0.035
const LANDING = RELEASE + Math.sqrt((2 * DROP) / G)
/** The scene's origin is where the pebble is let go. */
const view: View = { pixelsPerMetre: 420, origin: { x: 250, y: 128 } }
const GROUND = 128 + (DROP + RADIUS) * 420

function pose(time: number): Pose {
  const after = Math.min(Math.max(0, time - RELEASE), LANDING - RELEASE)
  const phase = time < RELEASE ? 'held' : time < LANDING ? 'falling' : 'landed'
  return { x: 0, y: -(G / 2) * after * after, turn: 1.4 * after, phase }
}

function pebble(context: SKRSContext2D, at: Vector, turn: number) {
  const r = RADIUS * view.pixelsPerMetre
  context.save()
  context.translate(at.x, at.y)
  context.rotate(-turn)
  const stone = context.createRadialGradient(-r * 0.4, -r * 0.4, r * 0.1, 0, 0, r * 1.1)
  stone.addColorStop(0, '#f4efe4')
  stone.addColorStop(1, '#a59c8a')
  context.fillStyle = stone
  context.beginPath()
  context.ellipse(0, 0, r * 1.06, r * 0.94, 0.4, 0, 7)
  context.fill()
  context.strokeStyle = '#6c5f4c'
  context.lineWidth = 2
  context.beginPath()
  context.moveTo(-r * 0.7, -r * 0.2)
  context.quadraticCurveTo(0, r * 0.3, r * 0.8, -r * 0.1)
  context.stroke()
  context.restore()
}

/** Draws the gripper's two jaws, which open when the pebble is let go. */
function gripper(context: SKRSContext2D, time: number) {
  const open = Math.min(1, Math.max(0, (time - RELEASE) / 0.05))
  const { x, y } = view.origin
  context.strokeStyle = '#3a4148'
  context.lineWidth = 7
  context.lineCap = 'round'
  for (const side of [-1, 1]) {
    const spread = 15 + 15 * open
    context.beginPath()
    context.moveTo(x, y - 58)
    context.lineTo(x + side * (spread + 8), y - 30)
    context.lineTo(x + side * spread, y + 2)
    context.stroke()
  }
  context.lineWidth = 3
  context.beginPath()
  context.moveTo(x, 0)
  context.lineTo(x, y - 58)
  context.stroke()
}

/** Draws the jib of the harbour crane across the top. */
function jib(context: SKRSContext2D) {
  context.strokeStyle = '#8f6a2a'
  context.lineWidth = 9
  context.beginPath()
  context.moveTo(WIDTH, 6)
  context.lineTo(180, 14)
  context.moveTo(WIDTH, 58)
  context.lineTo(180, 14)
  context.stroke()
  context.lineWidth = 4
  for (let i = 0; i < 7; i++) {
    context.beginPath()
    context.moveTo(220 + 50 * i, 12)
    context.lineTo(246 + 50 * i, 22 + 6 * i)
    context.stroke()
  }
}

const staff = { x: 392, bottom: GROUND, top: GROUND - 1.6 * view.pixelsPerMetre }

/** A pebble that the harbour crane drops, taken at 240 frames a second and written to be played at 30. */
export const cranePebble: Sample = {
  id: 'crane-pebble',
  title: 'Crane pebble',
  about: 'Let go by the crane, filmed in slow motion: captured at 240 frames a second, plays at 30.',
  width: WIDTH,
  height: HEIGHT,
  rate: 30,
  captureRate: 240,
  frames: 184,
  shutter: 0.6,
  noise: 2.6,
  quality: 25,
  exposures: 10,
  view,
  poster: 90,
  constants: { g: G, drop: DROP, releaseTime: RELEASE, landingTime: LANDING },
  reference: {
    name: 'tide staff',
    ends: [
      { x: staff.x, y: staff.bottom },
      { x: staff.x, y: staff.top },
    ],
    length: 1.6,
  },
  bodies: [{ name: 'pebble', pose }],
  still: (context) => {
    const painters = [
      sky(WIDTH, 600, 61),
      water(WIDTH, 596, 800, 62),
      boat(120, 690, 130),
      quay(WIDTH, 796, HEIGHT, 63),
      bunting(-10, 260, 560, 300, 30),
      jib,
      tideStaff(staff.x, staff.top, staff.bottom, 15, 16),
      weathering(WIDTH, HEIGHT, 64),
      vignette(WIDTH, HEIGHT),
    ]
    for (const paint of painters) paint(context)
  },
  moving: (context, time) => {
    const where = pose(time)
    gripper(context, time)
    pebble(context, inPicture(view, where), where.turn)
  },
}
