import { boolean, lazy, number, object, type Schema, string } from 'yup'
import { isKeepable, isOneLine } from '../text.ts'

export const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/
const MOST_THINGS = 2000
export const MOST_FRAMES = 1_000_000

export const finite = () =>
  number()
    .strict()
    .required()
    .test('finite', '${path} must be a finite number', (value) => Number.isFinite(value))
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
/** Frames per second. */
export const rate = () => number().strict().positive().max(1e7)
export const frame = () => number().strict().integer().min(0).max(MOST_FRAMES)
export const seconds = () => number().strict().positive().max(1e6)
export const point = () => object({ x: finite(), y: finite() }).noUnknown().strict()
export const placed = () =>
  object({ x: finite(), y: finite(), frame: whole(0, MOST_FRAMES) })
    .noUnknown()
    .strict()
    .required()
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

/** A collection keyed by UUID whose every entry fits `entry`. */
export function byId(entry: Schema) {
  return lazy((value: unknown) => {
    if (!isPlainObject(value)) return object().strict().required()
    const ids = Object.keys(value)
    return object(Object.fromEntries(ids.map((id) => [id, entry])))
      .strict()
      .required()
      .test('ids', '${path} must be keyed by UUID', () => ids.every((id) => UUID.test(id)))
      .test('count', `\${path} has more than ${MOST_THINGS} entries`, () => ids.length <= MOST_THINGS)
  })
}

export function isFrame(value: unknown): value is number {
  return Number.isSafeInteger(value) && (value as number) >= 0 && (value as number) < MOST_FRAMES
}

export function isPlace(value: unknown): boolean {
  return (
    isPlainObject(value) &&
    Number.isFinite(value.x) &&
    Number.isFinite(value.y) &&
    Object.keys(value).length === 2
  )
}

/** Checked by hand: there can be tens of thousands of marks, and a schema object each would take seconds. */
export const byFrame = (
  fits: (value: unknown) => boolean,
  areTogether: (values: Record<string, unknown>) => boolean = () => true,
) =>
  lazy((value: unknown) =>
    object()
      .strict()
      .required()
      .test('marks', '${path} must be marks keyed by frame', () => {
        if (!isPlainObject(value)) return false
        const areFit = Object.entries(value).every(
          ([frame, mark]) => /^(0|[1-9]\d{0,6})$/.test(frame) && isFrame(Number(frame)) && fits(mark),
        )
        return areFit && areTogether(value)
      }),
  )
