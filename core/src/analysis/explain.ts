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
import { clockOf, ExpressionError, type Range, referenceReports } from '../motion/index.ts'
import { FitError } from '../regression/index.ts'
import { COMMON_CAPTURE_RATES } from '../time/index.ts'
import { degrees, measurement, parseUnit, significant, withUnit } from '../units/index.ts'
import { analyse } from './analyse.ts'
import { readoutEffect } from './readoutEffect.ts'

/** What may be behind a reading that misses what is expected. */
export interface Suspect {
  cause: 'scale' | 'slow-motion' | 'stretch' | 'stray' | 'tilt' | 'depth' | 'read-out' | 'drag' | 'blur'
  name: string
  /** How large it would have to be to explain the gap; a sentence. */
  size: string
  /** Whether the data speak for it. */
  support: 'for' | 'open' | 'against'
  why: string
  /** Where it would be corrected; null where there is nothing to correct. */
  place: 'scale' | 'capture-rate' | 'stretch' | 'axes' | 'read-out' | null
  /** Frame to go to, and frames that the stretch would be cut to. */
  frame?: number
  range?: Range
}

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
const USUAL_READOUT = { seconds: 0.02, towards: 'down' } as const
const LONGEST_READOUT = 0.04

/**
 * Everything that could explain why a reading misses what is expected, with the size that it would take and whether the
 * data speak for it: what they support first, then what they leave open. Nothing of the investigation is changed.
 */
export function explain(question: Question): Suspect[] {
  const ratio = Math.abs(question.expected.value / question.reading.value)
  if (!Number.isFinite(ratio) || ratio === 0) return []
  const found = [
    scale(question, ratio),
    slowMotion(question, ratio),
    stretchEnds(question),
    stray(question),
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

/** How a reading goes with lengths and times: its powers of them. */
function powers({ unit }: Reading): { length: number; time: number } {
  const { length, time } = parseUnit(unit)?.dimension ?? { length: 0, time: 0 }
  return { length, time }
}

const percent = (factor: number) => withUnit(significant(100 * Math.abs(factor - 1), 2), '%')

function scale({ investigation, reading }: Question, ratio: number): Suspect | null {
  const { length } = powers(reading)
  if (length === 0) return null
  const factor = ratio ** (1 / length)
  const [first] = inOrder(investigation.references).filter(
    ([, one]) => one.use === 'scale' && one.length !== null,
  )
  const stated = first ? first[1].length! : null
  const size =
    stated === null
      ? `All lengths would have to be ${percent(factor)} ${factor > 1 ? 'longer' : 'shorter'}.`
      : `“${first[1].name}” would have to be ${withUnit(significant(stated * factor, 4), 'm')} long instead of ${withUnit(significant(stated, 4), 'm')}.`
  const suspect = { cause: 'scale' as const, name: 'The reference length', size, place: 'scale' as const }
  const checks = referenceReports(investigation, analyse(investigation).scene()).filter(
    ({ id, off, sigmas }) => off !== null && sigmas !== null && id !== first?.[0],
  )
  const agreeing = checks.find(
    ({ off, sigmas }) => sigmas! > 3 && Math.abs(1 / (1 + off!) - factor) < 0.3 * Math.abs(factor - 1),
  )
  if (agreeing)
    return {
      ...suspect,
      support: 'for',
      why: 'Another reference in the picture says the same: the scale is off by about so much.',
    }
  const denying = checks.find(({ off, sigmas }) => sigmas! < 2 && Math.abs(off!) < 0.3 * Math.abs(factor - 1))
  if (denying)
    return {
      ...suspect,
      support: 'against',
      why: 'Another reference in the picture agrees with the scale as it is.',
    }
  if (factor > MOST_MISTYPED || factor < 1 / MOST_MISTYPED) {
    const unit = MIXED_UNITS.find((one) => [one, 1 / one].some((by) => Math.abs(factor / by - 1) < NEAR))
    return unit
      ? { ...suspect, support: 'for', why: 'That is just what mixing up two units of length makes.' }
      : { ...suspect, support: 'against', why: 'Nobody misreads a length by so much.' }
  }
  const slip = slipBetween(stated, factor)
  if (slip) return { ...suspect, support: 'open', why: slip }
  return {
    ...suspect,
    support: 'open',
    why: 'The motion itself cannot tell: every length goes with it. Look at what was typed, and measure it again.',
  }
}

/** A round length that lies where the stated one would have to, within the errors of lab work. */
function slipBetween(stated: number | null, factor: number): string | null {
  if (stated === null) return null
  const wanted = stated * factor
  const round = Number(wanted.toPrecision(2))
  const isRound = Math.abs(wanted / round - 1) < 0.01 && Math.abs(factor - 1) > 0.03
  return isRound ? `${withUnit(String(round), 'm')} is a round length: it may have been mistyped.` : null
}

function slowMotion({ investigation, reading }: Question, ratio: number): Suspect | null {
  const { time } = powers(reading)
  const clock = clockOf(investigation)
  if (time === 0 || !clock || clock.rate === 0) return null
  // Times that are so many times too long make the reading so many powers too small.
  const factor = ratio ** (-1 / time)
  const suspect = {
    cause: 'slow-motion' as const,
    name: 'Slow motion',
    place: 'capture-rate' as const,
    size:
      factor > 1
        ? `The clip would have to play ${significant(factor, 3)} times slower than is reckoned with.`
        : `The clip would have to play ${significant(1 / factor, 3)} times faster than is reckoned with.`,
  }
  const rate = COMMON_CAPTURE_RATES.find(
    (one) => Math.abs(one / clock.rate / factor - 1) < NEAR && factor > 1.5,
  )
  if (rate && Object.keys(investigation.timing.capture).length === 0)
    return {
      ...suspect,
      support: 'for',
      why: `That is a clip captured at ${rate} frames a second, and no capture rate is set.`,
    }
  if (factor > 0.95 && factor < 1.05)
    return {
      ...suspect,
      support: 'against',
      why: 'Clocks of cameras are far better than that, and no slow motion is so slight.',
    }
  return { ...suspect, support: 'against', why: 'No common capture rate makes just that factor.' }
}

function stretchEnds(question: Question): Suspect | null {
  const { fits, range, reading, expected } = question
  const residuals = fits[0].residuals()
  const count = Math.max(2, Math.round(TRIMMED * residuals.length))
  if (residuals.length - 2 * count < fits[0].parameters.length + 3) return null
  const frames = residuals.map(({ frame }) => frame)
  const cuts = [
    { what: 'its beginning', from: frames[count], to: frames[frames.length - 1] },
    { what: 'its end', from: frames[0], to: frames[frames.length - 1 - count] },
    { what: 'both its ends', from: frames[count], to: frames[frames.length - 1 - count] },
  ].flatMap(({ what, from, to }) => {
    const cut = { ...range, from, to }
    const then = refitted(question, cut)
    if (!then) return []
    // A fit to some of the points differs from that to all by what the variances differ by (Hausman 1978).
    const spread = Math.sqrt(Math.max(0, marksOf(then) ** 2 - marksOf(reading) ** 2))
    const moved = Math.abs(then.value - reading.value) / spread
    const nearer = 1 - Math.abs(then.value - expected.value) / Math.abs(reading.value - expected.value)
    return [{ what, cut, then, moved, nearer }]
  })
  const [best] = [...cuts].sort((a, b) => b.nearer - a.nearer)
  if (!best) return null
  const suspect = { cause: 'stretch' as const, name: 'The stretch', place: 'stretch' as const }
  const says = `Without ${best.what}: ${measurement(best.then.value, best.then.error, best.then.unit)}.`
  if (best.moved > 3 && best.nearer > 0.5)
    return {
      ...suspect,
      support: 'for',
      size: says,
      range: best.cut,
      why: 'The points there belong to another motion: release, impact, a hand.',
    }
  return {
    ...suspect,
    support: 'against',
    size: says,
    why: 'What the points at its ends say is what all of them say.',
  }
}

const marksOf = ({ parts }: Reading) => parts.find(({ source }) => source === 'marks')?.error ?? Number.NaN

function refitted({ refit, again }: Question, range: Range): Reading | null {
  try {
    return again(refit(range)) ?? null
  } catch (error) {
    if (error instanceof FitError || error instanceof ExpressionError) return null
    throw error
  }
}

function stray({ doubts, reading, expected }: Question): Suspect | null {
  const found = doubts.find(({ kind }) => kind === 'stray')
  const suspect = { cause: 'stray' as const, name: 'A stray mark', place: 'stretch' as const }
  if (!found?.without || found.frame === undefined)
    return {
      ...suspect,
      support: 'against',
      size: 'One mark would have to lie far off the curve.',
      why: 'None does.',
    }
  const nearer =
    Math.abs(found.without.value - expected.value) < 0.6 * Math.abs(reading.value - expected.value)
  return {
    ...suspect,
    support: nearer ? 'for' : 'open',
    frame: found.frame,
    size: `Without frame ${found.frame}: ${measurement(found.without.value, found.without.error, found.without.unit)}.`,
    why: found.text,
  }
}

function tilt(question: Question, ratio: number): Suspect | null {
  const { fits, columns, range } = question
  const { quantity } = fits[0]
  if (fits[0].order === null || fits[0].isAngle || (quantity.direction !== 'x' && quantity.direction !== 'y'))
    return null
  const suspect = { cause: 'tilt' as const, name: 'The tilt of the axes', place: 'axes' as const }
  if (ratio < 1)
    return {
      ...suspect,
      support: 'against',
      size: 'No tilt makes a reading larger than it is along its own direction.',
      why: 'It would only make it smaller.',
    }
  const angle = Math.acos(1 / ratio)
  const size = `The axes would have to be turned by ${degrees(angle)}.`
  if (angle > MOST_TILT) return { ...suspect, size, support: 'against', why: 'Anybody would see that.' }
  // Turned axes show some of the acceleration along the other one.
  const across = acrossOf(columns[0], range)
  if (!across) return { ...suspect, size, support: 'open', why: 'Along the other axis nothing tells.' }
  const seen = Math.abs(across.value / question.reading.value)
  const error = Math.abs(across.error / question.reading.value)
  if (Math.abs(seen - Math.tan(angle)) < 3 * error + 0.1 * Math.tan(angle))
    return {
      ...suspect,
      size,
      support: 'for',
      why: 'Along the other axis there is just as much acceleration as that tilt makes.',
    }
  return {
    ...suspect,
    size,
    support: 'against',
    why: `Along the other axis there is ${measurement(across.value, across.error, across.unit)}: too ${seen < Math.tan(angle) ? 'little' : 'much'} for that.`,
  }
}

/** The acceleration along the other axis. */
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
    name: 'The depth of the ruler',
    place: 'scale' as const,
    size: `The ruler would have to stand ${percent(factor)} ${factor > 1 ? 'nearer to' : 'farther from'} the camera than the motion.`,
  }
  if (Math.abs(factor - 1) > 0.35) return { ...suspect, support: 'against', why: 'So much would be seen.' }
  return { ...suspect, support: 'open', why: 'The picture cannot tell: was it in the plane of the motion?' }
}

function readOut({ investigation, columns, reading }: Question, ratio: number): Suspect | null {
  if (powers(reading).time !== -2 || investigation.timing.readout) return null
  const effect = readoutEffect(investigation, columns[0].table.body, USUAL_READOUT)
  const suspect = { cause: 'read-out' as const, name: 'Rolling shutter', place: 'read-out' as const }
  if (effect === null || effect === 0) return null
  // What it reads too high by goes with the read-out time; the other way round where the sensor is read from below.
  const seconds = ((1 / ratio - 1) / effect) * USUAL_READOUT.seconds
  const size = `The sensor would have to take ${withUnit(significant(1000 * Math.abs(seconds), 2), 'ms')} from its ${seconds > 0 ? 'top to its bottom' : 'bottom to its top'} row.`
  if (Math.abs(seconds) > LONGEST_READOUT)
    return { ...suspect, size, support: 'against', why: 'None takes so long.' }
  return {
    ...suspect,
    size,
    support: 'open',
    why: 'Phones take 5 to 30 ms; an upright edge that leans when it moves fast shows it.',
  }
}

function drag(question: Question, ratio: number): Suspect | null {
  const { fits, columns, range, reading } = question
  const { order, isAngle, model } = fits[0]
  if (order === null || order > 1 || isAngle || model.id !== 'uniform-acceleration') return null
  const suspect = { cause: 'drag' as const, name: 'Drag of the air', place: null }
  const size = `It would have to take ${percent(1 / ratio)} of the acceleration, on the average.`
  if (ratio < 1)
    return {
      ...suspect,
      size: 'Air only takes from an acceleration.',
      support: 'against',
      why: 'The reading is too large.',
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
    return { ...suspect, size, support: 'for', why: 'The acceleration does grow less along the stretch.' }
  if (seen + 3 * marksOf(change) < 0.4 * wanted)
    return {
      ...suspect,
      size,
      support: 'against',
      why: 'Along the stretch the acceleration does not grow less by so much.',
    }
  return {
    ...suspect,
    size,
    support: 'open',
    why: 'Whether the acceleration grows less along the stretch these points do not tell.',
  }
}

function blur({ reading }: Question): Suspect | null {
  if (powers(reading).time === 0) return null
  return {
    cause: 'blur',
    name: 'Blur',
    place: null,
    support: 'against',
    size: 'A smear that is always marked at the same end shifts all times by the same.',
    why: 'That changes no speed and no acceleration.',
  }
}
