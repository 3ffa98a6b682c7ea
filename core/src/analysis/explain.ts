import {
  type ColumnFit,
  type Doubt,
  type ExpectedValue,
  type Fitted,
  fitColumn,
  type Reading,
  type Refit,
} from '../fitting/index.ts'
import { type Investigation, inOrder } from '../investigation/index.ts'
import { ExpressionError, type Range } from '../motion/index.ts'
import { FitError } from '../regression/index.ts'
import { clockOf, referenceReports } from '../scene/index.ts'
import { COMMON_CAPTURE_RATES } from '../time/index.ts'
import { parseUnit } from '../units/index.ts'
import { analyse } from './analyse.ts'
import { readoutEffect } from './readoutEffect.ts'
import type { Measured, Suspect, SuspectReason, SuspectSize } from './suspects.ts'

/** What is asked about. */
export interface Question {
  investigation: Investigation
  /** All columns of the fit, its own first, and what they were made of. */
  fits: readonly ColumnFit[]
  columns: readonly Fitted[]
  range: Range
  /** The same fit of other points. */
  refit: Refit
  /** The reading, and where it is found again in a fit of other points. */
  reading: Reading
  again: (fits: readonly ColumnFit[]) => Reading | undefined
  expected: ExpectedValue
  doubts: readonly Doubt[]
}

/** How near the factor that it takes must be to one of a common capture rate. */
const NEAR = 0.03
/** A scale that is off by more than this factor is off by a wrong unit, or not off. */
const MOST_MISTYPED = 1.6
/** Factors between units that people mix up. */
const MIXED_UNITS = [10, 100, 1000, 2.54, 25.4, 0.3048, 3.2808, 39.37]
/** Share of the points that is left out at either end to see whether they matter. */
const TRIMMED = 0.12
/** A tilt beyond this is seen by anybody, and a read-out takes no longer than a frame does. */
const MOST_TILT = (25 * Math.PI) / 180
/** A sensor's read-out that is asked about, to see how much it does. */
const TYPICAL_READOUT = { seconds: 0.02, towards: 'down' } as const
const LONGEST_READOUT = 0.04

/**
 * Returns everything that could explain why a reading misses what is expected, with the size that it would take and whether the
 * data speak for it: what they support first, then what they leave open. Nothing of the investigation is changed.
 */
export function explain(question: Question): Suspect[] {
  const ratio = Math.abs(question.expected.value / question.reading.value)
  if (!Number.isFinite(ratio) || ratio === 0) return []
  const found = [
    scale(question, ratio),
    slowMotion(question, ratio),
    stretchEnds(question),
    outlier(question),
    tilt(question, ratio),
    depth(question, ratio),
    readOut(question, ratio),
    drag(question, ratio),
    blur(question),
  ].filter((suspect) => suspect !== null)
  const rank = { for: 0, open: 1, against: 2 }
  return found
    .map((suspect, order) => ({ suspect, order }))
    .sort((a, b) => rank[a.suspect.support] - rank[b.suspect.support] || a.order - b.order)
    .map(({ suspect }) => suspect)
}

/** Returns how a reading goes with lengths and times: its powers of them. */
function powers({ unit }: Reading): { length: number; time: number } {
  const { length, time } = parseUnit(unit)?.dimension ?? { length: 0, time: 0 }
  return { length, time }
}

const because = <C extends SuspectReason['code']>(code: C) => ({ code })

function scale({ investigation, reading }: Question, ratio: number): Suspect | null {
  const { length } = powers(reading)
  if (length === 0) return null
  const factor = ratio ** (1 / length)
  const [first] = inOrder(investigation.references).filter(
    ([, one]) => one.use === 'scale' && one.length !== null,
  )
  const stated = first ? first[1].length! : null
  const size: SuspectSize =
    stated === null
      ? { code: 'lengths', factor }
      : { code: 'reference', name: first[1].name, needed: stated * factor, stated }
  const suspect = { cause: 'scale' as const, size, place: 'scale' as const }
  const checks = referenceReports(investigation, analyse(investigation).scene()).filter(
    ({ id, off, sigmas }) => off !== null && sigmas !== null && id !== first?.[0],
  )
  const agreeing = checks.find(
    ({ off, sigmas }) => sigmas! > 3 && Math.abs(1 / (1 + off!) - factor) < 0.3 * Math.abs(factor - 1),
  )
  if (agreeing) return { ...suspect, support: 'for', why: because('check-agrees') }
  const denying = checks.find(({ off, sigmas }) => sigmas! < 2 && Math.abs(off!) < 0.3 * Math.abs(factor - 1))
  if (denying) return { ...suspect, support: 'against', why: because('check-disagrees') }
  if (factor > MOST_MISTYPED || factor < 1 / MOST_MISTYPED) {
    const unit = MIXED_UNITS.find((one) => [one, 1 / one].some((by) => Math.abs(factor / by - 1) < NEAR))
    return unit
      ? { ...suspect, support: 'for', why: because('mixed-units') }
      : { ...suspect, support: 'against', why: because('too-large-a-slip') }
  }
  const round = roundLengthNear(stated, factor)
  if (round !== null) return { ...suspect, support: 'open', why: { code: 'round-length', length: round } }
  return { ...suspect, support: 'open', why: because('scale-unknown') }
}

/** Returns the round length where the stated one would have to be, within the errors of lab work; null where there is none. */
function roundLengthNear(stated: number | null, factor: number): number | null {
  if (stated === null) return null
  const wanted = stated * factor
  const round = Number(wanted.toPrecision(2))
  const isRound = Math.abs(wanted / round - 1) < 0.01 && Math.abs(factor - 1) > 0.03
  return isRound ? round : null
}

function slowMotion({ investigation, reading }: Question, ratio: number): Suspect | null {
  const { time } = powers(reading)
  const clock = clockOf(investigation)
  if (time === 0 || !clock || clock.rate === 0) return null
  // Times that are so many times too long make the reading so many powers too small.
  const factor = ratio ** (-1 / time)
  const suspect = {
    cause: 'slow-motion' as const,
    place: 'capture-rate' as const,
    size: { code: 'playback' as const, factor },
  }
  const rate = COMMON_CAPTURE_RATES.find(
    (one) => Math.abs(one / clock.rate / factor - 1) < NEAR && factor > 1.5,
  )
  if (rate && Object.keys(investigation.timing.capture).length === 0)
    return { ...suspect, support: 'for', why: { code: 'capture-rate-unset', rate } }
  if (factor > 0.95 && factor < 1.05) return { ...suspect, support: 'against', why: because('clock-better') }
  return { ...suspect, support: 'against', why: because('no-such-rate') }
}

function stretchEnds(question: Question): Suspect | null {
  const { fits, range, reading, expected } = question
  const residuals = fits[0].residuals()
  const count = Math.max(2, Math.round(TRIMMED * residuals.length))
  if (residuals.length - 2 * count < fits[0].parameters.length + 3) return null
  const frames = residuals.map(({ frame }) => frame)
  const cuts = [
    { ends: 'start' as const, from: frames[count], to: frames[frames.length - 1] },
    { ends: 'end' as const, from: frames[0], to: frames[frames.length - 1 - count] },
    { ends: 'both' as const, from: frames[count], to: frames[frames.length - 1 - count] },
  ].flatMap(({ ends, from, to }) => {
    const cut = { ...range, from, to }
    const then = refitted(question, cut)
    if (!then) return []
    // A fit to some of the points differs from that to all by what the variances differ by (Hausman 1978).
    const spread = Math.sqrt(Math.max(0, marksOf(then) ** 2 - marksOf(reading) ** 2))
    const moved = Math.abs(then.value - reading.value) / spread
    const nearer = 1 - Math.abs(then.value - expected.value) / Math.abs(reading.value - expected.value)
    return [{ ends, cut, then, moved, nearer }]
  })
  const [best] = [...cuts].sort((a, b) => b.nearer - a.nearer)
  if (!best) return null
  const size: SuspectSize = { code: 'without-ends', ends: best.ends, ...measured(best.then) }
  const suspect = { cause: 'stretch' as const, size, place: 'stretch' as const }
  if (best.moved > 3 && best.nearer > 0.5)
    return { ...suspect, support: 'for', range: best.cut, why: because('other-motion') }
  return { ...suspect, support: 'against', why: because('ends-agree') }
}

const measured = ({ value, error, unit }: Measured): Measured => ({ value, error, unit })

const marksOf = ({ parts }: Reading) => parts.find(({ source }) => source === 'marks')?.error ?? Number.NaN

function refitted({ refit, again }: Question, range: Range): Reading | null {
  try {
    return again(refit(range)) ?? null
  } catch (error) {
    if (error instanceof FitError || error instanceof ExpressionError) return null
    throw error
  }
}

function outlier({ doubts, reading, expected }: Question): Suspect | null {
  const found = doubts.find((doubt) => doubt.code === 'outlier')
  const suspect = { cause: 'outlier' as const, place: 'stretch' as const }
  if (!found)
    return { ...suspect, support: 'against', size: { code: 'far-mark' }, why: because('no-outlier') }
  const { frame, offset, unit, without } = found
  const nearer = Math.abs(without.value - expected.value) < 0.6 * Math.abs(reading.value - expected.value)
  return {
    ...suspect,
    support: nearer ? 'for' : 'open',
    frame,
    size: { code: 'without-frame', frame, ...measured(without) },
    why: { code: 'outlier-offset', frame, offset, unit },
  }
}

function tilt(question: Question, ratio: number): Suspect | null {
  const { fits, columns, range } = question
  const { quantity } = fits[0]
  if (fits[0].order === null || fits[0].isAngle || (quantity.direction !== 'x' && quantity.direction !== 'y'))
    return null
  const suspect = { cause: 'tilt' as const, place: 'axes' as const }
  if (ratio < 1)
    return {
      ...suspect,
      support: 'against',
      size: { code: 'tilt-only-reduces' },
      why: because('only-smaller'),
    }
  const angle = Math.acos(1 / ratio)
  const size: SuspectSize = { code: 'tilt-angle', angle }
  if (angle > MOST_TILT) return { ...suspect, size, support: 'against', why: because('tilt-visible') }
  // Turned axes show some of the acceleration along the other one.
  const across = acrossOf(columns[0], range)
  if (!across) return { ...suspect, size, support: 'open', why: because('other-axis-unknown') }
  const seen = Math.abs(across.value / question.reading.value)
  const error = Math.abs(across.error / question.reading.value)
  if (Math.abs(seen - Math.tan(angle)) < 3 * error + 0.1 * Math.tan(angle))
    return { ...suspect, size, support: 'for', why: because('other-axis-agrees') }
  return {
    ...suspect,
    size,
    support: 'against',
    why: { code: 'other-axis-disagrees', isLess: seen < Math.tan(angle), ...measured(across) },
  }
}

/** Returns the acceleration along the other axis. */
function acrossOf({ table, quantity }: Fitted, range: Range): Reading | null {
  const other = quantity.endsWith('x') ? quantity.replace(/x$/, 'y') : quantity.replace(/y$/, 'x')
  try {
    return fitColumn(table, other, range, { model: 'uniform-acceleration' }).reading
  } catch (error) {
    if (error instanceof FitError) return null
    throw error
  }
}

function depth({ reading }: Question, ratio: number): Suspect | null {
  const { length } = powers(reading)
  if (length === 0) return null
  const factor = ratio ** (1 / length)
  const suspect = {
    cause: 'depth' as const,
    place: 'scale' as const,
    size: { code: 'ruler-depth' as const, factor },
  }
  if (Math.abs(factor - 1) > 0.35) return { ...suspect, support: 'against', why: because('depth-visible') }
  return { ...suspect, support: 'open', why: because('depth-unknown') }
}

function readOut({ investigation, columns, reading }: Question, ratio: number): Suspect | null {
  if (powers(reading).time !== -2 || investigation.timing.readout) return null
  const effect = readoutEffect(investigation, columns[0].table.body, TYPICAL_READOUT)
  const suspect = { cause: 'readout' as const, place: 'read-out' as const }
  if (effect === null || effect === 0) return null
  // What it reads too high by goes with the read-out time; the other way round where the sensor is read from below.
  const seconds = ((1 / ratio - 1) / effect) * TYPICAL_READOUT.seconds
  const size: SuspectSize = { code: 'readout-time', seconds }
  if (Math.abs(seconds) > LONGEST_READOUT)
    return { ...suspect, size, support: 'against', why: because('readout-too-long') }
  return { ...suspect, size, support: 'open', why: because('readout-typical') }
}

function drag(question: Question, ratio: number): Suspect | null {
  const { fits, columns, range, reading } = question
  const { order, isAngle, model } = fits[0]
  if (order === null || order > 1 || isAngle || model.id !== 'uniform-acceleration') return null
  const suspect = { cause: 'drag' as const, place: null }
  const size: SuspectSize = { code: 'drag-share', factor: 1 / ratio }
  if (ratio < 1)
    return {
      ...suspect,
      size: { code: 'drag-only-reduces' },
      support: 'against',
      why: because('reading-too-large'),
    }
  let change: Reading
  try {
    change = fitColumn(columns[0].table, columns[0].quantity, range, {
      model: 'changing-acceleration',
    }).reading
  } catch (error) {
    if (error instanceof FitError) return null
    throw error
  }
  const { from, to } = fits[0]
  // A drag that grows from nothing takes, in the end, twice what it takes on the average.
  const wanted = (2 * Math.abs(reading.value) * (ratio - 1)) / (to - from)
  const seen = -Math.sign(reading.value) * change.value
  if (seen > 3 * marksOf(change) && seen > 0.4 * wanted)
    return { ...suspect, size, support: 'for', why: because('drag-seen') }
  if (seen + 3 * marksOf(change) < 0.4 * wanted)
    return { ...suspect, size, support: 'against', why: because('drag-not-seen') }
  return { ...suspect, size, support: 'open', why: because('drag-unknown') }
}

function blur({ reading }: Question): Suspect | null {
  if (powers(reading).time === 0) return null
  return {
    cause: 'blur',
    place: null,
    support: 'against',
    size: { code: 'blur-shift' },
    why: because('blur-no-rate'),
  }
}
