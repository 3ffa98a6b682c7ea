import type { SKRSContext2D } from '@napi-rs/canvas'
import { boat, bunting, quay, sky, stall, tideStaff, vignette, water, weathering } from '../scenery.ts'
import { inPicture, type Pose, type Sample, type Vector, type View } from './sample.ts'

const WIDTH = 960
const HEIGHT = 540
const FRAMES = 120
const RATE = 30
/** The whole quay, of which the camera sees a part that grows. */
const STAGE = { width: 1760, height: 990 }
/** Metres a second squared that the winch gives the lantern, and when it begins to turn. */
const ACCELERATION = 0.42
const START = 0.5
/** Pixels of the stage; the camera begins with one of its own pixels for each. */
const view: View = { pixelsPerMetre: 200, origin: { x: 860, y: 820 } }
const MASTS: Vector[] = [
  { x: 470, y: 478 },
  { x: 1130, y: 520 },
]
const STAFF = { x: 1050, top: 480, bottom: 880 }
const GROUND = 860

function pose(time: number): Pose {
  const after = Math.max(0, time - START)
  return { x: 0, y: 0.5 * ACCELERATION * after * after, turn: 0, phase: after > 0 ? 'hoisted' : 'held' }
}

/** Returns what the camera does: it zooms out from 1 to 0.55 and pans upwards, as somebody does who keeps the lantern in view. */
function camera(time: number) {
  const share = (1 - Math.cos(Math.PI * Math.min(1, Math.max(0, time / ((FRAMES - 1) / RATE))))) / 2
  const zoom = 1 / (1 + (1 / 0.55 - 1) * share)
  return { zoom, middle: { x: 760 + 120 * share, y: 690 - 195 * share } }
}

/** Returns a mast with a bright ball on its tip. */
function mast(tip: Vector, foot: number) {
  return (context: SKRSContext2D) => {
    context.fillStyle = '#4a3a28'
    context.fillRect(tip.x - 4, tip.y, 8, foot - tip.y)
    context.fillStyle = '#f4efe2'
    context.strokeStyle = '#2a2018'
    context.lineWidth = 3
    context.beginPath()
    context.arc(tip.x, tip.y, 9, 0, 7)
    context.fill()
    context.stroke()
  }
}

/** Draws the winch's crane, from whose arm the rope hangs. */
function crane(context: SKRSContext2D) {
  context.fillStyle = '#3e4a4d'
  context.fillRect(view.origin.x - 260, 60, 18, GROUND - 60)
  context.fillRect(view.origin.x - 260, 60, 300, 16)
}

function lantern(context: SKRSContext2D, at: Vector) {
  context.strokeStyle = '#2e2a24'
  context.lineWidth = 2.4
  context.beginPath()
  context.moveTo(at.x, 70)
  context.lineTo(at.x, at.y - 34)
  context.stroke()
  context.save()
  context.translate(at.x, at.y)
  const paper = context.createRadialGradient(-8, -8, 4, 0, 0, 36)
  paper.addColorStop(0, '#ffd98a')
  paper.addColorStop(0.6, '#e0953a')
  paper.addColorStop(1, '#9b5a1f')
  context.fillStyle = paper
  context.beginPath()
  context.ellipse(0, 0, 30, 27, 0, 0, 7)
  context.fill()
  context.fillStyle = '#5a3a1c'
  context.fillRect(-11, -34, 22, 9)
  context.fillRect(-10, 25, 20, 7)
  context.fillStyle = '#fffaf0'
  context.beginPath()
  context.arc(0, 0, 5, 0, 7)
  context.fill()
  context.restore()
}

const seen = (point: Vector): Vector => {
  const { zoom, middle } = camera(0)
  return { x: WIDTH / 2 + zoom * (point.x - middle.x), y: HEIGHT / 2 + zoom * (point.y - middle.y) }
}

/** A lantern that is hoisted with a stated acceleration while the camera zooms out and pans. */
export const hoistedLantern: Sample = {
  id: 'hoisted-lantern',
  title: 'Hoisted lantern',
  about: 'Hoisted faster and faster while the camera zooms out and pans. Two mast tips undo the camera.',
  width: WIDTH,
  height: HEIGHT,
  rate: RATE,
  frames: FRAMES,
  shutter: 0.5,
  noise: 1.6,
  quality: 25,
  exposures: 6,
  view,
  poster: 66,
  stage: STAGE,
  camera,
  landmarks: MASTS.map((at, i) => ({ name: i === 0 ? 'left mast' : 'right mast', at })),
  constants: { acceleration: ACCELERATION, startTime: START, zoomAtEnd: 0.55 },
  reference: {
    name: 'staff',
    ends: [seen({ x: STAFF.x, y: STAFF.bottom }), seen({ x: STAFF.x, y: STAFF.top })],
    length: (STAFF.bottom - STAFF.top) / view.pixelsPerMetre,
  },
  bodies: [{ name: 'lantern', pose }],
  still: (context) => {
    const { width, height } = STAGE
    const painters = [
      sky(width, 640, 51),
      water(width, 636, GROUND, 52),
      boat(330, 700, 120),
      boat(1380, 690, 150),
      quay(width, GROUND, height, 53),
      mast(MASTS[0], GROUND),
      mast(MASTS[1], GROUND),
      stall(60, GROUND, 240, '#8c3f36', '#77604a', 54),
      stall(1460, GROUND, 240, '#2f6f68', '#6d7a64', 55),
      bunting(-20, 330, 1780, 360, 40),
      crane,
      tideStaff(STAFF.x, STAFF.top, STAFF.bottom, 14, 10),
      weathering(width, height, 56),
      vignette(width, height),
    ]
    for (const paint of painters) paint(context)
  },
  moving: (context, time) => lantern(context, inPicture(view, pose(time))),
}
