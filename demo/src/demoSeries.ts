import { edit, edits, type Investigation, type Mutator, together } from '@apokinema/core/investigation'
import { newSeries, type Series, seriesEdits, setUpLike, type TrialView } from '@apokinema/core/series'
import type { Truth } from './film.ts'
import { CART_ON_PLANK } from './series/cartOnPlank.ts'
import { steadyHand } from './steadyHand.ts'

/** How the camera moved between the demo's trials: it stood still, as far as can be told. */
const STILL = { kind: 'same', farthest: 0.04, error: 0.03 } as const
const SCHOOL_G = 9.81

/** Returns a fixed id of a thing in a series and in its trials. */
type Id = (thing: number) => string

/** Ids of things that all trials have. */
const things = (id: Id) => ({
  reference: id(1),
  body: id(2),
  position: id(3),
  velocity: id(4),
  stretch: id(5),
  fit: id(6),
})

/** Returns the edit that measures the first cart: reference, axes along the plank, marks, and the fit that gives its acceleration. */
export function measuredCart(id: Id, truth: Truth): Mutator {
  const { reference, body, position, velocity, stretch, fit } = things(id)
  const placed = steadyHand(31, 0.1)
  const [low, high] = truth.reference.ends
  return together(
    edits.addReference(reference, [
      { ...placed(low), frame: 0 },
      { ...placed(high), frame: 0 },
    ]),
    edits.changeReference(reference, {
      name: truth.reference.name,
      length: truth.reference.length,
      lengthError: 0.002,
    }),
    edits.addBody(body, { position, velocity }, 'Cart'),
    edits.changeGraph(position, { quantity: 'x' }),
    edits.addStretch(stretch, position, 0, 1),
    edits.addFit(fit, stretch, 'uniform-acceleration'),
    motionOf(id, truth, 32),
  )
}

/** Returns the edit that sets up another trial like the first one and measures it. */
export function measuredLike(pattern: Investigation, id: Id, truth: Truth, seed: number): Mutator {
  return together(setUpLike(pattern, { kind: 'same' }), motionOf(id, truth, seed))
}

/** Returns the edit that lays the axes along a cart's plank, marks it, and places the stretch where it rolls. */
function motionOf(id: Id, { bodies, origin, constants }: Truth, seed: number): Mutator {
  const { body, stretch } = things(id)
  const hand = steadyHand(seed)
  const [{ frames }] = bodies
  const rolling = frames.filter(({ phase }) => phase === 'rolling')
  const [first, last] = [rolling[1].frame, rolling[rolling.length - 2].frame]
  return together(
    edits.setAxes({ origin: { ...origin, frame: 0 }, tilt: -constants.slope }),
    ...rolling.map(({ frame, x, y }) => edits.setMark(body, frame, hand({ x, y }))),
    edits.changeStretch(stretch, first, last),
  )
}

/** Returns the series of the carts: the angle that was typed, the acceleration, and the line of it against the sine of the angle. */
export function cartSeries(id: Id, trials: readonly { id: string; angle: number }[]): Series {
  const [angle, acceleration, sine, graph, line] = [11, 12, 13, 14, 15].map(id)
  const [condition] = CART_ON_PLANK.conditions
  const [first] = trials
  const viewOf = (i: number): TrialView | null => (i === 0 ? null : { ...STILL, of: first.id })
  const mutators = [
    seriesEdits.setAxesRule('along-motion'),
    seriesEdits.setColumn(angle, {
      name: condition.name,
      symbol: condition.symbol,
      unit: condition.unit,
      content: { kind: 'number', error: condition.error },
    }),
    seriesEdits.setColumn(acceleration, {
      name: 'Acceleration',
      symbol: 'a',
      unit: '',
      content: { kind: 'reading', source: { of: 'reading', fit: things(id).fit, reading: '' } },
    }),
    seriesEdits.setColumn(sine, {
      name: 'sin θ',
      symbol: 's',
      unit: '',
      content: { kind: 'expression', expression: 'sin(theta)' },
    }),
    ...trials.flatMap((trial, i) => [
      seriesEdits.addTrial(trial.id, viewOf(i)),
      seriesEdits.setTyped(trial.id, angle, { kind: 'number', value: trial.angle, error: condition.error }),
    ]),
    seriesEdits.setGraph(graph, { x: sine, y: acceleration, title: '' }),
    seriesEdits.addFit(line, graph, 'uniform'),
    seriesEdits.setFit(line, {
      expected: { reading: '', against: { kind: 'value', value: SCHOOL_G, error: 0, label: 'g' } },
    }),
  ]
  return mutators.reduce((series, mutator) => edit(series, mutator).document, newSeries(CART_ON_PLANK.title))
}
