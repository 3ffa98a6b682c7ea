import type { Step } from './localRecord.ts'

/** Maximum number of steps that can be undone. */
const MOST_STEPS = 400

/** Returns the steps at the end of a list that are undone together, in order. */
export function lastTogether(steps: readonly Step[]): Step[] {
  const name = steps.at(-1)?.together
  if (name === undefined) return steps.slice(-1)
  return steps.slice(steps.findLastIndex(({ together }) => together !== name) + 1)
}

/** Returns the steps that are kept for undo: at most `MOST_STEPS`, where steps that are undone together count as one. */
export function latestSteps(steps: Step[]): Step[] {
  if (steps.length <= MOST_STEPS) return steps
  let [count, at] = [0, steps.length]
  while (at > 0 && count < MOST_STEPS) {
    at -= lastTogether(steps.slice(0, at)).length
    count++
  }
  return at > 0 ? steps.slice(at) : steps
}
