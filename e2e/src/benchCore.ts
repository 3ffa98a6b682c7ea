import { analyse } from '@apokinema/core/analysis'
import {
  type Edited,
  edit,
  edits,
  type Investigation,
  type Mutator,
  newInvestigation,
} from '@apokinema/core/investigation'
import { matching } from '@apokinema/core/testing/matching'

/** How fast core reckons, for `npm run bench -- core`: in Node.js, which runs it as a browser's worker does. */

const BODIES = 10
const FRAMES = 10_000

/** Ten bodies that swing, marked in ten thousand frames. */
function swinging(): Investigation {
  const whole: Mutator = (draft) => {
    edits.setFootage({
      id: crypto.randomUUID(),
      name: 'long.mp4',
      size: 1,
      width: 1280,
      height: 720,
      rotation: 0,
      timeBase: { numerator: 1, denominator: 15360 },
      ticks: { first: 0, runs: [[256, FRAMES - 1]] },
      notedCaptureRate: null,
      converted: false,
    })(draft)
    for (let body = 0; body < BODIES; body++) {
      const id = crypto.randomUUID()
      edits.addBody(id, { position: crypto.randomUUID(), velocity: crypto.randomUUID() })(draft)
      const { marks } = draft.bodies[id]
      for (let frame = 0; frame < FRAMES; frame++)
        marks[frame] = {
          x: 640 + 400 * Math.sin(frame / 40 + body),
          y: 300 + 20 * Math.cos(frame / 20),
          by: 'hand',
        }
    }
  }
  const { document }: Edited = edit(newInvestigation('Long'), whole)
  return document
}

export function benchCore(note: (what: string, value: string) => void): void {
  const investigation = swinging()
  const derivation = { method: 'cubic', reach: 4, weighted: false } as const
  const took: number[] = []
  for (let repeat = 0; repeat < 5; repeat++) {
    // Another document each time, as after an edit: what was computed of the same one is kept.
    const edited = { ...investigation, bodies: { ...investigation.bodies } }
    const began = performance.now()
    for (const body of Object.keys(edited.bodies)) {
      const table = analyse(edited).table(body, { derivation })
      for (const quantity of ['x', 'y', 'vx', 'vy', 'ax', 'ay']) table.column(quantity)
    }
    took.push(performance.now() - began)
  }
  note(
    `motion tables of ${BODIES} bodies x ${FRAMES} frames, cubic over 9 points`,
    `${took.sort((a, b) => a - b)[2].toFixed(0)} ms`,
  )
  const match = matching()
  const each: number[] = []
  for (let repeat = 0; repeat < 7; repeat++) {
    const began = performance.now()
    match(100)
    each.push((performance.now() - began) / 100)
  }
  note(
    'a match of a patch of 24 x 24 in a reach of 128 x 128',
    `${each.sort((a, b) => a - b)[3].toFixed(2)} ms`,
  )
}
