import { edit, edits, type Investigation } from '../investigation/index.ts'
import { normalSource, randomSource } from '../random/index.ts'
import { newSeries, type Series, seriesEdits } from '../series/index.ts'
import { id } from './built.ts'
import { THROWN, thrown } from './thrown.ts'

/** Ids in a made-up series of a barrel on a plank. */
export const PLANK = {
  stretch: id(20),
  fit: id(21),
  angle: id(30),
  acceleration: id(31),
  sine: id(32),
  surface: id(33),
  graph: id(40),
  line: id(41),
}

/** Truth of the series: g in m/s², and what friction takes off in m/s². */
export const PLANK_TRUTH = { g: 9.81, friction: 0.35 }

/** Returns the id of a trial. */
export const trialId = (n: number) => id(100 + n)

/**
 * Returns a trial in which something slides down a plank along x from rest: frames at 60 a second, 30 of them, with marks that scatter.
 *
 * @param angle in degrees
 * @param noise standard deviation of the marks along each direction, in pixels
 * @param end by how many pixels the reference's upper end is misplaced
 */
export function plankTrial(
  angle: number,
  seed: number,
  { noise = 0.4, end = 0, frames = 30 } = {},
): Investigation {
  const normal = normalSource(randomSource(seed))
  const acceleration = PLANK_TRUTH.g * Math.sin((angle * Math.PI) / 180) - PLANK_TRUTH.friction
  const document = thrown({
    frames,
    motion: (t) => ({ x: (acceleration / 2) * t * t, y: 0 }),
    place: ({ x, y }) => ({ x: x + noise * normal(), y: y + noise * normal() }),
    placeEnd: ({ x, y }) => ({ x, y: y < 200 ? y + end : y }),
  })
  const withFit = [
    edits.changeGraph(THROWN.position, { quantity: 'x' }),
    edits.addStretch(PLANK.stretch, THROWN.position, 0, frames - 1),
    edits.addFit(PLANK.fit, PLANK.stretch, 'uniform-acceleration'),
  ]
  return withFit.reduce((before, mutator) => edit(before, mutator).document, document)
}

/**
 * Returns a series of trials with the angle typed, acceleration and sine as columns, and a line of the one against the other.
 *
 * @param angles in degrees, one for each trial
 */
export function plankSeries(angles: readonly number[], isOneView = true): Series {
  const mutators = [
    ...angles.map((_, i) =>
      seriesEdits.addTrial(
        trialId(i),
        isOneView && i > 0 ? { kind: 'same', of: trialId(0), farthest: 0.05, error: 0.03 } : null,
      ),
    ),
    seriesEdits.setColumn(PLANK.angle, {
      name: 'plank angle',
      symbol: 'theta',
      unit: '°',
      content: { kind: 'number', error: 0.1 },
    }),
    seriesEdits.setColumn(PLANK.surface, {
      name: 'surface',
      symbol: 'surface',
      unit: '',
      content: { kind: 'word' },
    }),
    seriesEdits.setColumn(PLANK.acceleration, {
      name: 'acceleration',
      symbol: 'a',
      unit: '',
      content: { kind: 'reading', source: { of: 'reading', fit: PLANK.fit, reading: '' } },
    }),
    seriesEdits.setColumn(PLANK.sine, {
      name: 'sine of the angle',
      symbol: 's',
      unit: '',
      content: { kind: 'expression', expression: 'sin(theta)' },
    }),
    ...angles.map((value, i) =>
      seriesEdits.setTyped(trialId(i), PLANK.angle, { kind: 'number', value, error: 0.1 }),
    ),
    seriesEdits.setGraph(PLANK.graph, { x: PLANK.sine, y: PLANK.acceleration, title: '' }),
    seriesEdits.addFit(PLANK.line, PLANK.graph, 'uniform'),
  ]
  return mutators.reduce(
    (series, mutator) => edit(series, mutator).document,
    newSeries('Barrel at five angles'),
  )
}
