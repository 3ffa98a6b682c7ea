import {
  type BlockContent,
  edit,
  edits,
  type Footage,
  type Investigation,
  type Mutator,
  newInvestigation,
} from '../investigation/index.ts'

export const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`
export const footage: Footage = {
  id: id(1),
  name: 'net-float.mp4',
  size: 1000,
  width: 1280,
  height: 720,
  timeBase: { numerator: 1, denominator: 15360 },
  ticks: { first: 0, runs: [[256, 119]] },
  rotation: 0,
  notedCaptureRate: null,
  converted: false,
}

/** Returns a block with a graph of a report. */
export const graphBlock = (graph: string) =>
  ({
    kind: 'graph',
    graph,
    width: 1,
    ratio: 0.6,
    title: null,
    fits: true,
    errorBars: null,
    rangeX: { from: null, to: null },
    rangeY: { from: null, to: null },
    caption: null,
    alternative: null,
  }) satisfies BlockContent

export function build(...mutators: Mutator[]): Investigation {
  return mutators.reduce(
    (document, mutator) => edit(document, mutator).document,
    newInvestigation('Net float'),
  )
}

export const full = () =>
  build(
    edits.setFootage(footage),
    edits.setSpan({ first: 10, last: 60, every: 2 }),
    edits.addReference(id(2), [
      { x: 10, y: 400, frame: 10 },
      { x: 10, y: 85, frame: 10 },
    ]),
    edits.changeReference(id(2), { length: 1.4, name: 'tide staff' }),
    edits.setAxes({ origin: { x: 100, y: 500, frame: 10 }, tilt: 0.1 }),
    edits.addBody(id(3), { position: id(4), velocity: id(5) }),
    edits.setMark(id(3), 10, { x: 1.5, y: 2.5 }),
    edits.setMark(id(3), 12, { x: 4, y: 6 }),
    edits.addStretch(id(6), id(4), 40, 12),
    edits.addFit(id(7), id(6), 'uniform-acceleration'),
  )
