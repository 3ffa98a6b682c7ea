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

const WIDTH = 960
const HEIGHT = 540
const G = 9.81
/** Metres: how far it falls, and how large it is. */
const DROP = 1.45
const RADIUS = 0.16
/** Seconds at which it is let go. */
const RELEASE = 0.3
/** Share of its speed that a bounce leaves it. */
const RESTITUTION = 0.7
const BOUNCES = 3
/** Metres a second that the wind takes it along. */
const DRIFT = 0.16
const GROUND_LINE = 470
const PIXELS = 250
/** The scene's origin is where it touches the quay first; heights are of its lowest point. */
const view: View = { pixelsPerMetre: PIXELS, origin: { x: 400, y: GROUND_LINE - RADIUS * PIXELS } }

/** Times at which it hits the quay, and the speed with which it leaves each time. */
const HITS = (() => {
  const first = Math.sqrt((2 * DROP) / G)
  const hits = [{ time: RELEASE + first, speed: RESTITUTION * G * first }]
  while (hits.length < BOUNCES + 1) {
    const { time, speed } = hits[hits.length - 1]
    hits.push({ time: time + (2 * speed) / G, speed: RESTITUTION * speed })
  }
  return hits
})()
/** It is caught as it comes down for the last time. */
const CAUGHT = HITS[BOUNCES].time

function pose(time: number): Pose {
  const since = Math.min(Math.max(0, time - RELEASE), CAUGHT - RELEASE)
  const now = RELEASE + since
  const hit = HITS.slice(0, BOUNCES).findLast((one) => one.time <= now)
  const after = hit ? now - hit.time : since
  const y = hit ? hit.speed * after - (G / 2) * after * after : DROP - (G / 2) * after * after
  const phase = time < RELEASE ? 'held' : time >= CAUGHT ? 'caught' : hit ? 'bouncing' : 'falling'
  return { x: DRIFT * since, y, turn: -0.15 * since, phase }
}

/** Draws a round fender of pale rubber with a dark band, its eye on top, and a bright patch that can be seen to turn. */
function ball(context: SKRSContext2D, at: Vector, turn: number) {
  const r = RADIUS * PIXELS
  context.save()
  context.translate(at.x, at.y)
  context.rotate(-turn)
  context.fillStyle = '#2c4f63'
  context.beginPath()
  context.ellipse(0, -r * 0.98, r * 0.26, r * 0.2, 0, 0, 7)
  context.fill()
  context.fillStyle = '#e6dabf'
  context.beginPath()
  context.arc(0, 0, r, 0, 7)
  context.fill()
  context.save()
  context.clip()
  context.fillStyle = '#2c4f63'
  context.fillRect(-r, -r * 0.2, 2 * r, r * 0.4)
  context.fillStyle = '#d2622f'
  context.beginPath()
  context.arc(r * 0.42, r * 0.52, r * 0.2, 0, 7)
  context.fill()
  context.restore()
  context.restore()
  // Light comes from the upper left, however the fender is turned.
  const light = context.createRadialGradient(at.x - r * 0.4, at.y - r * 0.45, r * 0.1, at.x, at.y, r * 1.05)
  light.addColorStop(0, 'rgba(255,252,240,0.45)')
  light.addColorStop(0.6, 'rgba(120,104,76,0.05)')
  light.addColorStop(1, 'rgba(60,48,30,0.45)')
  context.fillStyle = light
  context.strokeStyle = 'rgba(70,58,40,0.7)'
  context.lineWidth = 1.6
  context.beginPath()
  context.arc(at.x, at.y, r, 0, 7)
  context.fill()
  context.stroke()
}

/** Its shadow on the quay, the smaller and darker the lower it is. */
function shadow(context: SKRSContext2D, { x, y }: Pose) {
  const at = inPicture(view, { x, y: 0 })
  const size = RADIUS * PIXELS
  context.fillStyle = `rgba(24,20,14,${0.4 - 0.16 * Math.min(1, y)})`
  context.beginPath()
  context.ellipse(at.x, GROUND_LINE + 5, size * (0.75 + 0.25 * y), 7, 0, 0, 7)
  context.fill()
}

const staff = { x: 640, top: GROUND_LINE - 1.6 * PIXELS }

/** A boat fender that is let go above the quay and bounces three times. */
export const fender: Sample = {
  id: 'fender',
  title: 'Boat fender',
  about: 'A fender let go above the quay bounces three times. Breaks, and how much each bounce leaves.',
  width: WIDTH,
  height: HEIGHT,
  rate: 60,
  frames: Math.ceil(60 * (CAUGHT + 0.15)),
  shutter: 0.4,
  noise: 2,
  quality: 23,
  exposures: 8,
  view,
  poster: 46,
  constants: {
    g: G,
    drop: DROP,
    restitution: RESTITUTION,
    releaseTime: RELEASE,
    firstHit: HITS[0].time,
    secondHit: HITS[1].time,
    thirdHit: HITS[2].time,
    caughtTime: CAUGHT,
  },
  reference: {
    name: 'tide staff',
    ends: [
      { x: staff.x, y: GROUND_LINE },
      { x: staff.x, y: staff.top },
    ],
    length: 1.6,
  },
  bodies: [{ name: 'fender', pose }],
  still: (context) => {
    const painters = [
      sky(WIDTH, 300, 71),
      water(WIDTH, 296, 420, 72),
      boat(820, 352, 120),
      quay(WIDTH, 416, HEIGHT, 73),
      stall(120, 452, 190, '#8a5a6a', '#7d6a52', 74),
      bunting(-10, 90, 970, 70, 46),
      clutter(700, GROUND_LINE - 6, 75),
      tideStaff(staff.x, staff.top, GROUND_LINE, 12, 16),
      weathering(WIDTH, HEIGHT, 76),
      vignette(WIDTH, HEIGHT),
    ]
    for (const paint of painters) paint(context)
  },
  moving: (context, time) => {
    const where = pose(time)
    shadow(context, where)
    ball(context, inPicture(view, where), where.turn)
  },
}
