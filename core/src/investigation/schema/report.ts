import { array, mixed, number, object, type Schema, string } from 'yup'
import {
  type AxisRange,
  type BlockContent,
  type BlockKind,
  COLUMN_STATISTICS,
  COMPARED_VALUES,
  FIGURE_WIDTHS,
  FIT_STATISTICS,
  type Inline,
  isLink,
  isPhotoData,
  MOST_INDENT,
  MOST_TEX,
  MOTION_FORMS,
  PAPERS,
  TEXT_MARKS,
  TEXT_STYLES,
  VALUE_PARTS,
} from '../document/report.ts'
import { LIMITS } from '../limits.ts'
import { isKeepable } from '../text.ts'
import { byId, byKind, finite, flag, isPlainObject, isUuid, limit, text, uuid, whole } from './fields.ts'

const MOST_KEY = 80

const isKey = (value: unknown) =>
  typeof value === 'string' && value.length > 0 && value.length <= MOST_KEY && isKeepable(value)
const isOneOf = (all: readonly unknown[]) => (value: unknown) => all.includes(value)

/** Returns true if an object has just these fields, each of which fits. */
function hasFields(value: unknown, fields: Record<string, (field: unknown) => boolean>): boolean {
  if (!isPlainObject(value)) return false
  const names = Object.keys(fields)
  return (
    Object.keys(value).length === names.length &&
    names.every((name) => Object.hasOwn(value, name) && fields[name](value[name]))
  )
}

const SOURCES: Record<string, Record<string, (field: unknown) => boolean>> = {
  reading: { fit: isUuid, reading: isKey },
  parameter: { fit: isUuid, parameter: isKey },
  statistic: { fit: isUuid, statistic: isOneOf(FIT_STATISTICS) },
  'fit-comparison': { fit: isUuid, value: isOneOf(COMPARED_VALUES) },
  calculation: { calculation: isUuid },
  'calculation-comparison': { calculation: isUuid, value: isOneOf(COMPARED_VALUES) },
  reference: { reference: isUuid },
  constant: { constant: isUuid },
  probe: { probe: isUuid },
  mass: { body: isUuid },
  marks: { body: isUuid },
  'body-name': { body: isUuid },
  scale: {},
  'frame-rate': {},
  'free-fall': {},
  title: {},
  column: { column: isUuid, statistic: isOneOf(COLUMN_STATISTICS) },
  cell: { trial: isUuid, column: isUuid },
  trials: {},
}

function isSource(value: unknown): boolean {
  if (!isPlainObject(value) || typeof value.of !== 'string' || !Object.hasOwn(SOURCES, value.of)) return false
  return hasFields(value, { of: () => true, ...SOURCES[value.of] })
}

const isFormat = (value: unknown) =>
  hasFields(value, {
    part: isOneOf(VALUE_PARTS),
    digits: (digits) =>
      digits === null || (Number.isInteger(digits) && 1 <= Number(digits) && Number(digits) <= 15),
    withUnit: (one) => typeof one === 'boolean',
  })

const isText = (most: number) => (value: unknown) =>
  typeof value === 'string' && value.length <= most && isKeepable(value)

const areMarks = (value: unknown) =>
  Array.isArray(value) && new Set(value).size === value.length && value.every(isOneOf(TEXT_MARKS))

const INLINES: Record<string, Record<string, (field: unknown) => boolean>> = {
  text: {
    text: (value) => isText(LIMITS.blockCharacters)(value) && value !== '',
    marks: areMarks,
    link: (link) => link === null || (typeof link === 'string' && link.length <= 2000 && isLink(link)),
  },
  value: { source: isSource, format: isFormat },
  equation: { tex: isText(MOST_TEX) },
  reference: { block: isUuid },
  'line-break': {},
}

/** Returns true if a value is a piece of a paragraph. */
function isInline(value: unknown): boolean {
  if (!isPlainObject(value) || typeof value.kind !== 'string' || !Object.hasOwn(INLINES, value.kind))
    return false
  return hasFields(value, { kind: () => true, ...INLINES[value.kind] })
}

/** Checked by hand: a long text has thousands of pieces, and a schema object each would take too long. */
const inlines = () =>
  mixed()
    .required()
    .test('inlines', '${path} must be pieces of text', (value: unknown) => {
      if (!Array.isArray(value) || value.length > LIMITS.inlines || !value.every(isInline)) return false
      const characters = (value as { text?: string }[]).reduce((sum, one) => sum + (one.text?.length ?? 0), 0)
      return characters <= LIMITS.blockCharacters
    })

const width = () => finite().min(FIGURE_WIDTHS.least).max(FIGURE_WIDTHS.most)
const optionalText = (most: number) =>
  string()
    .strict()
    .max(most)
    .nullable()
    .defined()
    .test('kept', '${path} holds text that can’t be kept', (value) => isKeepable(value ?? ''))
const figureText = { caption: optionalText(2000), alternative: optionalText(2000) }
const key = () => string().strict().required().max(MOST_KEY)

/** What is seen along an axis; one that begins behind its end shows nothing. */
const range = () =>
  object({ from: limit(), to: limit() })
    .noUnknown()
    .strict()
    .required()
    .test('range', '${path} must begin before it ends', (value) => {
      const { from, to } = value as AxisRange
      return from === null || to === null || from < to
    })

const KINDS: Record<BlockKind, Record<string, Schema>> = {
  text: {
    style: string().strict().required().oneOf(TEXT_STYLES),
    indent: whole(0, MOST_INDENT),
    inlines: inlines(),
  },
  equation: { tex: text(MOST_TEX) },
  graph: {
    graph: uuid(),
    width: width(),
    ratio: finite().min(0.2).max(3),
    title: optionalText(200),
    fits: flag(),
    errorBars: flag().nullable().defined(),
    rangeX: range(),
    rangeY: range(),
    ...figureText,
  },
  frame: { frame: whole(0, LIMITS.frames), width: width(), ...figureText },
  chronophotograph: {
    width: width(),
    every: whole(1, LIMITS.frames),
    arrows: string().strict().required().oneOf(['none', 'velocity', 'acceleration', 'momentum']),
    grid: flag(),
    ...figureText,
  },
  image: {
    name: text(200),
    data: string()
      .strict()
      .required()
      .test('photo', '${path} must be a picture', (data) => isPhotoData(data ?? '')),
    width: width(),
    ...figureText,
  },
  fit: { fit: uuid(), parameters: flag(), closeness: flag(), residuals: flag() },
  reading: { fit: uuid(), reading: key(), budget: flag() },
  comparison: { fit: uuid() },
  'calculation-comparison': { calculation: uuid() },
  calculation: { calculation: uuid(), budget: flag() },
  table: {
    bodies: array().of(uuid()).strict().required().min(1).max(LIMITS.bodies),
    columns: array().of(key()).strict().required().min(1).max(LIMITS.tableColumns),
    rows: number().strict().integer().min(2).max(2000).nullable().defined(),
    rounded: flag(),
    errors: flag(),
    caption: optionalText(2000),
  },
  trials: {
    columns: array().of(uuid()).strict().max(LIMITS.tableColumns).nullable().defined(),
    statistics: flag(),
    errors: flag(),
    caption: optionalText(2000),
  },
  mean: { column: uuid(), budget: flag() },
  motions: {
    motion: uuid(),
    form: string().strict().required().oneOf(MOTION_FORMS),
    width: width(),
    ratio: finite().min(0.2).max(3),
    ...figureText,
  },
  method: { text: optionalText(LIMITS.blockCharacters), facts: text(LIMITS.blockCharacters) },
  question: { question: text(4000), answer: inlines() },
  'page-break': {},
  unknown: { original: text(100_000) },
}

const pin = object({ at: key(), shown: text(LIMITS.pinnedCharacters) })
  .noUnknown()
  .strict()
  .nullable()
  .defined()
  .default(undefined)

const SCHEMAS = Object.fromEntries(
  Object.entries(KINDS).map(([kind, fields]) => [
    kind,
    object({ kind: string().strict().required(), order: finite(), pin, ...fields })
      .noUnknown()
      .strict()
      .required(),
  ]),
)

const block = byKind(SCHEMAS)

const printed = object({
  at: key(),
  blocks: byId(
    object({ text: text(4000), digest: key() })
      .noUnknown()
      .strict()
      .required(),
    LIMITS.blocks,
  ),
})
  .noUnknown()
  .strict()
  .nullable()
  .defined()
  .default(undefined)

export const reportSchema = object({
  title: text(200),
  author: text(200),
  date: text(100),
  paper: string().strict().required().oneOf(PAPERS),
  blocks: byId(block, LIMITS.blocks),
  printed,
})
  .noUnknown()
  .strict()
  .required()

/** Returns a piece of a paragraph from outside, such as one that was copied; null if it is none. */
export const readInline = (value: unknown): Inline | null => (isInline(value) ? (value as Inline) : null)

/** Returns what a block shows from outside, such as one that was copied; null if it is none. */
export function readBlockContent(value: unknown): BlockContent | null {
  if (!isPlainObject(value) || !Object.hasOwn(SCHEMAS, String(value.kind))) return null
  return SCHEMAS[String(value.kind)].isValidSync({ ...value, order: 0, pin: null })
    ? (value as BlockContent)
    : null
}

/** Returns true if a value is a block of a kind that this version does not know. */
export function isUnknownBlock(value: unknown): boolean {
  return isPlainObject(value) && typeof value.kind === 'string' && !Object.hasOwn(KINDS, value.kind)
}
