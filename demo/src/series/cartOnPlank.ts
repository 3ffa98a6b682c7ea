import type { SKRSContext2D } from '@napi-rs/canvas'
import { inPicture, type Pose, type Sample, type Vector, type View } from '../samples/index.ts'
import {
  aimingDisc,
  boat,
  bunting,
  clutter,
  plankAlong,
  quay,
  sky,
  stall,
  tideStaff,
  trestle,
  vignette,
  water,
  weathering,
} from '../scenery.ts'
import type { SampleSeries } from './sampleSeries.ts'

const WIDTH = 960
const HEIGHT = 540
const G = 9.81
/** Rolling resistance: force along the plank over force on it. The wheels are light. */
const RESISTANCE = 0.03
const LENGTH = 2.4
/** Where the cart begins, and where a sack stops it, along the plank from its upper end. */
const START = 0.4
const STOP = 2
/** Height of the disc that is aimed at above the plank. */
const DISC = 0.16
/** The scene's origin is the plank's lower end, which lies on the quay in all trials. */
const view: View = { pixelsPerMetre: 300, origin: { x: 826, y: 476 } }
const STAFF = { x: 902, height: 1.2 }

/** Angle, release in seconds, and the angle that was read off a protractor. */
const CARTS: readonly [degrees: number, release: number, read: number][] = [
  [5, 0.31, 5],
  [8, 0.42, 8.1],
  [11, 0.37, 11],
  [14, 0.52, 13.9],
  [17, 0.45, 17],
]

/** Returns a cart of fish that rolls down a plank at an angle, as one trial of the series. */
function cartTrial(degrees: number, release: number, seed: number): Sample {
  const slope = (degrees * Math.PI) / 180
  const acceleration = G * (Math.sin(slope) - RESISTANCE * Math.cos(slope))

  /** Returns a point some way down the plank from its upper end, and some way above its surface. */
  const onPlank = (along: number, above: number): Vector => ({
    x: (along - LENGTH) * Math.cos(slope) + above * Math.sin(slope),
    y: (LENGTH - along) * Math.sin(slope) + above * Math.cos(slope),
  })
  const alongAt = (time: number) =>
    Math.min(STOP, START + (acceleration / 2) * Math.max(0, time - release) ** 2)
  const pose = (time: number): Pose => {
    const along = alongAt(time)
    const phase = time <= release ? 'held' : along < STOP ? 'rolling' : 'stopped'
    return { ...onPlank(along, DISC), turn: 0, phase }
  }

  const cart = (context: SKRSContext2D, time: number) => {
    const along = alongAt(time)
    const at = inPicture(view, onPlank(along, DISC))
    context.save()
    context.translate(at.x, at.y)
    context.rotate(slope)
    context.fillStyle = '#9a7449'
    context.fillRect(-50, -22, 100, 50)
    context.fillStyle = 'rgba(40,26,12,0.35)'
    for (let slat = 0; slat < 3; slat++) context.fillRect(-50, -7 + 16 * slat, 100, 3)
    aimingDisc(context)
    const turn = ((along - START) * view.pixelsPerMetre) / 14
    for (const wheel of [-32, 32]) {
      context.save()
      context.translate(wheel, 34)
      context.rotate(turn)
      context.fillStyle = '#33302b'
      context.beginPath()
      context.arc(0, 0, 14, 0, 7)
      context.fill()
      context.fillStyle = '#c9c2b0'
      context.fillRect(-12, -2, 24, 4)
      context.restore()
    }
    context.restore()
  }

  const plank = (context: SKRSContext2D) => {
    const top = inPicture(view, onPlank(0, 0))
    context.save()
    context.translate(top.x, top.y)
    context.rotate(slope)
    const long = LENGTH * view.pixelsPerMetre
    plankAlong(context, long)
    context.fillStyle = '#8d8266'
    context.beginPath()
    context.ellipse((STOP + 0.26) * view.pixelsPerMetre, -26, 24, 28, 0, 0, 7)
    context.fill()
    context.restore()
    trestle(context, inPicture(view, onPlank(LENGTH * 0.12, -0.05)), 500)
  }

  const staff = { bottom: view.origin.y, top: view.origin.y - STAFF.height * view.pixelsPerMetre }
  return {
    id: `cart-at-${degrees}`,
    title: `Cart at ${degrees}°`,
    about: 'A cart of fish rolls down a plank: one of five angles.',
    width: WIDTH,
    height: HEIGHT,
    rate: 30,
    frames: 96,
    shutter: 0.4,
    noise: 2 + seed / 10,
    quality: 23,
    view,
    poster: 20,
    constants: { g: G, slope, resistance: RESISTANCE, acceleration, releaseTime: release },
    reference: {
      name: 'tide staff',
      ends: [
        { x: STAFF.x, y: staff.bottom },
        { x: STAFF.x, y: staff.top },
      ],
      length: STAFF.height,
    },
    bodies: [{ name: 'cart', pose }],
    still: (context) => {
      const painters = [
        sky(WIDTH, 330, 41),
        water(WIDTH, 326, 412, 42),
        boat(520, 352, 70),
        quay(WIDTH, 408, HEIGHT, 43),
        stall(40, 452, 150, '#a9573f', '#77624a', 44),
        bunting(40, 70, 900, 96, 26),
        clutter(330, 470, 45),
        tideStaff(STAFF.x, staff.top, staff.bottom, 13, 12),
        plank,
        weathering(WIDTH, HEIGHT, 46),
        vignette(WIDTH, HEIGHT),
      ]
      for (const paint of painters) paint(context)
    },
    moving: cart,
  }
}

/** The cart on the plank at five angles: the acceleration against the sine of the angle gives g, and misses zero by the resistance. */
export const CART_ON_PLANK: SampleSeries = {
  id: 'cart-on-plank',
  title: 'Cart on a plank, five angles',
  about: 'The steeper the plank, the faster: g from the slope, resistance from the intercept.',
  conditions: [{ name: 'plank angle', symbol: 'theta', unit: '°', error: 0.1 }],
  trials: CARTS.map(([degrees, release, read], i) => ({
    sample: cartTrial(degrees, release, i + 1),
    typed: [read],
  })),
}
