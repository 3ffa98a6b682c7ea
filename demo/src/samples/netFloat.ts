import type { SKRSContext2D } from '@napi-rs/canvas'
import {
  boat,
  bunting,
  clutter,
  quay,
  sky,
  stall,
  tideStaff,
  vignette,
  water,
  weathering,
} from '../scenery.ts'
import { inPicture, type Pose, type Sample, type Vector, type View } from './sample.ts'

const WIDTH = 1280
const HEIGHT = 720
const G = 9.81
const RADIUS = 0.078
/** The throw that the sample shows; all others end in the same basket. */
const SAMPLE_THROW: Throw = { release: 0.4233, flight: 0.84, launch: { x: 2.62, y: 3.31 }, spin: -5.2 }
/** Origin of the scene is where the float leaves the hand. */
const view: View = { pixelsPerMetre: 300, origin: { x: 292, y: 402 } }
const GROUND = 640

/** How a float is thrown into the basket. */
interface Throw {
  /** Seconds at which it leaves the hand: between two frames, as it does in life. */
  release: number
  /** Seconds that it flies, and its velocity at the release in metres a second. */
  flight: number
  launch: Vector
  /** Radians per second, negative: clockwise as seen. */
  spin: number
}

/** Hand and float before release: a swing on a circle that ends with the launch velocity. */
function swing(thrown: Throw, time: number): Vector {
  const { launch } = thrown
  const speed = Math.hypot(launch.x, launch.y)
  const direction = Math.atan2(launch.y, launch.x)
  const radius = 0.62
  // The angle grows so that it and the speed match the launch at the release and both are still at the start.
  const turn = Math.max(0, time / thrown.release)
  const sweep = 0.75
  const rate = (speed / radius) * thrown.release
  const angle = sweep * (3 * turn ** 2 - 2 * turn ** 3) + rate * (turn ** 3 - turn ** 2) - sweep
  const centre = { x: radius * Math.sin(direction), y: -radius * Math.cos(direction) }
  const at = direction + angle
  return { x: -radius * Math.sin(at) + centre.x, y: radius * Math.cos(at) + centre.y }
}

/** Returns where a float is so long after it was thrown, as seen from the hand. */
function flightOf({ launch }: Throw, after: number): Vector {
  return { x: launch.x * after, y: launch.y * after - (G / 2) * after * after }
}

/** Where the basket catches the float. */
const BASKET = flightOf(SAMPLE_THROW, SAMPLE_THROW.flight)

/** Returns the velocity at the release of a throw that flies so long and ends in the basket, in metres a second. */
export function launchToBasket(flight: number): Vector {
  return { x: BASKET.x / flight, y: BASKET.y / flight + (G / 2) * flight }
}

function poseOf(thrown: Throw, time: number): Pose {
  const { release, flight, spin } = thrown
  if (time < release) return { ...swing(thrown, time), turn: spin * 0.2 * (time - release), phase: 'held' }
  const after = time - release
  if (after <= flight) return { ...flightOf(thrown, after), turn: spin * after, phase: 'flying' }
  // The basket's net gives way and swings back.
  const since = after - flight
  const sink = 0.1 * (1 - Math.exp(-since * 16)) + 0.03 * Math.exp(-since * 5) * Math.sin(since * 24)
  const drift = 0.06 * (1 - Math.exp(-since * 12))
  return {
    x: BASKET.x + drift,
    y: BASKET.y - sink,
    turn: spin * (flight + 0.04 * (1 - Math.exp(-since * 9))),
    phase: 'caught',
  }
}

/** Draws the glass float in its net: a pale green ball with dark cords that turn with it. */
function float(context: SKRSContext2D, at: Vector, turn: number) {
  const r = RADIUS * view.pixelsPerMetre
  context.save()
  context.translate(at.x, at.y)
  const glass = context.createRadialGradient(-r * 0.35, -r * 0.4, r * 0.1, 0, 0, r)
  glass.addColorStop(0, '#f3efdf')
  glass.addColorStop(0.6, '#d9d3bd')
  glass.addColorStop(1, '#a39d86')
  context.fillStyle = glass
  context.beginPath()
  context.arc(0, 0, r, 0, 7)
  context.fill()
  context.clip()
  context.rotate(-turn)
  context.strokeStyle = '#26384f'
  context.lineWidth = r * 0.17
  for (const squeeze of [0.3, -0.3]) {
    context.beginPath()
    context.ellipse(0, 0, r * Math.abs(squeeze) + r * 0.05, r * 1.02, squeeze, 0, 7)
    context.stroke()
  }
  context.beginPath()
  context.moveTo(-r, 0)
  context.quadraticCurveTo(0, r * 0.28, r, 0)
  context.stroke()
  context.restore()
}

/** Draws the thrower's arm from the shoulder to the hand. */
function arm(context: SKRSContext2D, hand: Vector) {
  const shoulder = { x: 204, y: 402 }
  context.strokeStyle = '#3f566a'
  context.lineCap = 'round'
  context.lineWidth = 30
  context.beginPath()
  context.moveTo(shoulder.x, shoulder.y)
  const elbow = { x: (shoulder.x + hand.x) / 2 - 6, y: (shoulder.y + hand.y) / 2 + 16 }
  context.quadraticCurveTo(elbow.x, elbow.y, hand.x, hand.y)
  context.stroke()
  context.fillStyle = '#c39a7c'
  context.beginPath()
  context.arc(hand.x, hand.y, 15, 0, 7)
  context.fill()
}

function thrower(context: SKRSContext2D) {
  context.fillStyle = 'rgba(20,16,10,0.28)'
  context.beginPath()
  context.ellipse(210, 676, 92, 12, 0, 0, 7)
  context.fill()
  context.fillStyle = '#2d3540'
  context.fillRect(160, 530, 34, 148)
  context.fillRect(202, 530, 34, 148)
  context.fillStyle = '#4a6378'
  context.beginPath()
  context.roundRect(148, 366, 98, 190, 34)
  context.fill()
  context.fillStyle = '#c39a7c'
  context.beginPath()
  context.arc(198, 318, 38, 0, 7)
  context.fill()
  context.fillStyle = '#453327'
  context.beginPath()
  context.arc(194, 306, 39, Math.PI * 0.85, Math.PI * 1.95)
  context.fill()
}

/** Draws the catching basket: a ring on legs with a sagging net. */
function basket(context: SKRSContext2D) {
  const at = inPicture(view, BASKET)
  context.strokeStyle = '#4c3a2a'
  context.lineWidth = 7
  for (const side of [-1, 1]) {
    context.beginPath()
    context.moveTo(at.x + side * 62, at.y + 6)
    context.lineTo(at.x + side * 76, GROUND + 28)
    context.stroke()
  }
  context.strokeStyle = 'rgba(60,74,66,0.75)'
  context.lineWidth = 1.6
  for (let i = -6; i <= 6; i++) {
    context.beginPath()
    context.moveTo(at.x + i * 10, at.y + 8)
    context.quadraticCurveTo(at.x + i * 8, at.y + 50, at.x + i * 5, at.y + 66)
    context.stroke()
  }
}

/** Draws the ring's front edge, before which nothing of the float is seen. */
function basketFront(context: SKRSContext2D) {
  const at = inPicture(view, BASKET)
  context.strokeStyle = '#6a5138'
  context.lineWidth = 8
  context.beginPath()
  context.ellipse(at.x, at.y + 8, 66, 12, 0, 0, 7)
  context.stroke()
}

const staff = { x: 640, bottom: GROUND, top: GROUND - 1.4 * view.pixelsPerMetre }

/** Returns a glass net float tossed across the quay into a basket, before a 1.40 m tide staff. */
export function thrownNetFloat(
  thrown: Throw,
  about: Pick<Sample, 'id' | 'title' | 'about' | 'frames' | 'noise' | 'quality' | 'poster'>,
): Sample {
  const { release, flight, launch } = thrown
  const pose = (time: number) => poseOf(thrown, time)
  return {
    ...about,
    width: WIDTH,
    height: HEIGHT,
    rate: 60,
    shutter: 0.5,
    view,
    constants: {
      g: G,
      releaseTime: release,
      catchTime: release + flight,
      launchX: launch.x,
      launchY: launch.y,
    },
    reference: {
      name: 'tide staff',
      ends: [
        { x: staff.x, y: staff.bottom },
        { x: staff.x, y: staff.top },
      ],
      length: 1.4,
    },
    bodies: [{ name: 'net float', pose }],
    still: (context) => {
      const painters = [
        sky(WIDTH, 452, 11),
        water(WIDTH, 450, 560, 12),
        boat(1010, 492, 150),
        boat(470, 470, 60),
        quay(WIDTH, 556, HEIGHT, 13),
        stall(18, 618, 230, '#a8483c', '#7d6148', 14),
        stall(1090, 612, 214, '#2f6f68', '#6d7a64', 15),
        bunting(230, 330, 1110, 344, 24),
        clutter(330, 612, 16),
        tideStaff(staff.x, staff.top, staff.bottom, 14, 14),
        thrower,
        basket,
        weathering(WIDTH, HEIGHT, 17),
        vignette(WIDTH, HEIGHT),
      ]
      for (const paint of painters) paint(context)
    },
    moving: (context, time) => {
      const where = pose(time)
      const hand = time < release ? swing(thrown, time) : follow(launch, time - release)
      arm(context, inPicture(view, { x: hand.x - 0.03, y: hand.y - 0.05 }))
      float(context, inPicture(view, where), where.turn)
      basketFront(context)
    },
  }
}

/** Returns the hand after release goes on a little, then sinks. */
function follow(launch: Vector, after: number): Vector {
  const slow = (1 - Math.exp(-after * 14)) / 14
  return { x: launch.x * slow, y: launch.y * slow - 0.5 * (1 - Math.exp(-after * 2)) ** 2 }
}

export const netFloat: Sample = thrownNetFloat(SAMPLE_THROW, {
  id: 'net-float',
  title: 'Net float',
  about: 'Tossed across the quay, before a tide staff of 1.40 m. Two directions of motion, and g.',
  frames: 120,
  noise: 2.6,
  poster: 44,
})
