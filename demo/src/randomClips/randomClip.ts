import type { SKRSContext2D } from '@napi-rs/canvas'
import { inPicture, type Pose, type Sample, type Vector, type View } from '../samples/index.ts'
import { boat, clutter, quay, sky, stall, vignette, water, weathering } from '../scenery.ts'
import { type BodyLook, drawBody, randomLook } from './bodies.ts'
import { fill, flag, shadow, string, walker } from './brushes.ts'
import { filmedBy } from './cameraWork.ts'
import { type Chooser, chooser, type MotionKind } from './chooser.ts'
import { type ClipChoices, type Company, chosen, type Encoder } from './clipChoices.ts'

/**
 * A clip with a random body, motion, background and encoder, of which everything is known: following and the errors of
 * readings are measured on such clips.
 */
export interface RandomClip extends Sample {
  seed: number
  choices: ClipChoices
  encoder: Encoder
  look: BodyLook
  /** Share of the body that is inside the picture and not hidden at a time. */
  seen: (time: number) => number
  /** Parameters of the true motion, in SI. */
  truth: Motion['truth']
  /** Angle of the way that the body goes, in radians: x is laid along it. */
  slope: number
}

/** A motion in metres, and what is known of it. */
interface Motion {
  pose: (time: number) => Pose
  truth: Record<string, number>
  /** Angle of the way that it goes, in radians, where that is straight. */
  slope: number
}

const G = 9.81
/** Radii of real bodies, in metres. */
const BODY = { least: 0.03, most: 0.12 }

/** Returns what paints the wall behind the body, in order. */
function wallPainters(
  { between }: Chooser,
  { wall, width, height }: ClipChoices,
  look: ReturnType<typeof randomLook>,
  seed: number,
): ((context: SKRSContext2D) => void)[] {
  const ground = height * 0.8
  const painters = {
    plain: [(context: SKRSContext2D) => fill(context, '#8f9a8c', width, height)],
    'body brightness': [(context: SKRSContext2D) => fill(context, look.wall, width, height)],
    quay: [
      sky(width, height * 0.55, seed),
      water(width, height * 0.55, height * 0.75, seed + 1),
      boat(width * between(0.2, 0.8), height * 0.6, width * 0.12),
      quay(width, height * 0.75, height, seed + 2),
    ],
    crates: [
      sky(width, height * 0.4, seed),
      quay(width, height * 0.4, height, seed + 2),
      stall(width * 0.1, ground, width * 0.25, '#a8483c', '#7d6148', seed + 3),
      stall(width * 0.6, ground, width * 0.3, '#2f6f68', '#6d7a64', seed + 4),
      clutter(width * 0.35, ground, seed + 5),
    ],
  }
  return painters[wall]
}

/** Returns the share of a body about a point (px) that is in the picture and not behind the post. */
function visibleShare(
  { x, y }: Vector,
  { radius, width, height }: ClipChoices,
  post: { left: number; width: number } | null,
): number {
  let [visible, all] = [0, 0]
  for (let v = -radius; v <= radius; v += radius / 10)
    for (let u = -radius; u <= radius; u += radius / 10) {
      if (u * u + v * v > radius * radius) continue
      all++
      const isIn = x + u >= 0 && y + v >= 0 && x + u <= width && y + v <= height
      const isHidden = post !== null && x + u >= post.left && x + u <= post.left + post.width
      if (isIn && !isHidden) visible++
    }
  return visible / all
}

/** A made-up clip is only measured, never shown. */
const UNTITLED = { title: '', about: '', poster: 0 }

/** Returns a clip that a seed makes, with some of the choices stated. */
export function randomClip(seed: number, stated: Partial<ClipChoices> = {}): RandomClip {
  const choose = chooser(seed)
  const { between } = choose
  const choices = chosen(choose, stated)
  const { motion, radius, rate, shutter, wall, extra, encoder, width, height } = choices
  const size = width / 640
  const pixelsPerMetre = Math.min(640 * size, Math.max(128 * size, radius / between(BODY.least, BODY.most)))
  const view: View = {
    pixelsPerMetre,
    origin: { x: width * between(0.1, 0.3), y: height * between(0.7, 0.9) },
  }
  const made = withRests(MOTION[motion](choose, view, choices), choices)
  const frames = choices.frames || made.frames
  const look = randomLook(choose, motion, wall)
  const at = (time: number) => inPicture(view, made.pose(time))
  // What swings or falls would stay behind it.
  const post =
    extra === 'post' && motion !== 'swing' && motion !== 'fall' ? postFor(choose, at, choices, frames) : null
  const twin = extra === 'look-alike' ? twinOf(choose, at, choices, frames) : null
  // A shadow falls on a wall or a floor behind the body, not on a sky.
  const isNear = wall !== 'quay'
  const shade =
    extra === 'shadow' && isNear ? { x: radius * between(0.4, 1.4), y: radius * between(0.5, 1.5) } : null
  const flicker = extra === 'flicker' ? { size: between(0.02, 0.06), frequency: between(3, 11) } : null
  const company = extra === 'walker' || extra === 'flag' ? companyOf(choose, extra, choices, frames) : null
  const painters = wallPainters(choose, choices, look, seed)
  const staff = { x: width * between(0.85, 0.95), top: height * 0.15, bottom: height * 0.85 }
  return {
    id: `clip-${seed}`,
    ...UNTITLED,
    seed,
    choices,
    encoder,
    look,
    ...filmedBy(choices, frames),
    rate,
    frames,
    shutter,
    view,
    noise: between(1.5, 3),
    exposures: Math.max(4, Math.round(16 * shutter)),
    constants: {},
    truth: made.truth,
    slope: made.slope,
    reference: {
      name: 'staff',
      ends: [
        { x: staff.x, y: staff.bottom },
        { x: staff.x, y: staff.top },
      ],
      length: (staff.bottom - staff.top) / view.pixelsPerMetre,
    },
    bodies: choices.body ? [{ name: 'body', pose: made.pose }] : [],
    seen: (time) => visibleShare(at(time), choices, post),
    still: (context) => {
      for (const paint of painters) paint(context)
      weathering(width, height, seed + 6)(context)
      vignette(width, height)(context)
      context.strokeStyle = '#333'
      context.lineWidth = 2 * size
      context.strokeRect(staff.x, staff.top, 3 * size, staff.bottom - staff.top)
    },
    moving: (context, time) => {
      const place = at(time)
      company?.(context, time)
      if (choices.body && motion === 'swing')
        string(context, { x: view.origin.x, y: 0.04 * height }, place, size)
      if (choices.body && shade) shadow(context, { x: place.x + shade.x, y: place.y + shade.y }, radius)
      if (twin) drawBody(context, look, twin(time), radius, 0.7 * time)
      if (choices.body) drawBody(context, look, place, radius, made.pose(time).turn)
      if (post) {
        context.fillStyle = '#5d5144'
        context.fillRect(post.left, 0, post.width, height)
      }
      if (flicker) {
        const dark = flicker.size * (0.5 + 0.5 * Math.sin(2 * Math.PI * flicker.frequency * time))
        fill(context, `rgba(0,0,0,${dark})`, width, height)
      }
    },
  }
}

/** Returns a post that hides the body for three to eight frames in the middle of the clip. */
function postFor(
  { between }: Chooser,
  at: (time: number) => Vector,
  { rate, radius, width }: ClipChoices,
  frames: number,
): { left: number; width: number } {
  const middle = (frames * between(0.4, 0.6)) / rate
  const speed = Math.abs(at(middle + 0.5 / rate).x - at(middle - 0.5 / rate).x)
  const wide = Math.min(0.2 * width, 2 * radius + speed * between(2, 6))
  return { left: at(middle).x - wide / 2, width: wide }
}

/** Another body of the same look that passes near the first one in the middle of the clip. */
function twinOf(
  { between, pick }: Chooser,
  at: (time: number) => Vector,
  { width, radius, rate }: ClipChoices,
  frames: number,
) {
  const middle = frames / rate / 2
  const { x, y } = at(middle)
  const crossing = { x, y: y + pick([-1, 1]) * radius * between(1, 3) }
  const velocity = { x: (pick([-1, 1]) * width) / between(1.5, 4), y: between(-40, 40) }
  return (time: number) => ({
    x: crossing.x + velocity.x * (time - middle),
    y: crossing.y + velocity.y * (time - middle),
  })
}

/** Returns what draws a person who walks through the picture, or a flag that waves in it. */
function companyOf(
  { between, chance }: Chooser,
  kind: Company,
  { width, height, rate }: ClipChoices,
  frames: number,
): (context: SKRSContext2D, time: number) => void {
  const seconds = frames / rate
  if (kind === 'flag') {
    const top = { x: width * between(0.05, 0.8), y: height * between(0.08, 0.25) }
    const wide = width * between(0.08, 0.14)
    return (context, time) => flag(context, top, wide, time)
  }
  const tall = height * between(0.45, 0.7)
  const [from, to] = [width * between(-0.1, 0.3), width * between(0.5, 1.1)]
  const isLeftwards = chance(0.5)
  return (context, time) => {
    const share = isLeftwards ? 1 - time / seconds : time / seconds
    walker(context, { x: from + share * (to - from), y: 0.95 * height }, tall, time)
  }
}

/** Returns a motion with a rest before it, or one that is run back once it is over. */
function withRests<Made extends Motion & { frames: number }>(made: Made, choices: ClipChoices): Made {
  const { rest, returns, rate } = choices
  if (rest === 0 && !returns) return made
  // Long enough beyond the edge of the picture to be gone.
  const end = (1.25 * made.frames) / rate
  const pose = (time: number) => {
    const after = Math.max(0, time - rest)
    return made.pose(returns ? end - Math.abs(end - after) : after)
  }
  const frames = Math.ceil((returns ? 2 * end : made.frames / rate) * rate + rest * rate)
  return { ...made, pose, frames }
}

type MakeMotion = (choose: Chooser, view: View, choices: ClipChoices) => Motion & { frames: number }

/** Metres of the scene from pixels of the picture. */
const inScene = ({ pixelsPerMetre, origin }: View, { x, y }: Vector): Vector => ({
  x: (x - origin.x) / pixelsPerMetre,
  y: (origin.y - y) / pixelsPerMetre,
})

const flight: MakeMotion = ({ between, chance }, view, { width, height, radius, rate }) => {
  const left = chance(0.5)
  const apex = inScene(view, { x: width * between(0.4, 0.6), y: radius + height * between(0.05, 0.25) })
  const start = inScene(view, { x: left ? -radius : width + radius, y: height * between(0.5, 0.95) })
  const rise = Math.sqrt((2 * (apex.y - start.y)) / G)
  const velocity = { x: (apex.x - start.x) / rise, y: G * rise }
  const spin = between(-14, 14)
  // Time counts from frame 0, at which it begins to come in.
  return {
    frames: Math.max(12, Math.ceil(1.95 * rise * rate)),
    slope: 0,
    truth: { vx: velocity.x, vy0: velocity.y, ay: -G },
    pose: (time) => ({
      x: start.x + velocity.x * time,
      y: start.y + velocity.y * time - (G / 2) * time * time,
      turn: spin * time,
      phase: 'flying',
    }),
  }
}

const MOTION: Record<MotionKind, MakeMotion> = {
  throw: flight,
  tumble: flight,
  fall: ({ between }, view, { width, height, radius, rate }) => {
    const start = inScene(view, { x: width * between(0.3, 0.7), y: radius + height * 0.03 })
    const end = inScene(view, { x: 0, y: height * between(0.85, 0.98) - radius })
    const release = between(0.1, 0.4)
    const spin = between(-6, 6)
    return {
      frames: Math.floor((release + Math.sqrt((2 * (start.y - end.y)) / G)) * rate),
      slope: 0,
      truth: { ay: -G, release },
      pose: (time) => {
        const after = Math.max(0, time - release)
        return {
          x: start.x,
          y: start.y - (G / 2) * after * after,
          turn: spin * after,
          phase: after > 0 ? 'falling' : 'held',
        }
      },
    }
  },
  roll: ({ between }, view, { width, height, radius, rate }) => {
    const slope = between(0.06, 0.25)
    const acceleration = (5 / 7) * G * Math.sin(slope)
    const start = inScene(view, { x: radius * 1.5, y: height * between(0.2, 0.35) })
    const way = (0.85 * width) / Math.cos(slope) / view.pixelsPerMetre
    const r = radius / view.pixelsPerMetre
    return {
      frames: Math.floor(Math.sqrt((2 * way) / acceleration) * rate),
      slope,
      truth: { ax: acceleration },
      pose: (time) => {
        const along = (acceleration / 2) * time * time
        return {
          x: start.x + along * Math.cos(slope),
          y: start.y - along * Math.sin(slope),
          turn: -along / r,
          phase: 'rolling',
        }
      },
    }
  },
  slide: ({ between }, view, { width, height, radius, rate }) => {
    const start = inScene(view, { x: 1.5 * radius, y: height * between(0.4, 0.8) })
    const way = (between(0.6, 0.8) * width) / view.pixelsPerMetre
    const deceleration = between(0.05, 0.35) * G
    const speed = Math.sqrt(2 * deceleration * way)
    return {
      frames: Math.floor((0.95 * speed * rate) / deceleration),
      slope: 0,
      truth: { ax: -deceleration },
      pose: (time) => ({
        x: start.x + speed * time - (deceleration / 2) * time * time,
        y: start.y,
        turn: 0,
        phase: 'sliding',
      }),
    }
  },
  swing: ({ between }, view, { height, radius, rate }) => {
    const pivot = inScene(view, { x: view.origin.x, y: 0.04 * height })
    const bob = inScene(view, { x: view.origin.x, y: height * between(0.6, 0.9) - radius })
    const length = pivot.y - bob.y
    const amplitude = between(0.08, 0.2)
    const gamma = between(0.01, 0.05)
    const omega = Math.sqrt(G / length)
    const phase = between(0, 6.28)
    return {
      frames: Math.ceil(((2 * Math.PI) / omega) * between(2, 4) * rate),
      slope: 0,
      truth: { omega, gamma },
      pose: (time) => {
        // The angle swings exactly harmonically: the clip states the law, not the pendulum.
        const angle = amplitude * Math.exp(-gamma * time) * Math.sin(omega * time + phase)
        return { x: pivot.x + length * angle, y: bob.y, turn: angle, phase: 'swinging' }
      },
    }
  },
}
