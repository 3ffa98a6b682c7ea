import type { SKRSContext2D } from '@napi-rs/canvas'
import { bunting, plankAlong, quay, sky, stall, trestle, vignette, water, weathering } from '../scenery.ts'
import { inPicture, type Pose, type Sample, type Vector, type View } from './sample.ts'

const WIDTH = 960
const HEIGHT = 540
const G = 9.81
/** Angle of the plank against the ground, radians. */
const SLOPE = (11 * Math.PI) / 180
/** Moment of inertia of a full barrel over m·r²: a solid cylinder. */
const INERTIA = 0.5
const RADIUS = 0.17
const LENGTH = 2.4
/** Seconds at which the chock is pulled. */
const RELEASE = 0.41
const ACCELERATION = (G * Math.sin(SLOPE)) / (1 + INERTIA)
/** The scene's origin is the plank's upper end. */
const view: View = { pixelsPerMetre: 300, origin: { x: 122, y: 214 } }

/** Returns a point on the plank, some way down it and some way above its surface. */
function onPlank(along: number, above: number): Vector {
  return {
    x: along * Math.cos(SLOPE) + above * Math.sin(SLOPE),
    y: -along * Math.sin(SLOPE) + above * Math.cos(SLOPE),
  }
}

/** Where the barrel begins, and where the sack at the foot stops it. */
const START = 0.24
const STOP = LENGTH - 0.2

function pose(time: number): Pose {
  const after = Math.max(0, time - RELEASE)
  const rolled = (ACCELERATION / 2) * after * after
  const along = Math.min(START + rolled, STOP)
  const phase = after === 0 ? 'held' : along < STOP ? 'rolling' : 'stopped'
  return { ...onPlank(along, RADIUS), turn: -(along - START) / RADIUS, phase }
}

/** Draws the barrel seen on its end: staves in a ring of iron, so that it can be seen to turn. */
function barrel(context: SKRSContext2D, at: Vector, turn: number) {
  const r = RADIUS * view.pixelsPerMetre
  context.save()
  context.translate(at.x, at.y)
  context.rotate(-turn)
  context.fillStyle = '#7a5634'
  context.beginPath()
  context.arc(0, 0, r, 0, 7)
  context.fill()
  context.save()
  context.clip()
  for (let stave = -4; stave <= 4; stave++) {
    context.fillStyle = stave % 2 ? '#94693f' : '#85603a'
    context.fillRect(stave * r * 0.24 - r * 0.11, -r, r * 0.22, 2 * r)
  }
  context.fillStyle = '#e4dcc6'
  context.fillRect(-r * 0.62, -r * 0.1, r * 1.24, r * 0.2)
  context.restore()
  context.strokeStyle = '#3a3d40'
  context.lineWidth = r * 0.13
  context.beginPath()
  context.arc(0, 0, r * 0.93, 0, 7)
  context.stroke()
  context.fillStyle = '#2b2118'
  context.beginPath()
  context.arc(0, 0, r * 0.1, 0, 7)
  context.fill()
  context.restore()
}

function plank(context: SKRSContext2D) {
  const [a, b] = [inPicture(view, onPlank(0, 0)), inPicture(view, onPlank(LENGTH, 0))]
  context.save()
  context.translate(a.x, a.y)
  context.rotate(SLOPE)
  const long = LENGTH * view.pixelsPerMetre
  plankAlong(context, long)
  // Both ends are painted white, so that its length can be set to the point.
  context.fillStyle = '#f0ebdc'
  context.fillRect(0, 0, 7, 17)
  context.fillRect(long - 7, 0, 7, 17)
  context.restore()
  for (const share of [0.12, 0.55]) trestle(context, inPicture(view, onPlank(LENGTH * share, -0.05)), 492)
  context.fillStyle = '#8d8266'
  context.beginPath()
  context.ellipse(b.x + 44, b.y - 6, 50, 44, 0, 0, 7)
  context.fill()
}

/** A barrel that rolls down a tilted plank of 2.40 m without slipping. */
export const barrelOnPlank: Sample = {
  id: 'barrel-on-plank',
  title: 'Barrel on a plank',
  about: 'Rolls down a tilted plank of 2.40 m. Axes along the motion, and a constant acceleration.',
  width: WIDTH,
  height: HEIGHT,
  rate: 30,
  frames: 75,
  shutter: 0.5,
  noise: 2.4,
  view,
  poster: 40,
  constants: { g: G, slope: SLOPE, inertia: INERTIA, acceleration: ACCELERATION, releaseTime: RELEASE },
  reference: {
    name: 'plank',
    ends: [inPicture(view, onPlank(0, 0)), inPicture(view, onPlank(LENGTH, 0))],
    length: LENGTH,
  },
  bodies: [{ name: 'barrel', pose }],
  still: (context) => {
    const painters = [
      sky(WIDTH, 330, 21),
      water(WIDTH, 326, 412, 22),
      quay(WIDTH, 408, HEIGHT, 23),
      stall(700, 452, 190, '#4a6f8a', '#77624a', 24),
      bunting(60, 90, 900, 120, 26),
      plank,
      weathering(WIDTH, HEIGHT, 25),
      vignette(WIDTH, HEIGHT),
    ]
    for (const paint of painters) paint(context)
  },
  moving: (context, time) => {
    const where = pose(time)
    barrel(context, inPicture(view, where), where.turn)
  },
}
