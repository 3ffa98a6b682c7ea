import type { Range } from '../motion/index.ts'
import { MAD_TO_DEVIATION, median } from '../time/index.ts'
import type { ColumnFit, FitSettings, Reading } from './fitResult.ts'
import { runsTest } from './modelCriteria.ts'
import type { ShortStretch } from './models/index.ts'
import { settingOf } from './settings.ts'

/** Makes a fit of the points of another range. Throws where these can't carry it. */
export type Refit = (range: Range) => ColumnFit[]

/** Something about a fit that a careful person would look at; `doubts.ts` in `words` has the sentences. */
export type Doubt =
  | { code: 'break' }
  /** The whitened residuals keep their signs in so many runs; independent ones would have the expected number. */
  | { code: 'bend'; runs: number; expectedRuns: number }
  /** A point that belongs to no such scatter, how far it is off in the residuals' unit, and the reading without it. */
  | { code: 'outlier'; frame: number; offset: number; unit: string; without: Reading }
  /** The residuals are so many times as large as the marks' errors. */
  | { code: 'scatter'; ratio: number }
  | { code: 'fold' }
  /** Points more than parameters. */
  | { code: 'few'; spare: number }
  | ShortStretch
  /** Order of the derivative that was fitted. */
  | { code: 'position'; order: 1 | 2 }

/** Residuals that keep one sign so long come by chance in no more than this share of fits. */
const UNLIKELY = 0.005
/** Points that are to say more than what is found, at least. */
const FEWEST_SPARE = 3
/** A residual that is so many times their typical size belongs to no such scatter, and points that tell that size. */
const FAR = 4.5
const FEWEST_FOR_FAR = 8
/** A point less than so many times the typical size off is told only if the reading moves by this share of its error without it. */
const GROSS = 8
const MATTERS = 0.5
/** Standard errors that must find room in a bend: below, simulated loops are missed by more than their errors. */
const NARROWEST = 1
/** Times the marks' own errors that residuals may have, in their mean square. */
const MOST_CHI = 4

/**
 * Returns what speaks against a fit, in the order in which it should be seen to: breaks within it, residuals that are not by
 * chance, a point that bends it, too few points or too short a time.
 *
 * @param fits of all columns that are fitted together; the first one is judged
 * @param refit the same fit of the points of another range
 */
export function doubtsOf(
  fits: readonly ColumnFit[],
  refit: Refit,
  range: Range,
  settings: FitSettings,
): Doubt[] {
  const [fit] = fits
  const doubts: Doubt[] = []
  if (fit.breaks > 0) doubts.push({ code: 'break' })
  const outlier = outlierOf(fit, refit, range, settings)
  if (outlier) doubts.push(outlier.doubt)
  // One point far off must not hide what the others say.
  const judged = outlier?.others ?? fit
  const runs = runsTest(whiteOf(judged))
  const isBent = runs !== null && runs.probability < UNLIKELY
  if (isBent) doubts.push({ code: 'bend', runs: runs.runs, expectedRuns: runs.expected })
  const chi = judged.solution.reducedChiSquare
  if (!isBent && fit.breaks === 0 && chi !== null && chi > MOST_CHI && judged.freedom > 5)
    doubts.push({ code: 'scatter', ratio: Math.sqrt(chi) })
  // Where it is no good model, what its points scatter by are no errors.
  if (doubts.length === 0 && fit.roomInBend && fit.roomInBend() < NARROWEST) doubts.push({ code: 'fold' })
  if (fit.freedom < FEWEST_SPARE) doubts.push({ code: 'few', spare: fit.freedom })
  const short = fit.law.doubt?.(
    fit.parameters.map(({ value }) => value),
    { from: fit.from, to: fit.to },
  )
  if (short) doubts.push(short)
  if (fit.order !== null && fit.order > 0 && doubts.length === 0 && hasPositionLaw(fit))
    doubts.push({ code: 'position', order: fit.order === 1 ? 1 : 2 })
  return doubts
}

/** Residuals of the first column, freed of what neighbours share, in the order of time. */
function whiteOf({ solution, points }: ColumnFit): Float64Array {
  return solution.whitenedResiduals.subarray(0, points)
}

const hasPositionLaw = ({ model, quantity }: ColumnFit) =>
  model.law({ ...settingOf(quantity), order: 0, expression: 'a*t' }) !== null

/**
 * Returns the point that lies so far off that it is not one of the scatter, with what the fit says without it, and the fit of the
 * others; null if there is none, or if it hardly matters to the reading.
 */
function outlierOf(
  fit: ColumnFit,
  refit: Refit,
  range: Range,
  settings: FitSettings,
): { doubt: Doubt; others: ColumnFit } | null {
  // Of what is derived one mark spoils several points: which one is told by positions.
  if (fit.points < FEWEST_FOR_FAR || (fit.order !== null && fit.order > 0) || settings.robust === 'bisquare')
    return null
  const white = whiteOf(fit)
  const scale = MAD_TO_DEVIATION * median(Array.from(white, Math.abs))
  const [worst] = Array.from(white, (_, i) => i).sort((a, b) => Math.abs(white[b]) - Math.abs(white[a]))
  const far = Math.abs(white[worst]) / scale
  if (!(far > FAR) || scale === 0) return null
  const { frame, value } = fit.residuals()[worst]
  const without = { ...range, without: { ...range.without, [frame]: true as const } }
  try {
    const [others] = refit(without)
    const moved = Math.abs(others.reading.value - fit.reading.value) / fit.reading.error
    if (far < GROSS && moved < MATTERS) return null
    const doubt: Doubt = {
      code: 'outlier',
      frame,
      offset: value,
      unit: fit.residualUnit,
      without: others.reading,
    }
    return { doubt, others }
  } catch {
    // Without it there is nothing to fit: then it is not the one to leave out.
    return null
  }
}
