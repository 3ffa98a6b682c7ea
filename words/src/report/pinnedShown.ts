import {
  type Block,
  FIGURE_WIDTHS,
  isLink,
  MOST_INDENT,
  MOTION_FORMS,
  type Pin,
  TEXT_MARKS,
  TEXT_STYLES,
} from '@apokinema/core/investigation'
import { array, boolean, lazy, number, object, type Schema, string } from 'yup'
import type { Shown } from './shown.ts'

/** What a pin may hold: it comes with the document, which may come from anywhere. */

const text = () => string().strict().defined()
const flag = () => boolean().strict().required()
const strict = (fields: Record<string, Schema>) => object(fields).noUnknown().strict().required()
const kind = () => string().strict().required()

/** Returns a schema for objects of several kinds, which are told by a field. */
function anyOf(field: string, kinds: Record<string, Record<string, Schema>>) {
  const schemas = Object.fromEntries(
    Object.entries(kinds).map(([name, fields]) => [name, strict({ [field]: kind(), ...fields })]),
  )
  return lazy((value: unknown): Schema => {
    const name = String((value as Record<string, unknown> | null)?.[field])
    return Object.hasOwn(schemas, name)
      ? schemas[name]
      : object()
          .required()
          .test('known', '${path} is unknown', () => false)
  }) as unknown as Schema
}

const run = anyOf('kind', {
  text: {
    text: text(),
    marks: array().of(string().oneOf(TEXT_MARKS).required()).strict().required(),
    link: string()
      .strict()
      .nullable()
      .defined()
      .test('link', '${path} must be a link', (link) => link === null || isLink(link ?? '')),
  },
  value: { text: text(), isMissing: flag() },
  equation: { tex: text() },
  reference: { text: text(), block: text(), isMissing: flag() },
  'line-break': {},
})
const isPair = (value: unknown) =>
  Array.isArray(value) && value.length === 2 && value.every((part) => Number.isFinite(part))
const list = (of: Schema) => array().of(of).strict().defined()
const runs = () => list(run)

const end = () => number().strict().nullable().defined()
const range = () => strict({ from: end(), to: end() })

const picture = anyOf('of', {
  graph: {
    graph: text(),
    ratio: number().strict().required(),
    title: text().nullable(),
    fits: flag(),
    errorBars: boolean().strict().nullable().defined(),
    rangeX: range(),
    rangeY: range(),
  },
  frame: { frame: number().strict().integer().min(0).required() },
  chronophotograph: {
    every: number().strict().integer().min(1).required(),
    arrows: string().strict().required().oneOf(['none', 'velocity', 'acceleration', 'momentum']),
    grid: flag(),
  },
  motions: {
    motion: text(),
    form: string().strict().required().oneOf(MOTION_FORMS),
    ratio: number().strict().required(),
  },
  drawing: { svg: text() },
  photo: { data: text() },
})

const shown = anyOf('kind', {
  text: {
    style: string().strict().required().oneOf(TEXT_STYLES),
    indent: number().strict().integer().min(0).max(MOST_INDENT).required(),
    runs: runs(),
  },
  equation: { tex: text(), label: text() },
  figure: {
    picture,
    width: number().strict().min(FIGURE_WIDTHS.least).max(FIGURE_WIDTHS.most).required(),
    label: text(),
    caption: text(),
    alternative: text(),
    digest: text(),
  },
  result: {
    title: text(),
    tex: list(text()),
    rows: array()
      .strict()
      .defined()
      .test(
        'rows',
        '${path} must be names with values',
        (rows) =>
          rows?.every(
            (row) =>
              Array.isArray(row) &&
              row.length === 2 &&
              runs().isValidSync(row[0]) &&
              typeof row[1] === 'string',
          ) ?? false,
      ),
    sentences: list(text()),
    residuals: object({
      points: array()
        .strict()
        .defined()
        .test('points', '${path} must be pairs of numbers', (points) => points?.every(isPair) ?? false),
      most: text(),
      alternative: text(),
    })
      .noUnknown()
      .strict()
      .nullable()
      .defined()
      .default(undefined) as unknown as Schema,
  },
  table: { label: text(), caption: text(), head: list(runs()), rows: list(list(text())) },
  method: { text: text(), hasChanged: flag() },
  missing: { text: text() },
})

/** What pinned blocks showed, read once for each state of a block. */
const known = new WeakMap<Block, { shown: Shown | null }>()

/** Returns what a pinned block showed; null if it is not pinned, or its record can't be read: then it follows its sources. */
export function pinnedShown(block: Block): Shown | null {
  if (!block.pin) return null
  const found = known.get(block) ?? { shown: readPin(block.pin) }
  known.set(block, found)
  return found.shown
}

function readPin(pin: Pin): Shown | null {
  try {
    const value: unknown = JSON.parse(pin.shown)
    return shown.isValidSync(value) ? (value as Shown) : null
  } catch {
    return null
  }
}
