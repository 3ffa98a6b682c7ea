import type { Point } from '../geometry/index.ts'
import { edit, edits, type Investigation, type Mutator, newInvestigation } from '../investigation/index.ts'

/** Ids of the one body and its graphs in a made-up throw. */
export const THROWN = {
  body: '00000000-0000-4000-8000-000000000003',
  position: '00000000-0000-4000-8000-000000000004',
  velocity: '00000000-0000-4000-8000-000000000005',
}

/** Returns a made-up throw: 60 frames a second, a 1.40 m staff of 315 px, g = 9.81 m/s², marks placed by `place`. */
export function thrown(options: {
  frames?: number
  ticks?: number[]
  /** Where it is in metres, right and up of the origin, after so many seconds; a throw where left out. */
  motion?: (t: number) => Point
  place?: (point: Point) => Point
  placeEnd?: (point: Point) => Point
}): Investigation {
  const { frames = 50, place = (p) => p, placeEnd = (p) => p } = options
  const { motion = (t) => ({ x: 2.6 * t, y: 4.2 * t - (9.81 / 2) * t * t }) } = options
  const ticks = options.ticks ?? Array.from({ length: frames }, (_, i) => i * 256)
  const steps = ticks.slice(1).map((tick, i): [number, number] => [tick - ticks[i], 1])
  const pixelsPerMetre = 315 / 1.4
  const mutators: Mutator[] = [
    edits.setFootage({
      id: '00000000-0000-4000-8000-000000000001',
      name: 'throw.mp4',
      size: 1,
      width: 1280,
      height: 720,
      timeBase: { numerator: 1, denominator: 15360 },
      ticks: { first: ticks[0], runs: steps },
      rotation: 0,
      notedCaptureRate: null,
      converted: false,
    }),
    edits.addReference('00000000-0000-4000-8000-000000000002', [
      { ...placeEnd({ x: 760, y: 475 }), frame: 0 },
      { ...placeEnd({ x: 760, y: 160 }), frame: 0 },
    ]),
    edits.changeReference('00000000-0000-4000-8000-000000000002', { length: 1.4 }),
    edits.setAxes({ origin: { x: 238, y: 560, frame: 0 } }),
    edits.addBody(THROWN.body, { position: THROWN.position, velocity: THROWN.velocity }),
    ...ticks.map((tick, frame) => {
      const { x, y } = motion((tick - ticks[0]) / 15360)
      const mark = { x: 238 + pixelsPerMetre * x, y: 560 - pixelsPerMetre * y }
      return edits.setMark(THROWN.body, frame, place(mark))
    }),
  ]
  const whole: Mutator = (draft) => {
    for (const mutator of mutators) mutator(draft)
  }
  return edit(newInvestigation('A made-up throw'), whole).document
}
