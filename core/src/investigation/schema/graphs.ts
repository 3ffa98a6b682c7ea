import { array, lazy, mixed, object, type Schema, string } from 'yup'
import { type Against, FIT_FORMS, MODEL_IDS, MOST_FREE_FORM, ROBUST_IDS } from '../document/fits.ts'
import { GRAPH_HEIGHTS, MARK_STYLES, MOST_POINTS, TRANSFORM_IDS } from '../document/graphs.ts'
import { DERIVATIVE_IDS, MOST_EXPRESSION, QUANTITY_IDS, REACH, TIME } from '../document/quantities.ts'
import { LIMITS } from '../limits.ts'
import {
  byFrame,
  byId,
  finite,
  flag,
  goTogether,
  isPlainObject,
  limit,
  point,
  text,
  title,
  UUID,
  uuid,
  whole,
} from './fields.ts'

export const derivation = () =>
  object({
    method: string().strict().required().oneOf(DERIVATIVE_IDS),
    reach: whole(REACH.least, REACH.most),
    weighted: flag(),
  })
    .noUnknown()
    .strict()

/** Returns a quantity that is known by itself, or the id of one that somebody has defined. */
const quantityId = () =>
  string()
    .strict()
    .required()
    .test(
      'quantity',
      '${path} must be a quantity',
      (id) => (QUANTITY_IDS as readonly string[]).includes(id) || UUID.test(id),
    )

const seriesFields = {
  order: finite(),
  body: uuid(),
  other: string().strict().matches(UUID).nullable().defined(),
  quantity: quantityId(),
}

const scaling = object({
  from: limit(),
  to: limit(),
  zero: flag(),
  log: flag(),
  transform: string().strict().required().oneOf(TRANSFORM_IDS),
  label: text(120),
})
  .noUnknown()
  .strict()
  .required()

/** Checked by hand, as marks are: there can be many. */
const numbers = () =>
  array()
    .strict()
    .required()
    .max(MOST_POINTS)
    .test('numbers', '${path} must be finite numbers', (values) =>
      // Holes, too, which every() would pass over.
      Array.from(values as unknown[]).every((value) => Number.isFinite(value)),
    )

const overlay = object({
  order: finite(),
  name: title(200),
  times: numbers().test('increasing', '${path} must increase', (times) =>
    (times as number[]).every((time, i, all) => i === 0 || time > all[i - 1]),
  ),
  values: numbers(),
  offset: finite(),
})
  .noUnknown()
  .strict()
  .test(
    'pairs',
    '${path} must have as many values as times',
    goTogether(({ times, values }) => times.length === values.length),
  )

export const graph = object({
  ...seriesFields,
  xQuantity: lazy((value: unknown) => (value === TIME ? string().strict().required() : quantityId())),
  also: byId(object(seriesFields).noUnknown().strict(), LIMITS.onGraph),
  axes: string().strict().matches(UUID).nullable().defined(),
  derivation: derivation().nullable().defined().default(undefined),
  errorBars: flag(),
  markStyle: string().strict().required().oneOf(MARK_STYLES),
  scaleX: scaling,
  scaleY: scaling,
  equal: flag(),
  grid: flag(),
  title: text(120),
  height: finite().min(GRAPH_HEIGHTS.least).max(GRAPH_HEIGHTS.most),
  notes: byId(
    object({ frame: whole(0, LIMITS.frames), text: title(200) })
      .noUnknown()
      .strict(),
    LIMITS.onGraph,
  ),
  tangent: flag(),
  handTangent: object({ from: point().required(), to: point().required() })
    .noUnknown()
    .strict()
    .nullable()
    .defined()
    .default(undefined),
  overlays: byId(overlay, LIMITS.onGraph),
})
  .noUnknown()
  .strict()

export const constant = object({
  order: finite(),
  name: title(40),
  value: finite(),
  error: finite().min(0),
  unit: text(40),
})
  .noUnknown()
  .strict()

export const customQuantity = object({
  order: finite(),
  name: title(120),
  symbol: title(20),
  unit: text(40),
  expression: text(MOST_EXPRESSION),
})
  .noUnknown()
  .strict()

export const stretch = object({
  number: whole(1, 1e6),
  graph: uuid(),
  from: whole(0, LIMITS.frames),
  to: whole(0, LIMITS.frames),
  without: byFrame((value) => value === true),
})
  .noUnknown()
  .strict()

/** Returns a number for each of some names; few enough to be anybody's. */
const named = (entry: Schema) =>
  lazy((value: unknown) => {
    const names = isPlainObject(value) ? Object.keys(value) : []
    return object(Object.fromEntries(names.map((name) => [name, entry])))
      .strict()
      .required()
      .test(
        'names',
        '${path} has names that are too long, or too many',
        () => names.length <= MOST_NAMED.count && names.every((name) => name.length <= MOST_NAMED.length),
      )
  })
const MOST_NAMED = { count: 40, length: 40 }

const model = () => string().strict().required().oneOf(MODEL_IDS)

const AGAINST: Record<Against['kind'], Schema> = {
  value: object({ kind: string(), value: finite(), error: finite().min(0), label: text(120) }),
  expression: object({ kind: string(), expression: text(MOST_FREE_FORM) }),
  reading: object({ kind: string(), fit: uuid(), reading: text(40), factor: finite() }),
}

const against = () =>
  lazy((value: unknown): Schema => {
    if (value === null) return mixed().nullable().defined()
    const kind = isPlainObject(value) ? String(value.kind) : ''
    if (!Object.hasOwn(AGAINST, kind))
      return object({ kind: string().required().oneOf(Object.keys(AGAINST)) }).required()
    return (AGAINST[kind as Against['kind']] as ReturnType<typeof object>).noUnknown().strict().required()
  })

const expected = object({ reading: text(40), against: against() })

export const calculation = object({
  order: finite(),
  symbol: title(20),
  name: text(120),
  expression: text(MOST_FREE_FORM),
  unit: text(40),
  against: against(),
})
  .noUnknown()
  .strict()

/** What a fit says of its law. */
export const lawFields = {
  order: finite(),
  name: text(120),
  model: model(),
  form: string().strict().required().oneOf(FIT_FORMS),
  robust: string().strict().required().oneOf(ROBUST_IDS),
  expression: text(MOST_FREE_FORM),
  start: named(finite()),
  fixed: named(finite()),
  expected: expected.noUnknown().strict().nullable().defined().default(undefined),
}

export const fit = object({
  ...lawFields,
  stretch: uuid(),
  together: byId(
    object({ order: finite(), body: uuid(), quantity: quantityId(), model: model() }).noUnknown().strict(),
    LIMITS.together,
  ),
  shared: named(flag().isTrue()),
})
  .noUnknown()
  .strict()
