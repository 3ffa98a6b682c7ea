import { randomSource } from '@apokinema/core/random'
import type { SKRSContext2D } from '@napi-rs/canvas'
import { vignette, weathering } from '../scenery.ts'
import type { Pose, Sample, Vector } from './sample.ts'

const WIDTH = 960
const HEIGHT = 540
const FRAMES = 75
const RATE = 30
/** The steel table, in metres; its lower left corner is the scene's origin. */
const TABLE = { width: 2.4, height: 1.2 }
/** Kilograms, and edge lengths in metres. */
const BLOCKS = { large: { mass: 2.4, side: 0.2 }, small: { mass: 1.2, side: 0.15 } }
const HIGH = 0.07
/** Metres a second before they meet, along the table. */
const BEFORE = { large: 0.85, small: -0.55 }
/** Share of the approach with which they part. */
const RESTITUTION = 0.6
/** Metres a second squared that the wet steel slows them by. */
const FRICTION = 0.06
const MEET = 1.1
/** Where the middles of their lower front edges are when they meet, in metres. */
const WHERE = { x: 1.15, y: 0.55 }

/** A pinhole on the balcony: metres to the table's near edge, to its side, and up; it looks down at the table's middle. */
const EYE = { x: 2.5, y: -2.3, z: 2.1 }
const FOCAL = 1120

const dot = (a: number[], b: number[]) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2]
const cross = (a: number[], b: number[]) => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
]
const unit = (v: number[]) => v.map((part) => part / Math.hypot(...v))
const FORWARD = unit([TABLE.width / 2 - EYE.x, TABLE.height / 2 - EYE.y, -EYE.z])
const RIGHT = unit(cross(FORWARD, [0, 0, 1]))
const UP = cross(RIGHT, FORWARD)

/** Picture position of a point on the table, or above it. */
function project({ x, y }: Vector, z = 0): Vector {
  const from = [x - EYE.x, y - EYE.y, z - EYE.z]
  const away = dot(from, FORWARD)
  return {
    x: WIDTH / 2 + (FOCAL * dot(from, RIGHT)) / away,
    y: HEIGHT / 2 - (FOCAL * dot(from, UP)) / away,
  }
}

/** Velocities after they have met: momentum is kept, and they part with a share of their approach. */
function velocitiesAfter() {
  const [m, n] = [BLOCKS.large.mass, BLOCKS.small.mass]
  const [u, v] = [BEFORE.large, BEFORE.small]
  const common = (m * u + n * v) / (m + n)
  return {
    large: common - (n / (m + n)) * RESTITUTION * (u - v),
    small: common + (m / (m + n)) * RESTITUTION * (u - v),
  }
}

/** Way after a time at a speed that friction takes from it, to rest. */
function slid(speed: number, time: number): number {
  const size = Math.abs(speed)
  const slowing = Math.min(time, size / FRICTION)
  return Math.sign(speed) * (size * slowing - (FRICTION / 2) * slowing * slowing)
}

function poseOf(block: 'large' | 'small') {
  const apart = (BLOCKS.large.side + BLOCKS.small.side) / 2
  const start = block === 'large' ? WHERE.x - apart / 2 : WHERE.x + apart / 2
  return (time: number): Pose => {
    const after = time - MEET
    // Before they meet they are slowed, too: told backwards from the moment at which they meet.
    const way =
      after < 0
        ? BEFORE[block] * after - Math.sign(BEFORE[block]) * (FRICTION / 2) * after * after
        : slid(velocitiesAfter()[block], after)
    return { x: start + way, y: WHERE.y, turn: 0, phase: after < 0 ? 'before' : 'after' }
  }
}

function polygon(context: SKRSContext2D, points: Vector[], fill: string) {
  context.fillStyle = fill
  context.beginPath()
  for (const { x, y } of points) context.lineTo(x, y)
  context.closePath()
  context.fill()
}

/** Draws a block of ice as a box whose lower front edge has its middle at the pose, with a bright dot there. */
function ice(context: SKRSContext2D, at: Pose, side: number) {
  const [left, right, front, back] = [at.x - side / 2, at.x + side / 2, at.y, at.y + side]
  const corner = (x: number, y: number, z: number) => project({ x, y }, z)
  polygon(
    context,
    [
      corner(left - 0.03, front - 0.02, 0),
      corner(right + 0.02, front - 0.02, 0),
      corner(right + 0.02, back, 0),
      corner(left - 0.03, back, 0),
    ],
    'rgba(20,34,40,0.28)',
  )
  polygon(
    context,
    [corner(right, front, 0), corner(right, back, 0), corner(right, back, HIGH), corner(right, front, HIGH)],
    '#9fc3cf',
  )
  polygon(
    context,
    [corner(left, front, 0), corner(left, back, 0), corner(left, back, HIGH), corner(left, front, HIGH)],
    '#aacbd5',
  )
  polygon(
    context,
    [
      corner(left, front, HIGH),
      corner(right, front, HIGH),
      corner(right, back, HIGH),
      corner(left, back, HIGH),
    ],
    '#dcedf1',
  )
  polygon(
    context,
    [corner(left, front, 0), corner(right, front, 0), corner(right, front, HIGH), corner(left, front, HIGH)],
    '#bcd9e1',
  )
  const mark = project(at)
  context.fillStyle = '#c2412f'
  context.beginPath()
  context.arc(mark.x, mark.y, 5, 0, 7)
  context.fill()
  context.fillStyle = '#fff4e6'
  context.beginPath()
  context.arc(mark.x, mark.y, 2, 0, 7)
  context.fill()
}

/** Draws the quay's paving, the table's legs and its top of steel plates with rivets, seen from the balcony. */
function table(context: SKRSContext2D) {
  context.fillStyle = '#7d7566'
  context.fillRect(0, 0, WIDTH, HEIGHT)
  const random = randomSource(61)
  context.strokeStyle = 'rgba(40,34,26,0.35)'
  context.lineWidth = 1.4
  for (let i = -8; i < 24; i++) {
    for (const [from, to] of [
      [
        { x: i * 0.4, y: -2 },
        { x: i * 0.4, y: 6 },
      ],
      [
        { x: -4, y: i * 0.4 - 1 },
        { x: 8, y: i * 0.4 - 1 },
      ],
    ]) {
      const [a, b] = [project(from, -0.75), project(to, -0.75)]
      context.beginPath()
      context.moveTo(a.x, a.y)
      context.lineTo(b.x, b.y)
      context.stroke()
    }
  }
  const rim = 0.05
  const corners = (grow: number, z: number) =>
    [
      [-grow, -grow],
      [TABLE.width + grow, -grow],
      [TABLE.width + grow, TABLE.height + grow],
      [-grow, TABLE.height + grow],
    ].map(([x, y]) => project({ x, y }, z))
  polygon(context, corners(rim + 0.02, -0.12), '#3f4a4e')
  polygon(context, corners(rim, 0), '#5d6b70')
  polygon(context, corners(0, 0), '#98a7ab')
  for (let i = 0; i < 900; i++) {
    const at = { x: random() * TABLE.width, y: random() * TABLE.height }
    const [a, b] = [project(at), project({ x: Math.min(TABLE.width, at.x + 0.02 + 0.2 * random()), y: at.y })]
    context.strokeStyle = random() < 0.5 ? 'rgba(235,244,246,0.13)' : 'rgba(40,54,60,0.12)'
    context.beginPath()
    context.moveTo(a.x, a.y)
    context.lineTo(b.x, b.y)
    context.stroke()
  }
  context.strokeStyle = 'rgba(30,42,48,0.55)'
  for (const x of [0.6, 1.2, 1.8]) {
    const [a, b] = [project({ x, y: 0 }), project({ x, y: TABLE.height })]
    context.beginPath()
    context.moveTo(a.x, a.y)
    context.lineTo(b.x, b.y)
    context.stroke()
  }
  context.fillStyle = '#46545a'
  for (let x = 0.1; x < TABLE.width; x += 0.2)
    for (const y of [0.04, TABLE.height - 0.04]) {
      const at = project({ x, y })
      context.beginPath()
      context.ellipse(at.x, at.y, 2.4, 1.7, 0, 0, 7)
      context.fill()
    }
}

/** Two blocks of ice of different mass that glide on a wet steel table and meet, seen obliquely from a balcony. */
export const iceBlocks: Sample = {
  id: 'ice-blocks',
  title: 'Ice blocks',
  about:
    'Two blocks glide and collide on a steel table that the camera sees from a side. A plane, and momentum.',
  width: WIDTH,
  height: HEIGHT,
  rate: RATE,
  frames: FRAMES,
  shutter: 0.4,
  noise: 1.6,
  quality: 23,
  exposures: 6,
  view: { pixelsPerMetre: 1, origin: { x: 0, y: 0 } },
  project,
  plane: {
    width: TABLE.width,
    height: TABLE.height,
    corners: [
      project({ x: 0, y: 0 }),
      project({ x: TABLE.width, y: 0 }),
      project({ x: TABLE.width, y: TABLE.height }),
      project({ x: 0, y: TABLE.height }),
    ],
  },
  poster: 24,
  constants: {
    massLarge: BLOCKS.large.mass,
    massSmall: BLOCKS.small.mass,
    velocityLargeBefore: BEFORE.large,
    velocitySmallBefore: BEFORE.small,
    velocityLargeAfter: velocitiesAfter().large,
    velocitySmallAfter: velocitiesAfter().small,
    friction: FRICTION,
    meetTime: MEET,
  },
  reference: {
    name: 'front edge of the table',
    ends: [project({ x: 0, y: 0 }), project({ x: TABLE.width, y: 0 })],
    length: TABLE.width,
  },
  bodies: [
    { name: 'large block', pose: poseOf('large') },
    { name: 'small block', pose: poseOf('small') },
  ],
  still: (context) => {
    for (const paint of [table, weathering(WIDTH, HEIGHT, 62), vignette(WIDTH, HEIGHT)]) paint(context)
  },
  moving: (context, time) => {
    ice(context, poseOf('large')(time), BLOCKS.large.side)
    ice(context, poseOf('small')(time), BLOCKS.small.side)
  },
}
