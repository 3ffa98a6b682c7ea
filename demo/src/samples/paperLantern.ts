import type { SKRSContext2D } from '@napi-rs/canvas'
import { bunting, lantern, sky, stall, tideStaff, vignette, water, weathering } from '../scenery.ts'
import { inPicture, type Pose, type Sample, type View } from './sample.ts'

const WIDTH = 540
const HEIGHT = 720
/** Where the swinging dies away: amplitude in metres, its decay per second, and the angular frequency. */
const AMPLITUDE = 0.2
const DECAY = 0.065
const FREQUENCY = (2 * Math.PI) / 1.46
/** Seconds at which the hand lets go. */
const RELEASE = 0.52
/** The scene's origin is the lantern's place of rest. */
const view: View = { pixelsPerMetre: 640, origin: { x: 252, y: 420 } }
const BEAM = 64

function pose(time: number): Pose {
  const after = time - RELEASE
  if (after < 0) return { x: 0, y: -AMPLITUDE, turn: 0, phase: 'held' }
  // Let go at rest: the phase makes the velocity zero at the start.
  const shift = Math.atan(DECAY / FREQUENCY)
  const swing = Math.cos(FREQUENCY * after - shift) / Math.cos(shift)
  return { x: 0, y: -AMPLITUDE * Math.exp(-DECAY * after) * swing, turn: 0, phase: 'bobbing' }
}

function spring(context: SKRSContext2D, bottom: number) {
  const { x } = view.origin
  const coils = 17
  context.strokeStyle = '#3c4044'
  context.lineWidth = 2.6
  context.beginPath()
  context.moveTo(x, BEAM)
  for (let i = 0; i <= coils; i++) {
    const y = BEAM + 14 + ((bottom - BEAM - 28) * (i + 0.5)) / (coils + 1)
    context.lineTo(x + (i % 2 ? 12 : -12), y)
  }
  context.lineTo(x, bottom)
  context.stroke()
}

const staff = { x: 396, top: 420 - 160, bottom: 420 + 160 }

/** A paper lantern that bobs on a spring for twenty seconds, filmed upright. */
export const paperLantern: Sample = {
  id: 'paper-lantern',
  title: 'Paper lantern',
  about: 'Bobs on a spring for twenty seconds, filmed upright. A damped oscillation.',
  width: WIDTH,
  height: HEIGHT,
  rate: 24,
  frames: 492,
  shutter: 0.5,
  noise: 1.5,
  quality: 27,
  exposures: 6,
  view,
  poster: 30,
  constants: { amplitude: AMPLITUDE, decay: DECAY, angularFrequency: FREQUENCY, releaseTime: RELEASE },
  reference: {
    name: 'staff',
    ends: [
      { x: staff.x, y: staff.bottom },
      { x: staff.x, y: staff.top },
    ],
    length: (staff.bottom - staff.top) / view.pixelsPerMetre,
  },
  bodies: [{ name: 'lantern', pose }],
  still: (context) => {
    const beam = (canvas: SKRSContext2D) => {
      canvas.fillStyle = '#5d472f'
      canvas.fillRect(0, BEAM - 34, WIDTH, 34)
      canvas.fillStyle = 'rgba(20,12,4,0.4)'
      canvas.fillRect(0, BEAM - 8, WIDTH, 8)
    }
    const painters = [
      sky(WIDTH, 470, 41),
      water(WIDTH, 466, HEIGHT, 42),
      stall(-60, 700, 190, '#2f6f68', '#6d7a64', 44),
      bunting(-20, 120, 560, 150, 22),
      beam,
      tideStaff(staff.x, staff.top, staff.bottom, 13, 10),
      weathering(WIDTH, HEIGHT, 43),
      vignette(WIDTH, HEIGHT),
    ]
    for (const paint of painters) paint(context)
  },
  moving: (context, time) => {
    const at = inPicture(view, pose(time))
    spring(context, at.y - 54)
    lantern(context, at)
  },
}
