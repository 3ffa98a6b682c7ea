import { analyse } from '../analysis/index.ts'
import { type AxisDescription, type Plotted, piecesOf, type SeriesDescription } from '../graphs/index.ts'
import type { Investigation } from '../investigation/index.ts'
import { unitFactor } from '../units/index.ts'
import type { Alignment, SeriesMotion } from './document/series.ts'
import type { TableTrial } from './seriesTable.ts'

/** Why the motion of a trial is not drawn: it has no such graph against time, nothing to draw, or no moment to align at. */
export type MotionTrouble = 'no-graph' | 'no-points' | 'no-moment'

/** The motion of a trial as it is drawn over those of others. */
export interface AlignedMotion {
  trial: TableTrial
  /** Time of the trial, in seconds, that is drawn at t = 0. */
  zero: number
  /** Axis of the quantity, and the quantity itself as the trial's graph shows it. */
  y: AxisDescription
  drawn: SeriesDescription
  /** The points of the graph; x is in seconds from the moment at which the trials are aligned. */
  points: Plotted[]
}

/** A trial whose motion can't be drawn, and why. */
export interface MotionLeftOut {
  trial: TableTrial
  trouble: MotionTrouble
}

/** Returns the motions of trials shifted so that the same moment of each is at t = 0, and the trials that have none. */
export function alignedMotions(
  trials: readonly TableTrial[],
  motion: Pick<SeriesMotion, 'graph' | 'alignment'>,
): { motions: AlignedMotion[]; without: MotionLeftOut[] } {
  const motions: AlignedMotion[] = []
  const without: MotionLeftOut[] = []
  for (const trial of trials) {
    const aligned = trial.document ? alignedMotion(trial, trial.document, motion) : 'no-graph'
    if (typeof aligned === 'string') without.push({ trial, trouble: aligned })
    else motions.push(aligned)
  }
  return { motions, without }
}

function alignedMotion(
  trial: TableTrial,
  document: Investigation,
  { graph: id, alignment }: Pick<SeriesMotion, 'graph' | 'alignment'>,
): AlignedMotion | MotionTrouble {
  const graph = document.graphs[id]
  const description = graph ? analyse(document).graph(graph) : null
  if (!description?.isTime) return 'no-graph'
  const [drawn] = description.series
  if (!drawn || drawn.points.length === 0) return 'no-points'
  const zero = momentOf(document, id, drawn, description.y, alignment)
  if (zero === null) return 'no-moment'
  const { times } = drawn.table
  const points = drawn.points.map((point) => ({ ...point, x: times[point.row] - zero }))
  return { trial, zero, y: description.y, drawn, points }
}

/** Returns the time, in seconds, of the moment at which a trial is aligned; null if it has none. */
function momentOf(
  document: Investigation,
  graph: string,
  drawn: SeriesDescription,
  y: AxisDescription,
  alignment: Alignment,
): number | null {
  const { times, frames, breaks } = drawn.table
  const timeOfFrame = (frame: number) => {
    const row = frames.indexOf(frame)
    return row < 0 ? null : times[row]
  }
  switch (alignment.kind) {
    case 'film':
      return 0
    case 'level':
      return crossingOf(drawn, alignment.level / unitFactor(y.unit))
    case 'release': {
      const [first] = stretchesOn(document, graph)
      return first ? timeOfFrame(firstMarked(frames, first.from, first.to)) : null
    }
    case 'impact': {
      const stretches = stretchesOn(document, graph)
      const [first] = stretches
      if (!first) return null
      const row = [...breaks].sort((a, b) => a - b).find((one) => frames[one] > first.from)
      if (row !== undefined) return (times[row - 1] + times[row]) / 2
      const last = stretches[stretches.length - 1]
      return timeOfFrame(lastMarked(frames, last.from, last.to))
    }
  }
}

/** Returns the stretches on a graph in the order in which they begin. */
function stretchesOn({ stretches }: Investigation, graph: string) {
  return Object.values(stretches)
    .filter((stretch) => stretch.graph === graph)
    .sort((a, b) => a.from - b.from)
}

/** Returns the first marked frame of some; −1 if none of them is marked. */
const firstMarked = (frames: readonly number[], from: number, to: number) =>
  frames.find((frame) => frame >= from && frame <= to) ?? -1

/** Returns the last marked frame of some; −1 if none of them is marked. */
const lastMarked = (frames: readonly number[], from: number, to: number) =>
  frames.findLast((frame) => frame >= from && frame <= to) ?? -1

/** Returns the time, in seconds, at which a quantity crosses a value first, on the straight line between two points; null if it never does. */
function crossingOf(drawn: SeriesDescription, level: number): number | null {
  const { times } = drawn.table
  for (const piece of piecesOf(drawn, drawn.points))
    for (let i = 1; i < piece.length; i++) {
      const [before, after] = [piece[i - 1], piece[i]]
      if (before.y === level) return times[before.row]
      if ((before.y - level) * (after.y - level) > 0) continue
      const share = (level - before.y) / (after.y - before.y)
      return times[before.row] + share * (times[after.row] - times[before.row])
    }
  return null
}
