import { type ColumnFit, type FitSettings, fitRelationPoints, type RelationPoints } from '../fitting/index.ts'
import { ErrorSensitivity } from '../motion/index.ts'
import type { PointCovariance } from '../regression/index.ts'
import { varianceBetween } from './betweenTrials.ts'
import type { SharedEffect, TrialValue } from './trialValue.ts'

/** The values of one quantity in n trials, and what the quantity is. */
export interface TrialColumn {
  quantity: RelationPoints['quantityX']
  values: readonly TrialValue[]
  /** Number of each value's own error; other ones for other columns of a series. */
  errors: readonly number[]
}

/** A fit to trials, and the standard deviation of the fitted quantity between trials beyond the trials' own errors. */
export interface TrialFit {
  fit: ColumnFit
  between: number
}

/**
 * Fits one quantity of n trials against another one. Own errors of both weigh the trials; where the residuals are larger than these
 * promise, a variance between trials is added to that of `y` until they agree (Paule and Mandel, J. Res. Natl. Bur. Stand. 87 (1982)
 * 377). Errors of parameters follow from the scatter about the fit, and have a part for each error that trials share.
 *
 * @throws FitError if the trials do not determine the fit; ExpressionError for a free form that is wrong
 */
export function fitTrials(
  x: TrialColumn,
  y: TrialColumn,
  settings: FitSettings,
  covariances: readonly number[] = [],
): TrialFit {
  const areErrorsKnown = y.values.every(({ own }, i) => own > 0 || x.values[i].own > 0)
  if (!areErrorsKnown) {
    // All trials count alike, and their scatter tells the errors.
    const fit = fitRelationPoints(
      pointsOf(x, y, () => ({ xx: 0, xy: 0, yy: 1 })),
      settings,
      'scatter',
    )
    return { fit: { ...fit, solution: { ...fit.solution, reducedChiSquare: null } }, between: 0 }
  }
  const fitWith = (between: number) =>
    fitRelationPoints(
      pointsOf(x, y, (i) => ({
        xx: x.values[i].own ** 2,
        xy: covariances[i] ?? 0,
        yy: y.values[i].own ** 2 + between,
      })),
      settings,
      'scatter',
    )
  const fit = fitWith(0)
  const between = varianceBetween(
    (variance) => fitWith(variance).solution.rss,
    fit.solution.freedom,
    fit.rmse ** 2,
  )
  return between > 0 ? { fit: fitWith(between), between: Math.sqrt(between) } : { fit, between: 0 }
}

/** Returns the points of a relation: a row a trial, with the covariance of the own errors of its two quantities. */
function pointsOf(
  x: TrialColumn,
  y: TrialColumn,
  covarianceOf: (trial: number) => PointCovariance,
): RelationPoints {
  const trials = Array.from(y.values, (_, i) => i)
  const covariances = trials.map(covarianceOf)
  return {
    quantityX: x.quantity,
    quantityY: y.quantity,
    length: 'm',
    rows: trials,
    frames: trials,
    x: Float64Array.from(x.values, ({ value }) => value),
    y: Float64Array.from(y.values, ({ value }) => value),
    errorsY: Float64Array.from(covariances, ({ yy }) => Math.sqrt(yy)),
    sensitivityX: covariances.map(({ xx }, i) => sensitivityTo([x.errors[i], Math.sqrt(xx)])),
    sensitivityY: covariances.map(({ xx, xy, yy }, i) => {
      const byX = xx > 0 ? xy / Math.sqrt(xx) : 0
      return sensitivityTo([x.errors[i], byX], [y.errors[i], Math.sqrt(Math.max(0, yy - byX ** 2))])
    }),
    covariances,
    shiftsX: shiftsOf(x.values),
    shiftsY: shiftsOf(y.values),
  }
}

function sensitivityTo(...errors: [error: number, by: number][]): ErrorSensitivity {
  const sensitivity = new ErrorSensitivity()
  for (const [error, by] of errors) if (by !== 0) sensitivity.add(error, by)
  return sensitivity
}

/** Returns what one standard error of each shared error changes in all trials; trials that don't share it don't change. */
function shiftsOf(values: readonly TrialValue[]): RelationPoints['shiftsX'] {
  const known = new Map<string, SharedEffect>(values.flatMap(({ shared }) => [...shared]))
  return [...known].map(([key, { source, freedom }]) => ({
    key,
    source,
    freedom,
    timeScale: 0,
    values: Float64Array.from(values, ({ shared }) => shared.get(key)?.by ?? 0),
  }))
}
