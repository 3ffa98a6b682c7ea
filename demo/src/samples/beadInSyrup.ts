import type { SKRSContext2D } from '@napi-rs/canvas'
import { stall, vignette, weathering } from '../scenery.ts'
import { inPicture, type Pose, type Sample, type Vector, type View } from './sample.ts'

const WIDTH = 720
const HEIGHT = 720
/** Speed that the bead ends with, in metres a second, and the time in which it gets there. */
const TERMINAL = 0.0268
const SETTLING = 0.12
const RELEASE = 0.345
const RADIUS = 0.0042
/** The scene's origin is where the bead is let go, just below the surface. */
const view: View = { pixelsPerMetre: 4200, origin: { x: 350, y: 158 } }
const BOTTOM = 0.118

function pose(time: number): Pose {
  const after = Math.max(0, time - RELEASE)
  const sunk = TERMINAL * (after - SETTLING * (1 - Math.exp(-after / SETTLING)))
  const phase = after === 0 ? 'held' : sunk < BOTTOM ? 'sinking' : 'resting'
  return { x: 0, y: -Math.min(sunk, BOTTOM), turn: 0, phase }
}

function bead(context: SKRSContext2D, at: Vector) {
  const r = RADIUS * view.pixelsPerMetre
  const glass = context.createRadialGradient(at.x - r * 0.35, at.y - r * 0.4, r * 0.1, at.x, at.y, r)
  glass.addColorStop(0, '#ffffff')
  glass.addColorStop(0.5, '#cfe0ea')
  glass.addColorStop(1, '#51707f')
  context.fillStyle = glass
  context.beginPath()
  context.arc(at.x, at.y, r, 0, 7)
  context.fill()
  context.strokeStyle = 'rgba(40,24,6,0.55)'
  context.lineWidth = 1.6
  context.stroke()
}

/** Tweezers that hold the bead and then let go. */
function tweezers(context: SKRSContext2D, time: number) {
  const open = Math.min(1, Math.max(0, (time - RELEASE) / 0.08))
  const lift = 46 * Math.min(1, Math.max(0, (time - RELEASE - 0.3) / 0.6))
  const { x, y } = view.origin
  context.strokeStyle = '#8f979c'
  context.lineWidth = 6
  context.lineCap = 'round'
  for (const side of [-1, 1]) {
    context.beginPath()
    context.moveTo(x + side * 10, -10)
    context.lineTo(x + side * (17 + 8 * open), y - 2 - lift)
    context.stroke()
  }
}

const jar = { left: 178, right: 522, top: 96, bottom: 682 }
const scale = { x: 556, top: 180, length: 0.1 }

/** Draws a jar of syrup with a rule of ten centimetres beside it. */
function jarOfSyrup(context: SKRSContext2D) {
  const syrup = context.createLinearGradient(jar.left, 0, jar.right, 0)
  syrup.addColorStop(0, '#7d4a12')
  syrup.addColorStop(0.3, '#d99a3d')
  syrup.addColorStop(0.7, '#e0a548')
  syrup.addColorStop(1, '#7d4a12')
  context.fillStyle = 'rgba(235,240,238,0.5)'
  context.fillRect(jar.left - 8, jar.top - 40, jar.right - jar.left + 16, jar.bottom - jar.top + 48)
  context.fillStyle = syrup
  context.fillRect(jar.left, jar.top + 34, jar.right - jar.left, jar.bottom - jar.top - 34)
  context.fillStyle = 'rgba(255,255,255,0.28)'
  context.fillRect(jar.left + 22, jar.top - 30, 16, jar.bottom - jar.top + 10)
  context.strokeStyle = 'rgba(230,238,240,0.85)'
  context.lineWidth = 5
  context.strokeRect(jar.left - 6, jar.top - 42, jar.right - jar.left + 12, jar.bottom - jar.top + 48)

  const long = scale.length * view.pixelsPerMetre
  context.fillStyle = '#f1ead7'
  context.fillRect(scale.x - 6, scale.top - 10, 58, long + 20)
  context.fillStyle = '#1f2426'
  for (let mm = 0; mm <= 100; mm++) {
    const y = scale.top + (mm / 100) * long
    const wide = mm % 10 === 0 ? 34 : mm % 5 === 0 ? 22 : 13
    context.fillRect(scale.x - 6, y - 0.9, wide, 1.8)
  }
}

/** A glass bead that sinks in a jar of syrup until its speed no longer changes. */
export const beadInSyrup: Sample = {
  id: 'bead-in-syrup',
  title: 'Bead in syrup',
  about: 'A glass bead sinks in a jar, beside a rule of ten centimetres. Its terminal speed.',
  width: WIDTH,
  height: HEIGHT,
  rate: 30,
  frames: 144,
  shutter: 0.5,
  noise: 2,
  quality: 25,
  exposures: 4,
  view,
  poster: 70,
  constants: { terminalSpeed: TERMINAL, settlingTime: SETTLING, releaseTime: RELEASE },
  reference: {
    name: 'rule',
    ends: [
      { x: scale.x, y: scale.top },
      { x: scale.x, y: scale.top + scale.length * view.pixelsPerMetre },
    ],
    length: scale.length,
  },
  bodies: [{ name: 'bead', pose }],
  still: (context) => {
    const counter = (canvas: SKRSContext2D) => {
      canvas.fillStyle = '#cfc8b6'
      canvas.fillRect(0, 0, WIDTH, HEIGHT)
      canvas.fillStyle = '#6b5540'
      canvas.fillRect(0, 672, WIDTH, 48)
    }
    const painters = [
      counter,
      stall(-120, 760, 330, '#a8483c', '#7d6148', 72),
      jarOfSyrup,
      weathering(WIDTH, HEIGHT, 73),
      vignette(WIDTH, HEIGHT),
    ]
    for (const paint of painters) paint(context)
  },
  moving: (context, time) => {
    bead(context, inPicture(view, pose(time)))
    tweezers(context, time)
  },
}
