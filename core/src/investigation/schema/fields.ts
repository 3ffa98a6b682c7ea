import { boolean, lazy, mixed, number, object, type Schema, string, ValidationError } from 'yup'
import { framesIn, hasFrameKeys } from '../byFrame.ts'
import { LIMITS } from '../limits.ts'
import { isKeepable, isOneLine } from '../text.ts'

export const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/

export const isUuid = (value: unknown) => typeof value === 'string' && UUID.test(value)

export const finite = () =>
  number()
    .strict()
    .required()
    .test('finite', '${path} must be a finite number', (value) => Number.isFinite(value))
/** Limit of an axis; null: as far as the values go. */
export const limit = () =>
  number()
    .strict()
    .nullable()
    .defined()
    .test('finite', '${path} must be a finite number', (value) => value === null || Number.isFinite(value))
export const whole = (low: number, high: number) => finite().integer().min(low).max(high)
export const text = (most: number) =>
  string()
    .strict()
    .defined()
    .max(most)
    .test('kept', '${path} holds text that can’t be kept', (value) => isKeepable(value ?? ''))
/** Names and titles are one line of text that shows: no control characters. */
export const title = (most: number) =>
  text(most)
    .required()
    .test('one-line', '${path} must be one line of text', (value) => isOneLine(value ?? ''))
export const uuid = () => string().strict().required().matches(UUID, '${path} must be a UUID')
/** Returns the frames per second. */
export const rate = () => number().strict().positive().max(1e7)
export const frame = () => number().strict().integer().min(0).max(LIMITS.frames)
export const seconds = () => number().strict().positive().max(1e6)
export const point = () => object({ x: finite(), y: finite() }).noUnknown().strict()
export const placed = () =>
  object({ x: finite(), y: finite(), frame: whole(0, LIMITS.frames), error: placing().optional() })
    .noUnknown()
    .strict()
    .required()
/** Returns the standard error of a placed point, in pixels. */
const placing = () => number().strict().min(0).max(MOST_PLACING)
const MOST_PLACING = 1000
/** Metres. */
export const length = () => number().strict().positive().max(1e12)
export const flag = () => boolean().strict().required()

/**
 * A test of how the fields of an object, or the entries of a list, go together. Yup runs it before it looks at them one
 * by one: where they are unfit so that it can't tell, it is left to them to say so.
 */
export const goTogether =
  <T>(fits: (value: T) => boolean) =>
  (value: T): boolean => {
    try {
      return fits(value)
    } catch {
      return true
    }
  }

export function isPlainObject(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
}

/** What each thing that is known to be sound was checked by. Only what is frozen is noted: it stays as it is. */
const soundBy = new WeakMap<object, unknown>()

/** Returns true if a thing was found sound before by the same check, and can't have changed since. */
export const isKnownSound = (value: unknown, by: unknown) =>
  typeof value === 'object' && value !== null && soundBy.get(value) === by

/** Notes that a thing is sound, so that the next edit, which leaves it as it is, need not look at it again. */
export function noteSound(value: unknown, by: unknown): void {
  if (typeof value === 'object' && value !== null && Object.isFrozen(value)) soundBy.set(value, by)
}

/** Returns the schema of things of several kinds: each fits that of its kind. */
export const byKind = (kinds: Record<string, Schema>): Schema =>
  lazy((value: unknown): Schema => {
    const kind = isPlainObject(value) ? String(value.kind) : ''
    if (Object.hasOwn(kinds, kind)) return kinds[kind]
    return object({ kind: string().required().oneOf(Object.keys(kinds)) }).required()
  }) as unknown as Schema

/** Returns a collection keyed by UUID whose every entry fits `entry`, with so many entries at most. */
export const byId = (entry: Schema, most: number) =>
  mixed()
    .required()
    .test('by-id', '${path} must be keyed by UUID', function (value: unknown) {
      if (!isPlainObject(value)) return false
      const ids = Object.keys(value)
      if (ids.length > most)
        return this.createError({ message: `${this.path} has more than ${most} entries` })
      if (!ids.every((id) => UUID.test(id))) return false
      for (const id of ids)
        if (!isKnownSound(value[id], entry)) {
          const wrong = whatIsWrong(entry, value[id])
          if (wrong) return this.createError({ message: `${this.path}.${id}: ${wrong}` })
          noteSound(value[id], entry)
        }
      return true
    })

/** Returns the first thing that is wrong with a value, in words; null where it fits. */
export function whatIsWrong(schema: Schema, value: unknown): string | null {
  try {
    schema.validateSync(value, { strict: true, abortEarly: true })
    return null
  } catch (error) {
    if (error instanceof ValidationError) return error.errors[0]
    throw error
  }
}

export function isFrame(value: unknown): value is number {
  return Number.isSafeInteger(value) && (value as number) >= 0 && (value as number) < LIMITS.frames
}

export function isPlace(value: unknown): boolean {
  return (
    isPlainObject(value) &&
    Number.isFinite(value.x) &&
    Number.isFinite(value.y) &&
    Object.keys(value).length === 2
  )
}

/** Returns true if a value is the standard error of a placed point, in pixels. */
export const isPlacingError = (value: unknown) =>
  typeof value === 'number' && value >= 0 && value <= MOST_PLACING

export function isPlacedByHand(value: unknown): boolean {
  if (!isPlainObject(value) || !('error' in value)) return isPlace(value)
  const { error, ...place } = value
  return isPlacingError(error) && isPlace(place)
}

/** Checked by hand: there can be tens of thousands of marks, and a schema object each would take seconds. */
export const byFrame = (
  fits: (value: unknown) => boolean,
  areTogether: (values: Record<string, unknown>) => boolean = () => true,
) =>
  mixed()
    .required()
    .test('marks', '${path} must be marks keyed by frame', (value: unknown) => {
      if (isKnownSound(value, fits)) return true
      if (!isPlainObject(value) || !hasFrameKeys(value)) return false
      const frames = framesIn(value)
      if (frames.length > 0 && !isFrame(frames[frames.length - 1])) return false
      for (const frame of frames) {
        const mark = value[frame]
        if (isKnownSound(mark, fits)) continue
        if (!fits(mark)) return false
        noteSound(mark, fits)
      }
      if (!areTogether(value)) return false
      noteSound(value, fits)
      return true
    })
