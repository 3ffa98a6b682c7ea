import type { SKRSContext2D } from '@napi-rs/canvas'
import { aimingDisc, boat, bunting, clutter, sky, vignette, water, weathering } from '../scenery.ts'
import { inPicture, type Pose, type Sample, type Vector, type View } from './sample.ts'

const WIDTH = 960
const HEIGHT = 540
const G = 9.81
/** Coefficient of sliding friction between runners and boards. */
const FRICTION = 0.24
const SPEED = 2.7
/** Seconds at which the pole lets go, and how long it has pushed before. */
const RELEASE = 0.63
const PUSH = 0.45
const DECELERATION = FRICTION * G
const view: View = { pixelsPerMetre: 330, origin: { x: 240, y: 410 } }
const BOARD = 0.25

function slid(time: number): number {
  if (time < RELEASE) {
    // From rest to the full speed with a push that begins and ends gently.
    const share = Math.max(0, (time - RELEASE + PUSH) / PUSH)
    return SPEED * PUSH * (share ** 3 - share ** 4 / 2 - 0.5)
  }
  const after = Math.min(time - RELEASE, SPEED / DECELERATION)
  return SPEED * after - (DECELERATION / 2) * after * after
}

function pose(time: number): Pose {
  const after = time - RELEASE
  const phase = after < 0 ? 'pushed' : after < SPEED / DECELERATION ? 'sliding' : 'resting'
  return { x: slid(time), y: 0.16, turn: 0, phase }
}

/** Draws the sledge: a crate of fish on two runners, with a white disc to aim at. */
function sledge(context: SKRSContext2D, at: Vector) {
  context.save()
  context.translate(at.x, at.y)
  context.fillStyle = '#5e7f93'
  for (let fish = 0; fish < 6; fish++) {
    context.beginPath()
    context.ellipse(-46 + 18 * fish, -30 - (fish % 2) * 4, 15, 7, 0.5 - 0.2 * fish, 0, 7)
    context.fill()
  }
  context.fillStyle = '#9a7449'
  context.fillRect(-62, -26, 124, 56)
  context.fillStyle = 'rgba(40,26,12,0.35)'
  for (let slat = 0; slat < 3; slat++) context.fillRect(-62, -9 + 18 * slat, 124, 3)
  aimingDisc(context)
  context.fillStyle = '#4a3826'
  context.fillRect(-70, 36, 140, 9)
  context.fillRect(-50, 28, 9, 12)
  context.fillRect(41, 28, 9, 12)
  context.restore()
}

/** Boards of a quarter of a metre each, every fourth joint with a brass nail. */
function boards(context: SKRSContext2D) {
  const ground = inPicture(view, { x: 0, y: 0 })
  const wide = BOARD * view.pixelsPerMetre
  context.fillStyle = '#8c7452'
  context.fillRect(0, ground.y, WIDTH, HEIGHT - ground.y)
  for (let board = -3; board < 10; board++) {
    const x = ground.x + board * wide
    context.fillStyle = board % 2 ? 'rgba(255,240,210,0.09)' : 'rgba(30,18,8,0.10)'
    context.fillRect(x, ground.y, wide, HEIGHT - ground.y)
    context.fillStyle = 'rgba(30,20,10,0.75)'
    context.fillRect(x - 1.2, ground.y, 2.4, HEIGHT - ground.y)
    if (board % 4 === 0) {
      context.fillStyle = '#f3d27a'
      context.beginPath()
      context.arc(x, ground.y + 24, 6, 0, 7)
      context.fill()
    }
  }
  context.fillStyle = '#5c4a33'
  context.fillRect(0, ground.y - 3, WIDTH, 5)
}

function pole(context: SKRSContext2D, tip: Vector) {
  context.strokeStyle = '#6d5335'
  context.lineWidth = 7
  context.beginPath()
  context.moveTo(tip.x - 260, tip.y - 70)
  context.lineTo(tip.x, tip.y)
  context.stroke()
}

const nail = (metre: number) => {
  const { x, y } = inPicture(view, { x: metre, y: 0 })
  return { x, y: y + 24 }
}

/** A sledge of fish that slides to rest on boards. */
export const fishSledge: Sample = {
  id: 'fish-sledge',
  title: 'Fish sledge',
  about: 'Pushed off and slides to rest on boards. A constant deceleration, and the friction behind it.',
  width: WIDTH,
  height: HEIGHT,
  rate: 30,
  frames: 66,
  shutter: 0.4,
  noise: 2.4,
  view,
  poster: 30,
  constants: { g: G, friction: FRICTION, speed: SPEED, deceleration: DECELERATION, releaseTime: RELEASE },
  reference: { name: 'nails, a metre apart', ends: [nail(0), nail(1)], length: 1 },
  bodies: [{ name: 'sledge', pose }],
  still: (context) => {
    const painters = [
      sky(WIDTH, 300, 31),
      water(WIDTH, 296, 400, 32),
      boat(700, 340, 96),
      boat(160, 322, 44),
      bunting(40, 110, 930, 90, 30),
      boards,
      clutter(760, 414, 34),
      weathering(WIDTH, HEIGHT, 33),
      vignette(WIDTH, HEIGHT),
    ]
    for (const paint of painters) paint(context)
  },
  moving: (context, time) => {
    const at = inPicture(view, pose(time))
    // The pole goes on a little once it has let go.
    const after = Math.max(0, time - RELEASE)
    const reach = slid(Math.min(time, RELEASE)) + (SPEED * (1 - Math.exp(-9 * after))) / 9
    const tip = inPicture(view, { x: reach, y: 0.16 })
    pole(context, { x: tip.x - 64, y: tip.y - 6 })
    sledge(context, at)
  },
}
