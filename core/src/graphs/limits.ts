import type { AxisDescription } from './describe.ts'

/** Visible interval of one axis. */
export interface Limits {
  from: number
  to: number
}

/** Room beyond the outermost values, as a share of their range. */
const ROOM = 0.06

/**
 * Returns the visible interval of an axis: the range of its values with some room, including 0 if asked for, or the
 * limits that were set.
 */
export function limitsOf(
  { from, to, zero, log }: Pick<AxisDescription, 'from' | 'to' | 'zero' | 'log'>,
  values: Iterable<number>,
): Limits {
  let [least, most] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY]
  for (const value of values) {
    if (!Number.isFinite(value) || (log && !(value > 0))) continue
    least = Math.min(least, value)
    most = Math.max(most, value)
  }
  if (least > most) [least, most] = log ? [1, 10] : [0, 1]
  if (log) {
    const factor = Math.max(1.05, (most / least) ** ROOM)
    const set = (limit: number | null, usual: number) => (limit !== null && limit > 0 ? limit : usual)
    return ordered({ from: set(from, least / factor), to: set(to, most * factor) })
  }
  const room = ROOM * (most - least) || Math.abs(most) * ROOM || 1
  const [low, high] = [least - room, most + room]
  return ordered({
    from: from ?? (zero && least >= 0 ? 0 : zero ? Math.min(0, low) : low),
    to: to ?? (zero && most <= 0 ? 0 : zero ? Math.max(0, high) : high),
  })
}

const ordered = ({ from, to }: Limits): Limits =>
  from < to ? { from, to } : { from: to, to: from === to ? to + 1 : from }

/** Returns both intervals, one of them widened until a unit is equally long along both axes. */
export function equalised(
  x: Limits,
  y: Limits,
  { width, height }: { width: number; height: number },
): { x: Limits; y: Limits } {
  const each = Math.max((x.to - x.from) / width, (y.to - y.from) / height)
  const widened = ({ from, to }: Limits, pixels: number): Limits => {
    const middle = (from + to) / 2
    return { from: middle - (each * pixels) / 2, to: middle + (each * pixels) / 2 }
  }
  return { x: widened(x, width), y: widened(y, height) }
}

/** Limits that are worked out on an even scale, from their ends on it: of a logarithmic scale their logarithms. */
function onEven(
  { from, to }: Limits,
  isLog: boolean,
  worked: (low: number, high: number) => [number, number],
): Limits {
  if (!isLog) {
    const [low, high] = worked(from, to)
    return { from: low, to: high }
  }
  const [low, high] = worked(Math.log(from), Math.log(to))
  return { from: Math.exp(low), to: Math.exp(high) }
}

/** Shares of a direction that two fingers are apart at least: closer together they don't tell how far to zoom. */
const LEAST_APART = 0.02

/**
 * Returns the limits after points of the axis were dragged: translated by one pointer, translated and scaled by two.
 *
 * @param before shares of what is seen at which it was taken hold of, one or two
 * @param now shares at which that is held now
 */
export function draggedLimits(
  limits: Limits,
  before: readonly number[],
  now: readonly number[],
  isLog: boolean,
): Limits {
  const apart = (shares: readonly number[]) => (shares.length > 1 ? shares[1] - shares[0] : 0)
  const canZoom = Math.abs(apart(now)) >= LEAST_APART && apart(before) * apart(now) > 0
  const factor = canZoom ? apart(before) / apart(now) : 1
  return onEven(limits, isLog, (low, high) => {
    const range = (high - low) * factor
    const start = low + before[0] * (high - low) - now[0] * range
    return [start, start + range]
  })
}

/** Returns limits scaled by a factor about a position within them. */
export function zoomedLimits(limits: Limits, share: number, factor: number, isLog: boolean): Limits {
  return onEven(limits, isLog, (low, high) => {
    const at = low + share * (high - low)
    return [at + (low - at) * factor, at + (high - at) * factor]
  })
}
