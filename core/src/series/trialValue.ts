import type { ErrorSource } from '../fitting/index.ts'

/** An error that several trials of a series share, such as that of one ruler: its effect on a value, per standard error. */
export interface SharedEffect {
  source: ErrorSource
  by: number
  /** Degrees of freedom with which the error was estimated; infinite if it was stated. */
  freedom: number
}

/** A number of one trial, such as a reading or a condition, with the part of its error that is its own and those that it shares. */
export interface TrialValue {
  value: number
  /** Standard error of what is independent between trials; 0 if the value is exact. */
  own: number
  /** Effects of shared errors, by a key that is the same in all trials that share the error. */
  shared: ReadonlyMap<string, SharedEffect>
}

/** Returns the standard error of a value: its own, and what it shares. */
export const totalError = ({ own, shared }: TrialValue): number =>
  Math.hypot(own, ...[...shared.values()].map(({ by }) => by))

/** Returns the difference `b` − `a` of values of two trials: what both share cancels as far as it has the same effect on both. */
export function differenceOf(a: TrialValue, b: TrialValue): TrialValue {
  const shared = new Map<string, SharedEffect>()
  for (const [key, effect] of a.shared) shared.set(key, { ...effect, by: -effect.by })
  for (const [key, effect] of b.shared)
    shared.set(key, { ...effect, by: effect.by + (shared.get(key)?.by ?? 0) })
  return { value: b.value - a.value, own: Math.hypot(a.own, b.own), shared }
}
