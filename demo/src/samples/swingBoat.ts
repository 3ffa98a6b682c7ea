import type { SKRSContext2D } from '@napi-rs/canvas'
import { bunting, quay, sky, stall, vignette, water, weathering } from '../scenery.ts'
import type { Pose, Sample, Vector, View } from './sample.ts'

const WIDTH = 960
const HEIGHT = 540
const G = 9.81
/** Damping of the angular velocity per second. */
const DAMPING = 0.045
/** The scene's origin is the axle. */
const view: View = { pixelsPerMetre: 146, origin: { x: 470, y: 132 } }
const DURATION = 8
const STEP = 1e-3

/** How a boat swings. */
interface Swing {
  /** Length of the simple pendulum that swings like the boat. */
  length: number
  /** Largest angle, at which it is let go. */
  amplitude: number
  /** Seconds at which it is let go. */
  release: number
}

/** Returns the angles at every millisecond after release: θ″ = −(g/L) sin θ − 2γθ′, by the classical Runge–Kutta method. */
function swings({ length, amplitude }: Swing): Float64Array {
  const angles = new Float64Array(DURATION / STEP + 2)
  const change = (angle: number, rate: number) => -(G / length) * Math.sin(angle) - 2 * DAMPING * rate
  let angle = -amplitude
  let rate = 0
  for (let i = 0; i < angles.length; i++) {
    angles[i] = angle
    const a1 = rate
    const b1 = change(angle, rate)
    const a2 = rate + (STEP / 2) * b1
    const b2 = change(angle + (STEP / 2) * a1, rate + (STEP / 2) * b1)
    const a3 = rate + (STEP / 2) * b2
    const b3 = change(angle + (STEP / 2) * a2, rate + (STEP / 2) * b2)
    const a4 = rate + STEP * b3
    const b4 = change(angle + STEP * a3, rate + STEP * b3)
    angle += (STEP / 6) * (a1 + 2 * a2 + 2 * a3 + a4)
    rate += (STEP / 6) * (b1 + 2 * b2 + 2 * b3 + b4)
  }
  return angles
}

/** Draws the boat on its two rods; a lamp on its side is what is marked. */
function boatOnRods(context: SKRSContext2D, length: number, angle: number) {
  const long = length * view.pixelsPerMetre
  context.save()
  context.translate(view.origin.x, view.origin.y)
  context.rotate(-angle)
  context.strokeStyle = '#3d4650'
  context.lineWidth = 6
  for (const side of [-62, 62]) {
    context.beginPath()
    context.moveTo(0, 0)
    context.lineTo(side, long - 12)
    context.stroke()
  }
  context.fillStyle = '#2f6f68'
  context.beginPath()
  context.moveTo(-118, long - 34)
  context.quadraticCurveTo(-96, long + 44, 0, long + 46)
  context.quadraticCurveTo(96, long + 44, 118, long - 34)
  context.quadraticCurveTo(0, long + 4, -118, long - 34)
  context.fill()
  context.strokeStyle = '#e4d7b2'
  context.lineWidth = 5
  context.beginPath()
  context.moveTo(-110, long - 22)
  context.quadraticCurveTo(0, long + 16, 110, long - 22)
  context.stroke()
  context.fillStyle = '#fff3c9'
  context.beginPath()
  context.arc(0, long, 10, 0, 7)
  context.fill()
  context.strokeStyle = '#6b4a1a'
  context.lineWidth = 3
  context.stroke()
  context.restore()
}

const gantry = { foot: 476, left: 150, right: 790 }

function frame(context: SKRSContext2D) {
  context.strokeStyle = '#7a3b33'
  context.lineWidth = 14
  context.lineCap = 'round'
  context.beginPath()
  context.moveTo(gantry.left, gantry.foot)
  context.lineTo(view.origin.x, view.origin.y)
  context.lineTo(gantry.right, gantry.foot)
  context.stroke()
  context.fillStyle = '#f0e9d6'
  for (const x of [gantry.left, gantry.right]) {
    context.beginPath()
    context.arc(x, gantry.foot, 6, 0, 7)
    context.fill()
  }
  context.fillStyle = '#caa552'
  context.beginPath()
  context.arc(view.origin.x, view.origin.y, 13, 0, 7)
  context.fill()
}

const foot = (x: number): Vector => ({ x, y: gantry.foot })

/** Returns a fairground swing boat: a pendulum whose period depends on its length and its amplitude. */
export function swingingBoat(
  swing: Swing,
  about: Pick<Sample, 'id' | 'title' | 'about' | 'frames' | 'noise' | 'quality' | 'poster'>,
): Sample {
  const { length, amplitude, release } = swing
  const angles = swings(swing)
  const angleAt = (time: number): number => {
    const at = Math.max(0, time - release) / STEP
    const before = Math.min(Math.floor(at), angles.length - 2)
    return angles[before] + (at - before) * (angles[before + 1] - angles[before])
  }
  const pose = (time: number): Pose => {
    const angle = angleAt(time)
    return {
      x: length * Math.sin(angle),
      y: -length * Math.cos(angle),
      turn: angle,
      phase: time < release ? 'held' : 'swinging',
    }
  }
  return {
    ...about,
    width: WIDTH,
    height: HEIGHT,
    rate: 30,
    shutter: 0.4,
    exposures: 12,
    view,
    constants: { g: G, length, amplitude, damping: DAMPING, releaseTime: release },
    reference: {
      name: 'feet of the frame',
      ends: [foot(gantry.left), foot(gantry.right)],
      length: (gantry.right - gantry.left) / view.pixelsPerMetre,
    },
    bodies: [{ name: 'swing boat', pose }],
    still: (context) => {
      const painters = [
        sky(WIDTH, 330, 51),
        water(WIDTH, 326, 420, 52),
        quay(WIDTH, 416, HEIGHT, 53),
        stall(-40, 462, 170, '#a8483c', '#7d6148', 54),
        stall(840, 460, 170, '#48707c', '#77624a', 55),
        bunting(60, 60, 900, 70, 20),
        frame,
        weathering(WIDTH, HEIGHT, 56),
        vignette(WIDTH, HEIGHT),
      ]
      for (const paint of painters) paint(context)
    },
    moving: (context, time) => boatOnRods(context, length, angleAt(time)),
  }
}

export const swingBoat: Sample = swingingBoat(
  { length: 2.1, amplitude: (72 * Math.PI) / 180, release: 0.37 },
  {
    id: 'swing-boat',
    title: 'Swing boat',
    about: 'A pendulum of large amplitude. Angles, and a period that depends on how far it swings.',
    frames: 234,
    noise: 1.9,
    quality: 26,
    poster: 20,
  },
)
