import type { Range } from '../motion/index.ts'
import { MAD_TO_DEVIATION, median } from '../time/index.ts'
import { significant, withUnit } from '../units/index.ts'
import type { ColumnFit, FitSettings, Reading } from './fitResult.ts'
import { runsTest } from './modelCriteria.ts'
import { settingOf } from './settings.ts'

/** Makes a fit of the points of another range. Throws where these can't carry it. */
export type Refit = (range: Range) => ColumnFit[]

/** Something about a fit that a careful person would look at. */
export interface Doubt {
  kind: 'break' | 'bend' | 'stray' | 'few' | 'short' | 'scatter' | 'fold' | 'position'
  text: string
  /** The point that it is about, and what the fit says without it. */
  frame?: number
  without?: Reading
}

/** Residuals that keep one sign so long come by chance in no more than this share of fits. */
const UNLIKELY = 0.005
/** Points that are to say more than what is found, at least. */
const FEWEST_SPARE = 3
/** A residual that is so many times their usual size belongs to no such scatter, and points that tell that size. */
const FAR = 4.5
const FEWEST_FOR_FAR = 8
/** A point less than so many times the usual size off is told only if the reading moves by this share of its error without it. */
const GROSS = 8
const MATTERS = 0.5
/** Standard errors that must find room in a bend: below, simulated loops are missed by more than their errors. */
const NARROWEST = 1
/** Times the marks' own errors that residuals may have, in their mean square. */
const MOST_CHI = 4

/**
 * What speaks against a fit, in the order in which it should be seen to: breaks within it, residuals that are not by
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
  if (fit.breaks > 0)
    doubts.push({
      kind: 'break',
      text: 'The motion breaks within this stretch: no single motion goes through all of it. End the stretch before the break, and fit the other side by itself.',
    })
  const stray = strayOf(fit, refit, range, settings)
  if (stray) doubts.push(stray.doubt)
  // One point far off must not hide what the others say.
  const judged = stray?.others ?? fit
  const runs = runsTest(whiteOf(judged))
  if (runs && runs.probability < UNLIKELY)
    doubts.push({
      kind: 'bend',
      text: `The residuals keep one sign for too long (${runs.runs} runs where chance would make ${Math.round(runs.expected)}): a bend is left that this model does not have.`,
    })
  const chi = judged.solution.reducedChiSquare
  const isBent = doubts.some(({ kind }) => kind === 'bend')
  if (!isBent && fit.breaks === 0 && chi !== null && chi > MOST_CHI && judged.freedom > 5)
    doubts.push({
      kind: 'scatter',
      text: `The points lie ${significant(Math.sqrt(chi), 2)} times as far off as their marks' errors make likely: there is more in the motion than this model has.`,
    })
  // Where it is no good model, what its points scatter by are no errors.
  if (doubts.length === 0 && fit.roomInBend && fit.roomInBend() < NARROWEST)
    doubts.push({
      kind: 'fold',
      text: 'Where this curve turns most sharply, its bend is narrower than the points’ errors: which side of it a point belongs to can’t be told there, and what is read may be off by more than its error says. Derive over more points, or fit each quantity against time.',
    })
  if (fit.freedom < FEWEST_SPARE)
    doubts.push({
      kind: 'few',
      text:
        fit.freedom <= 0
          ? 'As many parameters as points: it goes through all of them, and nothing tells how good it is.'
          : `Only ${fit.freedom === 1 ? 'one point' : `${fit.freedom} points`} more than parameters: its errors are hardly known.`,
    })
  const short = fit.law.doubt?.(
    fit.parameters.map(({ value }) => value),
    { from: fit.from, to: fit.to },
  )
  if (short) doubts.push({ kind: 'short', text: short })
  if (fit.order !== null && fit.order > 0 && doubts.length === 0 && hasPositionLaw(fit))
    doubts.push({
      kind: 'position',
      text: `Neighbouring ${fit.order === 1 ? 'velocities' : 'accelerations'} share marks; the errors know it. A fit to position uses the marks themselves.`,
    })
  return doubts
}

/** Residuals of the first column, freed of what neighbours share, in the order of time. */
function whiteOf({ solution, points }: ColumnFit): Float64Array {
  return solution.whitenedResiduals.subarray(0, points)
}

const hasPositionLaw = ({ model, quantity }: ColumnFit) =>
  model.law({ ...settingOf(quantity), order: 0, expression: 'a*t' }) !== null

/**
 * The point that lies so far off that it is not one of the scatter, with what the fit says without it, and the fit of the
 * others; null if there is none, or if it hardly matters to the reading.
 */
function strayOf(
  fit: ColumnFit,
  refit: Refit,
  range: Range,
  settings: FitSettings,
): { doubt: Doubt; others: ColumnFit } | null {
  // Of what is derived one mark spoils several points: which one is told by positions.
  if (fit.points < FEWEST_FOR_FAR || (fit.order !== null && fit.order > 0) || settings.robust === 'bisquare')
    return null
  const white = whiteOf(fit)
  const usual = MAD_TO_DEVIATION * median(Array.from(white, Math.abs))
  const [worst] = Array.from(white, (_, i) => i).sort((a, b) => Math.abs(white[b]) - Math.abs(white[a]))
  const far = Math.abs(white[worst]) / usual
  if (!(far > FAR) || usual === 0) return null
  const { frame, value } = fit.residuals()[worst]
  const without = { ...range, without: { ...range.without, [frame]: true as const } }
  try {
    const [others] = refit(without)
    const moved = Math.abs(others.reading.value - fit.reading.value) / fit.reading.error
    if (far < GROSS && moved < MATTERS) return null
    const off = withUnit(significant(Math.abs(value), 2), fit.residualUnit)
    const text = `The point of frame ${frame} lies ${off} off the curve.`
    return { doubt: { kind: 'stray', frame, without: others.reading, text }, others }
  } catch {
    // Without it there is nothing to fit: then it is not the one to leave out.
    return null
  }
}
