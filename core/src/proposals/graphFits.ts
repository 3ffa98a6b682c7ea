import { analyse } from '../analysis/index.ts'
import { fitColumn, type NamedReading } from '../fitting/index.ts'
import {
  edits,
  type Investigation,
  inOrder,
  type ModelId,
  type Mutator,
  TIME,
} from '../investigation/index.ts'
import {
  columnSample,
  ExpressionError,
  type MotionTable,
  type Range,
  turningPoints,
} from '../motion/index.ts'
import { FitError } from '../regression/index.ts'
import { isRefusedStretch, isSameStretch, stretchesOn } from './bodyProposals.ts'
import { FEWEST_OF_STRETCH, type ProposedStretch } from './stretches.ts'

/** A stretch with a fit that is proposed for the graphs of a body. */
export interface ProposedFit {
  stretch: ProposedStretch
  quantity: string
  xQuantity: string
  model: ModelId
}

/** Standard errors from which a damping counts. */
const DAMPED = 3
/** Largest spread of the distances from the origin, as a share of their mean, of something that swings about it. */
const ABOUT_ORIGIN = 0.03
/** Swings wider than this, to each side in radians (20°), are those of a pendulum and not of a spring. */
const WIDE = Math.PI / 9

/**
 * Returns the fits that are proposed for the stretches of a body, by time, in the frames in use: on the coordinate that the motion asks
 * for; nothing where a stretch is one of a graph already or was refused, or where the model can't be fitted.
 *
 * @param found all stretches of the body, `bodyProposals`
 */
export function proposedFits(
  investigation: Investigation,
  body: string,
  found: readonly ProposedStretch[],
): ProposedFit[] {
  const { span } = investigation
  const taken = stretchesOn(investigation, body)
  const table = analyse(investigation).table(body)
  return found.flatMap((stretch) => {
    const from = Math.max(stretch.from, span.first)
    const to = Math.min(stretch.to, span.last)
    const used = { ...stretch, from, to }
    const marks = table.frames.filter((frame) => frame >= from && frame <= to).length
    if (marks < FEWEST_OF_STRETCH || isRefusedStretch(investigation, body, stretch)) return []
    // What is fitted can be a part of the stretch, and it is that part that is taken or refused.
    const isAnswered = (one: Range) =>
      isRefusedStretch(investigation, body, one) || taken.some((other) => isSameStretch(one, other))
    if (isAnswered(used)) return []
    const fit = fitOf(table, used)
    return fit && !isAnswered(fit.stretch) ? fit : []
  })
}

/** Returns the fit that a stretch asks for; null if it can't be made. */
function fitOf(table: MotionTable, stretch: ProposedStretch): ProposedFit | null {
  try {
    if (stretch.law === 'oscillation') return swingFit(table, stretch)
    const model = stretch.law
    const quantity = directionOf(table, stretch, model === 'uniform' ? 1 : 2)
    return { stretch, quantity, xQuantity: TIME, model }
  } catch (error) {
    if (error instanceof FitError || error instanceof ExpressionError) return null
    throw error
  }
}

/** Returns the axis along which a polynomial's leading coefficient is larger. */
function directionOf(table: MotionTable, range: Range, degree: 1 | 2): 'x' | 'y' {
  const [x, y] = (['x', 'y'] as const).map((along) =>
    Math.abs(columnSample(table, along, range).fit(degree).coefficients[degree]),
  )
  return x > y ? 'x' : 'y'
}

/** Returns the fit of something that goes to and fro: about the origin by its angle, and by its phase plot if it swings wide. */
function swingFit(table: MotionTable, stretch: ProposedStretch): ProposedFit {
  const valuesOf = (quantity: string) => columnSample(table, quantity, stretch).values
  const spread = (values: number[]) => Math.max(...values) - Math.min(...values)
  const [x, y] = [valuesOf('x'), valuesOf('y')]
  const distances = x.map((value, i) => Math.hypot(value, y[i]))
  const mean = distances.reduce((sum, one) => sum + one, 0) / distances.length
  if (spread(distances) > ABOUT_ORIGIN * mean) {
    const quantity = spread(x) > spread(y) ? 'x' : 'y'
    return { stretch, quantity, xQuantity: TIME, model: swingModel(table, quantity, stretch) }
  }
  const angles = columnSample(table, 'theta', stretch)
  if (spread(angles.values) / 2 < WIDE)
    return { stretch, quantity: 'theta', xQuantity: TIME, model: swingModel(table, 'theta', stretch) }
  // Once from side to side, before it has lost much of its swing.
  const turns = turningPoints(angles.values).map((i) => table.frames[angles.rows[i]])
  const begin = stretch.begins === 'rest' ? stretch.from : (turns[0] ?? stretch.from)
  const end = turns.find((frame) => frame > begin) ?? stretch.to
  return {
    stretch: { ...stretch, from: begin, to: end },
    quantity: 'omega',
    xQuantity: 'theta',
    model: 'pendulum-loop',
  }
}

/** Returns the model of a swing: damped if that can be told. */
function swingModel(table: MotionTable, quantity: string, range: Range): ModelId {
  const damped = fitColumn(table, quantity, range, { model: 'damped-swing' })
  const decay = damped.readings.find(({ key }) => key === 'decay')
  return decay && Math.abs(decay.value) > DAMPED * decay.error ? 'damped-swing' : 'swing'
}

/** A velocity that changes by less than this share of itself along a stretch is what is wanted of it, and not how it changes. */
const STEADY = 0.5

/**
 * Returns the reading that a proposed fit is for: where a nearly steady motion changes at once, as in a collision, the velocity on that
 * side; otherwise what its model tells first.
 */
export function proposedReading(
  { stretch, model }: ProposedFit,
  readings: readonly NamedReading[],
): NamedReading {
  const [first] = readings
  const [start, end] = ['start-velocity', 'end-velocity'].map((key) => readings.find(({ id }) => id === key))
  if (model !== 'uniform-acceleration' || !start || !end) return first
  const change = Math.abs(end.value - start.value)
  if (change > STEADY * Math.max(Math.abs(start.value), Math.abs(end.value))) return first
  if (stretch.ends === 'abrupt') return end
  return stretch.begins === 'abrupt' ? start : first
}

/** Names of what taking a proposed fit adds. */
export interface FitIds {
  graph: string
  stretch: string
  fit: string
}

/** Takes a proposed fit: lays its stretch on the graph of its quantity, which is added if there is none, and fits it. */
export function takeFit(
  body: string,
  { stretch, quantity, xQuantity, model }: ProposedFit,
  ids: FitIds,
): Mutator {
  return (draft) => {
    const shown = inOrder(draft.graphs).find(
      ([, graph]) =>
        graph.body === body &&
        graph.quantity === quantity &&
        graph.xQuantity === xQuantity &&
        graph.axes === null,
    )
    const graph = shown?.[0] ?? ids.graph
    if (!shown) edits.addGraph(graph, body, quantity, xQuantity)(draft)
    edits.addStretch(ids.stretch, graph, stretch.from, stretch.to)(draft)
    edits.addFit(ids.fit, ids.stretch, model)(draft)
  }
}
