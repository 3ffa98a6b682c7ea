import { covarianceOf, type ErrorSource } from '../fitting/index.ts'
import type { MeasuredSeries } from './document/series.ts'
import type { TrialNumber } from './trialNumber.ts'
import type { TrialValue } from './trialValue.ts'

/** Tells which errors of a trial's numbers other trials of the series share, by a key for all of them; null: none does. */
export type SharedKey = (key: string, source: ErrorSource) => string | null

/** Errors of the scale and of the axes: shared by the trials that took these over from one of them. */
const OF_SCALE: readonly ErrorSource[] = ['placing', 'length', 'depth', 'disagreement', 'motion']
const OF_AXES: readonly ErrorSource[] = ['origin', 'tilt', 'gravity']

/**
 * Returns which errors of a trial's numbers are shared. The scale is that of the trial from which the set-up was taken along, so is the
 * direction of the axes unless each trial has its own; the clock, masses, constants and g are the same in all trials.
 */
export function sharedKeyIn(series: MeasuredSeries, trial: string): SharedKey {
  const view = viewGroup(series, trial)
  return (key, source) => {
    if (key.startsWith(TYPED)) return null
    if (OF_SCALE.includes(source)) return `${view} ${key}`
    if (OF_AXES.includes(source))
      return series.axesRule === 'along-motion' && source !== 'gravity' ? null : `${view} ${key}`
    return source === 'timing' || source === 'stated' ? key : null
  }
}

/** Beginning of the key of a number that was typed for one trial. */
export const TYPED = 'typed '

/** Returns the id of the trial in which the set-up of a trial was made. */
export function viewGroup({ trials }: Pick<MeasuredSeries, 'trials'>, trial: string): string {
  const seen = new Set<string>()
  let at = trial
  while (!seen.has(at)) {
    seen.add(at)
    const view = trials[at]?.view
    if (!view || view.kind === 'other' || !Object.hasOwn(trials, view.of)) return at
    at = view.of
  }
  return at
}

/** Returns a number of a trial with its errors divided into its own and those that it shares, in a unit of so many SI units. */
export function trialValueOf(
  { value, sensitivity, freedoms }: TrialNumber,
  factor: number,
  sharedKey: SharedKey,
): TrialValue {
  let variance = sensitivity.marks.size() ** 2
  const shared: [string, { source: ErrorSource; by: number; freedom: number }][] = []
  for (const [key, { source, by }] of sensitivity.common) {
    const known = sharedKey(key, source)
    if (known === null) variance += by ** 2
    else
      shared.push([
        known,
        { source, by: by / factor, freedom: freedoms.get(source) ?? Number.POSITIVE_INFINITY },
      ])
  }
  return { value: value / factor, own: Math.sqrt(variance) / factor, shared: new Map(shared) }
}

/** Returns the covariance, in SI, of two numbers of one trial that is due to errors which no other trial shares. */
export function ownCovariance(a: TrialNumber, b: TrialNumber, sharedKey: SharedKey): number {
  const own = ({ sensitivity: { marks, common } }: TrialNumber) => ({
    marks,
    common: new Map([...common].filter(([key, { source }]) => sharedKey(key, source) === null)),
  })
  return covarianceOf(own(a), own(b))
}
