import type { ModelId } from '../investigation/index.ts'
import { ExpressionError, type MotionTable, type Range } from '../motion/index.ts'
import { FitError, type FitProblem, studentBeyond } from '../regression/index.ts'
import { fitColumn } from './fitColumn.ts'
import type { ColumnFit } from './fitResult.ts'
import { aicc, runsTest } from './modelCriteria.ts'
import { MODELS } from './models/index.ts'

/** How a model does beside the others; `suggestions.ts` in `words` has the sentences. */
export type SuggestionVerdict =
  /** A parameter that can't be told from zero. */
  | { code: 'idle-parameter'; parameter: string }
  | { code: 'impossible'; problem: FitProblem }
  | {
      code:
        | 'best'
        | 'best-but-bent'
        | 'bent'
        | 'not-comparable'
        | 'more-parameters'
        | 'no-better'
        | 'close'
        | 'worse'
    }

/** A model that was tried on a stretch, and what speaks for and against it. */
export interface Suggestion {
  model: ModelId
  name: string
  /** Null where it can't be fitted. */
  fit: ColumnFit | null
  /** Akaike's criterion above the best one's; null where it can't be told. */
  above: number | null
  verdict: SuggestionVerdict
  /** Whether it is the one to take. */
  isBest: boolean
}

/** Models that are tried on a position, on its derivatives, and on any other column. */
const TRIED: Record<'position' | 'derivative' | 'other', readonly ModelId[]> = {
  position: [
    'rest',
    'uniform',
    'uniform-acceleration',
    'changing-acceleration',
    'kink',
    'settling',
    'terminal-from-rest',
    'terminal-speed',
    'quadratic-drag',
    'swing',
    'damped-swing',
    'pieces',
    'bounces',
  ],
  derivative: [
    'uniform',
    'uniform-acceleration',
    'changing-acceleration',
    'kink',
    'exponential',
    'terminal-from-rest',
    'terminal-speed',
    'quadratic-drag',
    'swing',
    'damped-swing',
    'pieces',
  ],
  other: [
    'rest',
    'uniform',
    'uniform-acceleration',
    'changing-acceleration',
    'kink',
    'exponential',
    'settling',
    'logistic',
    'swing',
    'damped-swing',
    'gaussian',
  ],
}
/** Models within so much of the best criterion are as good: the simpler one is to be taken. */
const AS_GOOD = 4
/** Residuals that keep one sign so long come by chance in no more than this share of fits. */
const UNLIKELY = 0.01
/** A parameter whose size is chance in so large a share of cases says nothing. */
const IDLE = 0.05

/**
 * Sensible models for a stretch, best first: by Akaike's criterion on residuals that are freed of what neighbouring
 * points share (Burnham and Anderson, Model Selection and Multimodel Inference, 2002, 2.6), the simpler one where two
 * are as good.
 */
export function suggestModels(
  table: MotionTable,
  quantity: string,
  order: 0 | 1 | 2 | null,
  range: Range,
): Suggestion[] {
  const kind = order === null ? 'other' : order === 0 ? 'position' : 'derivative'
  const tried = TRIED[kind].flatMap((model) => attempt(table, quantity, range, model))
  // The variance is inflated as it is about the law that leaves the least: about a wrong one a bend would count as drift.
  const [closest] = tried
    .flatMap(({ fit }) => (fit ? [{ fit, criterion: criterionOf(fit, 1) ?? Number.POSITIVE_INFINITY }] : []))
    .sort((a, b) => a.criterion - b.criterion)
  const inflation = Math.max(1, closest?.fit.solution.varianceInflation ?? 1)
  const judged = tried.map((one) => ({ ...one, criterion: one.fit && criterionOf(one.fit, inflation) }))
  const least = Math.min(...judged.flatMap(({ criterion }) => criterion ?? []))
  const good = judged
    .filter(({ criterion }) => criterion !== null && criterion - least <= AS_GOOD)
    .sort((a, b) => sizeOf(a.fit!) - sizeOf(b.fit!) || a.criterion! - b.criterion!)
  const best = good[0]?.fit ?? null
  return judged
    .map(({ model, name, fit, problem, criterion }): Suggestion => {
      const above = criterion === null ? null : criterion - least
      const isBest = fit !== null && fit === best
      const verdict = fit
        ? verdictOn(fit, above, isBest, best)
        : ({ code: 'impossible', problem: problem! } as const)
      return { model, name, fit, above, isBest, verdict }
    })
    .sort(
      (a, b) =>
        Number(b.isBest) - Number(a.isBest) ||
        (a.above ?? Number.POSITIVE_INFINITY) - (b.above ?? Number.POSITIVE_INFINITY) ||
        Number(b.fit !== null) - Number(a.fit !== null),
    )
}

interface Attempt {
  model: ModelId
  name: string
  fit: ColumnFit | null
  problem: FitProblem | null
}

/** None where the model says nothing of this stretch at all. */
function attempt(table: MotionTable, quantity: string, range: Range, model: ModelId): Attempt[] {
  try {
    const fit = fitColumn(table, quantity, range, { model })
    // What goes over a break without knowing of it is no candidate, nor is what has nothing left to be judged by.
    return fit.freedom > 0 && fit.breaks === 0 ? [{ model, name: fit.name, fit, problem: null }] : []
  } catch (error) {
    if (!(error instanceof FitError || error instanceof ExpressionError)) throw error
    return error instanceof FitError && error.isUndetermined
      ? [{ model, name: MODELS[model].name, fit: null, problem: error.problem }]
      : []
  }
}

const sizeOf = ({ law }: ColumnFit) => law.parameters.length

function criterionOf({ solution, law }: ColumnFit, inflation: number): number | null {
  // A smooth curve's points have hardly any freedom of their own: nothing can be told from them.
  if (solution.members.some(({ sample }) => sample.smoothed)) return null
  const criterion = aicc(solution.rss, solution.effectivePoints, law.parameters.length, inflation)
  // The best of many frequencies, or places, fits even where there is nothing: the likelihood is that of having chosen.
  return criterion === null
    ? null
    : criterion + 2 * Math.log(Math.max(1, law.choices?.(solution.effectivePoints) ?? 1))
}

function verdictOn(
  fit: ColumnFit,
  above: number | null,
  isBest: boolean,
  best: ColumnFit | null,
): SuggestionVerdict {
  const runs = runsTest(fit.solution.whitenedResiduals)
  const isBent = runs !== null && runs.probability < UNLIKELY
  if (isBest) return { code: isBent ? 'best-but-bent' : 'best' }
  if (isBent) return { code: 'bent' }
  if (above === null) return { code: 'not-comparable' }
  if (best && sizeOf(fit) > sizeOf(best)) {
    const parameter = idleParameter(fit)
    if (parameter !== null) return { code: 'idle-parameter', parameter }
    return { code: above <= AS_GOOD ? 'more-parameters' : 'no-better' }
  }
  return { code: above <= AS_GOOD ? 'close' : 'worse' }
}

/** Returns the last of its parameters, where that can't be told from zero. */
function idleParameter({ parameters, freedom }: ColumnFit): string | null {
  const idle = parameters.findLast(
    ({ value, error, unit }) =>
      unit !== '' && unit !== 'rad' && studentBeyond(value / error, Math.max(1, freedom)) > IDLE,
  )
  return idle ? idle.name : null
}
