import type { SKRSContext2D } from '@napi-rs/canvas'
import { inPicture, type Pose, type Sample, type View } from '../samples/index.ts'
import { bunting, lantern, quay, sky, stall, tideStaff, vignette, water, weathering } from '../scenery.ts'
import type { SampleSeries } from './sampleSeries.ts'

const WIDTH = 540
const HEIGHT = 960
const G = 9.81
/** Masses in kilograms: of the empty lantern, and of each lead that is hung below it. */
const EMPTY = 0.006
const LEAD = 0.004
/** Air resistance over the square of the speed, in kilograms a metre: half density, drag coefficient and area of a wide paper lantern. */
const DRAG = 0.07
/** The scene's origin is where the lantern is let go. */
const view: View = { pixelsPerMetre: 200, origin: { x: 236, y: 92 } }
const GROUND = 896
/** Height of the lantern's middle above its lowest lead. */
const HANGING = 0.5
const FALL = (GROUND - view.origin.y) / view.pixelsPerMetre - HANGING
const staff = { x: 430, top: GROUND - 600, bottom: GROUND }

/** Returns a paper lantern that is let go from a window with some leads below it, as one trial of the series. */
function lanternTrial(leads: number, release: number): Sample {
  const mass = EMPTY + leads * LEAD
  const terminal = Math.sqrt((mass * G) / DRAG)
  /** Metres fallen since the release: of m v′ = m g − k v². */
  const fallenAfter = (after: number) =>
    Math.min(FALL, (terminal ** 2 / G) * Math.log(Math.cosh((G * Math.max(0, after)) / terminal)))
  const pose = (time: number): Pose => {
    const fallen = fallenAfter(time - release)
    const phase = time < release ? 'held' : fallen < FALL ? 'falling' : 'landed'
    return { x: 0, y: -fallen, turn: 0, phase }
  }
  const falling = (context: SKRSContext2D, time: number) => {
    const at = inPicture(view, pose(time))
    lantern(context, at)
    context.fillStyle = '#4a4f55'
    context.fillRect(at.x - 21, at.y + 83, 42, 2)
    for (let lead = 0; lead < leads; lead++) {
      context.beginPath()
      context.ellipse(at.x - 18 + 9 * lead, at.y + 92, 4, 7, 0, 0, 7)
      context.fill()
    }
  }
  return {
    id: `lantern-with-${leads}`,
    title: leads === 1 ? 'Lantern with 1 lead' : `Lantern with ${leads} leads`,
    about: 'A paper lantern falls from a window: one of five loads.',
    width: WIDTH,
    height: HEIGHT,
    rate: 30,
    frames: 112,
    shutter: 0.4,
    noise: 1.6 + leads / 10,
    quality: 25,
    view,
    poster: 36,
    constants: { g: G, mass, drag: DRAG, terminalSpeed: terminal, releaseTime: release },
    reference: {
      name: 'tide staff',
      ends: [
        { x: staff.x, y: staff.bottom },
        { x: staff.x, y: staff.top },
      ],
      length: (staff.bottom - staff.top) / view.pixelsPerMetre,
    },
    bodies: [{ name: 'lantern', pose }],
    still: (context) => {
      const painters = [
        sky(WIDTH, 640, 71),
        water(WIDTH, 636, 820, 72),
        quay(WIDTH, 816, HEIGHT, 73),
        stall(-50, 872, 180, '#48707c', '#77624a', 74),
        bunting(-20, 330, 560, 360, 18),
        tideStaff(staff.x, staff.top, staff.bottom, 13, 15),
        weathering(WIDTH, HEIGHT, 76),
        vignette(WIDTH, HEIGHT),
      ]
      for (const paint of painters) paint(context)
    },
    moving: falling,
  }
}

/** Paper lanterns with one to five leads: the square of the terminal speed against the load is a line with the lantern's own weight. */
export const LOADED_LANTERNS: SampleSeries = {
  id: 'loaded-lanterns',
  title: 'Lanterns with one to five leads',
  about: 'They soon fall at a constant speed: how does it depend on the load?',
  conditions: [{ name: 'leads', symbol: 'n', unit: '', error: 0 }],
  trials: [0.31, 0.42, 0.37, 0.45, 0.28].map((release, i) => ({
    sample: lanternTrial(i + 1, release),
    typed: [i + 1],
  })),
}
