import type { Point } from '../geometry/index.ts'
import { type Column, type MotionTable, type Range, Sway } from '../motion/index.ts'
import { FitError, leastSquares, product, squares, whiteningBy } from '../regression/index.ts'
import { type ColumnFit, columnFit, type FitSettings } from './fitColumn.ts'
import { AS_KNOWN, type Law, type LoopLaw, MODELS, type Off } from './models/index.ts'
import { type FitSample, type Shift, shiftsOf } from './sample.ts'
import { loopOf, relationOf } from './settings.ts'
import { type Solved, solvePoints } from './solve.ts'
import { Told } from './told.ts'

/** A relation between two quantities, by how far a place is off it. */
type Relation = Pick<LoopLaw, 'at'>

/** Rounds at most, and by what share of their errors the points may still be off because of a last step. */
const ROUNDS = { most: 200, settled: 1e-6 }
/** Of the way from a curve to the middle of its bend a point may be taken to have gone so much at most. */
const MOST_BENT = 0.7
/** Places of a closed curve that is drawn. */
const TRACED = 160

/**
 * Fits a relation between two quantities of the same moments, both of which have errors: each point is moved to where it
 * most likely is on the curve, by as little as its errors make likely, while the curve is put where that takes least
 * (Gauss and Helmert's model: Deming, Statistical Adjustment of Data, 1943; York, Can. J. Phys. 44 (1966) 1079, for
 * lines). Errors that both quantities of a point take from the same marks count there; those that neighbouring points share
 * count in the errors of what is found.
 *
 * @throws FitError, or ExpressionError of a free form, where the points can't carry it; its message is for the person
 */
export function fitPath(
  table: MotionTable,
  quantity: string,
  across: string,
  range: Range,
  settings: FitSettings,
): ColumnFit {
  const [up, along] = [table.column(quantity), table.column(across)]
  const asks = up.asks ?? along.asks
  if (asks) throw new FitError(asks)
  const points = pointsOf(table, up, along, range)
  const { x, y, rows } = points
  if (rows.length === 0) throw new FitError('No point of these quantities lies in the stretch.')
  const model = MODELS[settings.model]
  const loop = model.loop?.(loopOf(up.info, along.info)) ?? null
  const law = loop
    ? null
    : model.law({
        ...relationOf(up.info, along.info),
        expression: settings.expression ?? '',
        start: settings.start ?? {},
      })
  if (!loop && !law) throw new FitError(`${model.name} says nothing about these quantities.`)
  const count = (loop ?? law!).parameters.length
  if (rows.length < count)
    throw new FitError(
      `This fit needs at least ${count} points; there ${rows.length === 1 ? 'is' : 'are'} ${rows.length}.`,
    )
  const relation = loop ?? explicit(law!)
  const start = loop ? loop.begin(x, y) : startOf(law!, x, y)
  const found = adjusted(relation, start, points)
  const shownLaw = loop ? closed(loop, up.info.symbol) : { ...law!, zero: 0 }
  const { solved, sample } = solvedBy(found, points, up, shownLaw)
  const fit = columnFit(
    {
      fitted: { table, quantity, model: settings.model },
      ...{ model, law: shownLaw, sample, column: up, order: null, isAngle: along.dimension.angle !== 0 },
      against: { dimension: along.dimension, unit: along.unit, symbol: along.info.symbol },
    },
    solved,
    new Told(solved),
    0,
    new Map(),
  )
  const traced = loop
    ? Array.from({ length: TRACED + 1 }, (_, i) => loop.trace(found.parameters, (2 * Math.PI * i) / TRACED))
    : null
  return {
    ...fit,
    roomInBend: 1 / (solved.widened * sharpest(relation, found, traced)),
    ...(traced && { rSquared: Number.NaN, loop: traced }),
  }
}

/** Points of which both quantities have a value, and how these go with the marks' errors. */
interface PathPoints {
  rows: number[]
  frames: number[]
  x: Float64Array
  y: Float64Array
  /** Of each point how its quantities go with the marks' errors. */
  swayX: Sway[]
  swayY: Sway[]
  /** Errors that all points share, as what they move either quantity by. */
  shiftsX: Shift[]
  shiftsY: Shift[]
}

function pointsOf(
  table: MotionTable,
  up: Column,
  along: Column,
  { from, to, without = {} }: Range,
): PathPoints {
  const placeIn = new Map(along.rows.map((row, i) => [row, i]))
  const both = up.rows.flatMap((row, i) => {
    const frame = table.frames[row]
    const other = placeIn.get(row)
    return other !== undefined && frame >= from && frame <= to && !without[frame] ? [{ row, i, other }] : []
  })
  const [others, own] = [both.map(({ other }) => other), both.map(({ i }) => i)]
  const sways = (column: Column, places: number[]) =>
    places.map((place) => {
      const sway = new Sway()
      column.sway(place, 1, sway)
      return sway.ofMarks()
    })
  return {
    rows: both.map(({ row }) => row),
    frames: both.map(({ row }) => table.frames[row]),
    x: Float64Array.from(both, ({ row }) => along.values[row]),
    y: Float64Array.from(both, ({ row }) => up.values[row]),
    swayX: sways(along, others),
    swayY: sways(up, own),
    shiftsX: shiftsOf(table, along, others),
    shiftsY: shiftsOf(table, up, own),
  }
}

/** A law that tells the one quantity by the other, as a relation. */
function explicit(law: Law): Relation {
  const curveAt = (place: number, parameters: Float64Array, slopes: Float64Array[] | null) => {
    const value = new Float64Array(1)
    law.on([place])(parameters, value, slopes)
    return value[0]
  }
  return {
    at: (x, y, parameters) => {
      const given = Float64Array.from(parameters)
      const slopes = law.parameters.map(() => new Float64Array(1))
      const value = curveAt(x, given, slopes)
      const step = 1e-5 * (Math.abs(x) || 1)
      const [before, behind] = [x - step, x + step].map((place) => curveAt(place, given, null))
      return {
        ...{ off: y - value, byX: (before - behind) / (2 * step), byY: 1 },
        ...{ bendX: (2 * value - before - behind) / (step * step), bendY: 0 },
        byParameters: slopes.map(([slope]) => -slope),
      }
    },
  }
}

/** What a law's parameters, at places from 0, are where only the one quantity is taken to have errors. */
function startOf(law: Law, x: Float64Array, y: Float64Array): number[] {
  const order = Array.from(x, (_, i) => i).sort((a, b) => x[a] - x[b])
  const sorted = (all: Float64Array) => Float64Array.from(order, (i) => all[i])
  const { parameters, members } = solvePoints(law, sorted(x), sorted(y))
  return law.own(members[0].shown(parameters), 0)
}

/** Variances of a point's two quantities, and their covariance. */
interface OwnErrors {
  xx: number
  xy: number
  yy: number
}

/** A relation that has been fitted. */
interface Adjusted {
  parameters: Float64Array
  /** Of the parameters, where each point's errors are taken to be its own; and slopes by them, in standard errors. */
  cofactors: Float64Array[]
  columns: Float64Array[]
  /** Residuals in standard errors, and the sum of their squares. */
  white: Float64Array
  rss: number
  /** Slopes of how far each point is off the curve, where it has been moved to, and the standard error of that. */
  byX: Float64Array
  byY: Float64Array
  errors: Float64Array
  /** Where the points belong on the curve, and their own errors. */
  belong: Point[]
  own: OwnErrors[]
}

function adjusted(
  relation: Relation,
  start: readonly number[],
  { x, y, swayX, swayY }: PathPoints,
): Adjusted {
  const n = x.length
  const own = swayX.map(
    (along, i): OwnErrors => ({
      xx: along.productWith(along),
      xy: along.productWith(swayY[i]),
      yy: swayY[i].productWith(swayY[i]),
    }),
  )
  const parameters = Float64Array.from(start)
  const [atX, atY] = [x.slice(), y.slice()]
  for (let round = 0; ; round++) {
    const looks = Array.from(x, (_, i) => relation.at(atX[i], atY[i], parameters))
    const byX = Float64Array.from(looks, (look) => look.byX)
    const byY = Float64Array.from(looks, (look) => look.byY)
    const errors = Float64Array.from(own, ({ xx, xy, yy }, i) =>
      Math.sqrt(byX[i] ** 2 * xx + 2 * byX[i] * byY[i] * xy + byY[i] ** 2 * yy),
    )
    if (!errors.every((error) => error > 0))
      throw new FitError('The errors of these quantities are not known.')
    const wanting = looks.map(
      ({ off }, i) => -(off + byX[i] * (x[i] - atX[i]) + byY[i] * (y[i] - atY[i])) / errors[i],
    )
    if (!wanting.every(Number.isFinite)) throw new FitError('The model grows beyond all numbers.')
    const columns = Array.from(parameters, (_, k) =>
      Float64Array.from(looks, ({ byParameters }, i) => byParameters[k] / errors[i]),
    )
    const rows = Array.from({ length: n }, (_, i) => Float64Array.from(columns, (column) => column[i]))
    const { parameters: step, residuals: white, rss, cofactors } = leastSquares(rows, wanting)
    // In the first round the points are where they were measured: that is not where they belong.
    const isSettled =
      round > 0 &&
      step.every((by, k) => Math.abs(by) * Math.sqrt(squares(columns[k])) <= ROUNDS.settled * Math.sqrt(n))
    step.forEach((by, k) => {
      parameters[k] += by
    })
    if (isSettled) {
      const belong = Array.from(atX, (at, i) => ({ x: at, y: atY[i] }))
      return { parameters, cofactors, columns, white, rss, byX, byY, errors, belong, own }
    }
    if (round === ROUNDS.most)
      throw new FitError('The fit does not come to rest: the points look nothing like it.')
    looks.forEach((look, i) => {
      const moved = look.off + look.byParameters.reduce((sum, slope, k) => sum + slope * step[k], 0)
      const [toX, toY] = footStep(look, moved, own[i], x[i] - atX[i], y[i] - atY[i])
      atX[i] += toX
      atY[i] += toY
    })
  }
}

/**
 * Newton's step of a point along and towards a curve, to where it most likely is on it: where what it is moved by goes
 * with its errors as the curve's normal does. The curve's bend counts as long as the place is not past the middle of it.
 *
 * @param off how far it will be off the curve
 * @param dx how far the measured point is from it
 */
function footStep(look: Off, off: number, own: OwnErrors, dx: number, dy: number): [number, number] {
  const { byX, byY } = look
  const { alongX, alongY, straight, bentX, bentY, bent } = bendOf(look, own, dx, dy)
  const aside = dx * alongY - dy * alongX
  const share = bent < -MOST_BENT * straight ? (-MOST_BENT * straight) / bent : 1
  const [asideX, asideY] = [share * bentX - alongY, share * bentY + alongX]
  const determinant = straight + share * bent
  return [(aside * byY - off * asideY) / determinant, (off * asideX - aside * byX) / determinant]
}

/**
 * The direction in which a place on a curve is most likely to be missed, and what the curve's bend makes of where a point
 * belongs that lies so far from there.
 */
function bendOf({ byX, byY, bendX, bendY }: Off, { xx, xy, yy }: OwnErrors, dx: number, dy: number) {
  const [alongX, alongY] = [xx * byX + xy * byY, xy * byX + yy * byY]
  const [bentX, bentY] = [bendX * (dx * xy - dy * xx), bendY * (dx * yy - dy * xy)]
  return {
    ...{ alongX, alongY, straight: byX * alongX + byY * alongY },
    ...{ bentX, bentY, bent: byX * bentY - byY * bentX },
  }
}

/**
 * The greatest of the points' standard errors across a curve in radii of its bend, both as lengths go by these errors.
 *
 * @param traced places of a closed curve, to be looked at by the errors of the point that belongs nearest to each; points
 * keep away from its bends where these are too narrow. Where points belong, for any other curve.
 */
function sharpest(relation: Relation, { parameters, belong, own }: Adjusted, traced: Point[] | null) {
  const [spanX, spanY] = [belong.map(({ x }) => x), belong.map(({ y }) => y)].map(
    (all) => Math.max(...all) - Math.min(...all) || 1,
  )
  const nearestTo = ({ x, y }: Point) => {
    let [nearest, least] = [0, Number.POSITIVE_INFINITY]
    belong.forEach((place, i) => {
      const away = ((place.x - x) / spanX) ** 2 + ((place.y - y) / spanY) ** 2
      if (away < least) [nearest, least] = [i, away]
    })
    return nearest
  }
  const sharpness = ({ x, y }: Point, errors: OwnErrors) => {
    const look = relation.at(x, y, parameters)
    const { alongX, alongY, straight } = bendOf(look, errors, 0, 0)
    const error = Math.sqrt(straight)
    return Math.abs(bendOf(look, errors, alongX / error, alongY / error).bent) / straight
  }
  return (traced ?? belong).reduce(
    (most, place, i) => Math.max(most, sharpness(place, own[traced ? nearestTo(place) : i])),
    0,
  )
}

/**
 * Covariance of the parameters for errors that points share, by one standard error of each, and how many points'
 * worth of scatter is left beside them: each point was weighed by itself, what they share is in here (Huber 1967, White,
 * Econometrica 48 (1980) 817, for what such an estimate scatters by).
 */
function sharedCovariance(
  { cofactors, columns, byX, byY, errors }: Adjusted,
  { swayX, swayY }: PathPoints,
): { covariance: Float64Array[]; freedom: number } {
  const onErrors = columns.map((column) => {
    const sum = new Sway()
    column.forEach((slope, i) => {
      const by = slope / errors[i]
      swayX[i].each((error, of) => sum.add(error, by * byX[i] * of))
      swayY[i].each((error, of) => sum.add(error, by * byY[i] * of))
    })
    return sum
  })
  const middle = onErrors.map((a) => Float64Array.from(onErrors, (b) => a.productWith(b)))
  const half = cofactors.map((row) =>
    Float64Array.from(cofactors, (_, j) => row.reduce((sum, one, k) => sum + one * middle[k][j], 0)),
  )
  const covariance = half.map((row) => Float64Array.from(cofactors, (other) => product(row, other)))
  const taken = half.reduce((sum, row, k) => sum + row[k], 0)
  return { covariance, freedom: columns[0].length - taken }
}

/** A closed curve as what is told of a fit needs it: it has no value by what it stands against. */
function closed({ formula, parameters, readings }: LoopLaw, value: string): Law {
  const nothing = () => {
    throw new FitError('A closed curve is not told by the one quantity.')
  }
  return {
    ...{ parameters, readings, linear: [], begin: nothing },
    ...AS_KNOWN,
    formula: (given, along) => formula(given, along, value),
    on: () => (_, values) => values.fill(Number.NaN),
  }
}

/** The fit in the shape that all fits have. */
function solvedBy(
  found: Adjusted,
  points: PathPoints,
  up: Column,
  law: Law,
): { solved: Solved; sample: FitSample } {
  const { rows, frames, x, y, swayX, swayY } = points
  const { parameters, cofactors, columns, byX, byY, errors, rss, white } = found
  const count = rows.length
  const { covariance, freedom } = sharedCovariance(found, points)
  const isTold = freedom > 0.5 && count > parameters.length
  const variance = isTold ? rss / freedom : Number.NaN
  const widened = Number.isFinite(variance) ? Math.sqrt(variance) : 1
  const sample: FitSample = {
    ...{ rows, frames, places: x, values: y, breaks: [], carried: null, smoothed: null },
    whiten: whiteningBy(errors),
    errors: Float64Array.from(rows, (row) => up.errors[row]),
    shifts: shiftsAcross(points, found),
    sway: (i, times, into) => {
      swayX[i].each((error, by) => into.add(error, times * byX[i] * by))
      swayY[i].each((error, by) => into.add(error, times * byY[i] * by))
    },
  }
  const isExplicit = Number.isFinite(valueAt(law, parameters, x[0]))
  const solved: Solved = {
    ...{ parameters, points: count, rss, widened, weights: null, white, told: count },
    freedom: isTold ? Math.round(freedom) : 0,
    covariance: covariance.map((row) => row.map((one) => one * variance)),
    reducedChiSquare: isTold ? variance : null,
    movedBy: ([change]) => {
      const changed = change.map((by, i) => by / errors[i])
      const pull = Float64Array.from(columns, (column) => -product(column, changed))
      return Float64Array.from(cofactors, (row) => product(row, pull))
    },
    pulledBy: (weights) => {
      const pulls = new Float64Array(count)
      cofactors.forEach((_, k) => {
        const by = -cofactors.reduce((sum, row, j) => sum + weights[j] * row[k], 0)
        for (let i = 0; i < count; i++) pulls[i] += (by * columns[k][i]) / errors[i]
      })
      return [pulls]
    },
    members: [
      {
        ...{ law, sample, zero: 0, indices: Array.from(parameters, (_, k) => k) },
        // Of a closed curve in standard errors: a distance across it has no unit of its own.
        residuals: isExplicit
          ? Float64Array.from(y, (value, i) => value - valueAt(law, parameters, x[i]))
          : white,
        valuesAt: (given, places) => Float64Array.from(places, (place) => valueAt(law, given, place)),
        shown: (given) => law.shown(Array.from(given), 0),
      },
    ],
  }
  return { solved, sample }
}

function valueAt(law: Law, parameters: ArrayLike<number>, place: number): number {
  const value = new Float64Array(1)
  law.on([place])(Float64Array.from(parameters), value, null)
  return value[0]
}

/** Errors that all points share, as what they move the points off the curve by. */
function shiftsAcross({ shiftsX, shiftsY }: PathPoints, { byX, byY }: Adjusted): Shift[] {
  const keys = [...new Set([...shiftsX, ...shiftsY].map(({ key }) => key))]
  return keys.map((key): Shift => {
    const [along, up] = [shiftsX, shiftsY].map((all) => all.find((shift) => shift.key === key))
    return {
      ...(along ?? up)!,
      // Neither quantity is the time: what grows with it has grown in its values.
      stretch: 0,
      values: byX.map((slope, i) => slope * (along?.values[i] ?? 0) + byY[i] * (up?.values[i] ?? 0)),
    }
  })
}
