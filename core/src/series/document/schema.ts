import { type AnySchema, mixed, object, type Schema, string } from 'yup'
import {
  byId,
  byKind,
  calculationSchema,
  finite,
  flag,
  isPlainObject,
  LIMITS,
  lawFields,
  MOST_EXPRESSION,
  reportSchema,
  text,
  title,
  uuid,
  whatIsWrong,
  whole,
} from '../../investigation/index.ts'
import { VIEW_TROUBLES } from '../../registration/index.ts'
import { AXES_RULES, MEASURING_QUESTIONS, SERIES_VERSION, type Series } from './series.ts'

/** Trials and columns of a series at most. */
export const SERIES_LIMITS = { trials: 500, columns: 60 } as const

const id = () => string().strict().nullable().defined()
const kind = (one: string) => string().strict().required().oneOf([one])
const pixels = () => finite().min(0)

const typed = byKind({
  number: object({ kind: kind('number'), value: finite(), error: finite().min(0) })
    .noUnknown()
    .strict(),
  word: object({ kind: kind('word'), word: title(120) })
    .noUnknown()
    .strict(),
})

const moved = (one: 'same' | 'moved') =>
  object({ kind: kind(one), of: uuid(), farthest: pixels(), error: pixels() })
    .noUnknown()
    .strict()
const view = byKind({
  same: moved('same'),
  moved: moved('moved'),
  other: object({
    kind: kind('other'),
    of: uuid(),
    trouble: string().strict().required().oneOf(VIEW_TROUBLES),
  })
    .noUnknown()
    .strict(),
})

const measuring = byKind({
  waiting: object({ kind: kind('waiting') })
    .noUnknown()
    .strict(),
  question: object({
    kind: kind('question'),
    frame: whole(0, LIMITS.frames),
    why: string().strict().required().oneOf(MEASURING_QUESTIONS),
  })
    .noUnknown()
    .strict(),
})

/** Yup can't say of a thing of several kinds that it may be null. */
const orNull = (schema: Schema, what: string) =>
  mixed()
    .nullable()
    .test('or-null', `\${path} must be ${what}, or null`, (value) =>
      value === null ? true : value !== undefined && whatIsWrong(schema, value) === null,
    )

const trial = object({
  order: finite(),
  typed: byId(typed, SERIES_LIMITS.columns),
  leftOut: text(400).nullable(),
  view: orNull(view, 'how the view is known'),
  measuring: orNull(measuring, 'how measuring stands'),
})
  .noUnknown()
  .strict()

const source = (fields: Record<string, Schema>) =>
  object({ of: string(), ...fields })
    .noUnknown()
    .strict()
const key = () => string().strict().defined().max(80)
const SOURCES: Record<string, Schema> = {
  reading: source({ fit: uuid(), reading: key() }),
  calculation: source({ calculation: uuid() }),
  probe: source({ probe: uuid() }),
  mass: source({ body: uuid() }),
  constant: source({ constant: uuid() }),
  'free-fall': source({}),
  steepness: source({}),
}

const isSource = (value: unknown) =>
  isPlainObject(value) &&
  Object.hasOwn(SOURCES, String(value.of)) &&
  whatIsWrong(SOURCES[String(value.of)], value) === null

const content = byKind({
  number: object({ kind: kind('number'), error: finite().min(0) })
    .noUnknown()
    .strict(),
  word: object({ kind: kind('word') })
    .noUnknown()
    .strict(),
  reading: object({
    kind: kind('reading'),
    source: mixed().required().test('source', '${path} must be a number of a trial', isSource),
  })
    .noUnknown()
    .strict(),
  expression: object({ kind: kind('expression'), expression: text(MOST_EXPRESSION) })
    .noUnknown()
    .strict(),
})

const column = object({ order: finite(), name: title(120), symbol: title(40), unit: text(40), content })
  .noUnknown()
  .strict()

const graph = object({ order: finite(), x: uuid(), y: uuid(), title: text(120) })
  .noUnknown()
  .strict()

const motion = object({
  order: finite(),
  graph: uuid(),
  alignment: byKind({
    film: object({ kind: kind('film') })
      .noUnknown()
      .strict(),
    release: object({ kind: kind('release') })
      .noUnknown()
      .strict(),
    impact: object({ kind: kind('impact') })
      .noUnknown()
      .strict(),
    level: object({ kind: kind('level'), level: finite() })
      .noUnknown()
      .strict(),
  }),
})
  .noUnknown()
  .strict()

const FIELDS: Record<keyof Series, AnySchema> = {
  version: whole(SERIES_VERSION, SERIES_VERSION),
  title: title(200),
  trials: byId(trial, SERIES_LIMITS.trials),
  pattern: id(),
  axesRule: string().strict().required().oneOf(AXES_RULES),
  columns: byId(column, SERIES_LIMITS.columns),
  sorted: object({ column: uuid(), descending: flag() })
    .noUnknown()
    .strict()
    .nullable()
    .defined()
    .default(undefined),
  grouped: id(),
  graphs: byId(graph, LIMITS.graphs),
  motions: byId(motion, LIMITS.graphs),
  fits: byId(
    object({ ...lawFields, graph: uuid() })
      .noUnknown()
      .strict(),
    LIMITS.fits,
  ),
  calculations: byId(calculationSchema, LIMITS.calculations),
  report: reportSchema,
}

const schema = object(FIELDS).noUnknown().strict()

/**
 * Returns a series from outside, typed.
 *
 * @throws RangeError that names the first thing that is wrong
 */
export function checkSeries(value: unknown): Series {
  if (!isPlainObject(value)) throw new RangeError('A series must be an object.')
  const wrong = whatIsWrong(schema, value)
  if (wrong) throw new RangeError(wrong)
  const series = value as unknown as Series
  const dangling = danglingReference(series)
  if (dangling) throw new RangeError(`${dangling} points at something that is not there`)
  return series
}

/** Returns where a series points at something that it does not have; null where it does not. */
function danglingReference({
  trials,
  columns,
  pattern,
  sorted,
  grouped,
  graphs,
  fits,
}: Series): string | null {
  if (pattern !== null && !Object.hasOwn(trials, pattern)) return 'pattern'
  if (sorted && !Object.hasOwn(columns, sorted.column)) return 'sorted'
  if (grouped !== null && !Object.hasOwn(columns, grouped)) return 'grouped'
  for (const [id, { typed }] of Object.entries(trials))
    if (!Object.keys(typed).every((column) => Object.hasOwn(columns, column))) return `trials.${id}.typed`
  for (const [id, { x, y }] of Object.entries(graphs))
    if (!Object.hasOwn(columns, x) || !Object.hasOwn(columns, y)) return `graphs.${id}`
  for (const [id, { graph }] of Object.entries(fits))
    if (!Object.hasOwn(graphs, graph)) return `fits.${id}.graph`
  return null
}
