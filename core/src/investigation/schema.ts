import {
  array,
  boolean,
  lazy,
  number,
  type ObjectSchema,
  object,
  type Schema,
  string,
  tuple,
  ValidationError,
} from 'yup'
import { DIRECTIONS, RADII } from '../following/index.ts'
import { LENS_LIMITS } from '../geometry/index.ts'
import { READOUT_DIRECTIONS, REPEAT_USES } from '../time/index.ts'
import { LENGTH_NAMES } from '../units/index.ts'
import {
  BODY_COLOURS,
  BODY_SHAPES,
  BREAK_WORDS,
  type BreakWord,
  CAMERA_MOTIONS,
  DERIVATIVE_IDS,
  DOCUMENT_VERSION,
  FIT_FORMS,
  GRAPH_HEIGHTS,
  GRAPH_LOOKS,
  type Investigation,
  MODEL_IDS,
  MOST_EXPRESSION,
  MOST_POINTS,
  PROBE_KINDS,
  PROBE_POINTS,
  QUANTITY_IDS,
  REACH,
  REFERENCE_USES,
  STRAY_LIMIT,
  TIME,
  TRANSFORM_IDS,
} from './document.ts'

const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/
const MOST_THINGS = 2000
const MOST_FRAMES = 1_000_000

const finite = () =>
  number()
    .strict()
    .required()
    .test('finite', '${path} must be a finite number', (value) => Number.isFinite(value))
const whole = (low: number, high: number) => finite().integer().min(low).max(high)
const text = (most: number) => string().strict().defined().max(most)
/** Names and titles are one line of text that shows: no control characters. */
const title = (most: number) =>
  text(most)
    .required()
    .test('one-line', '${path} must be one line of text', (value) => !/\p{Cc}/u.test(value ?? ''))
const uuid = () => string().strict().required().matches(UUID, '${path} must be a UUID')
/** Frames per second. */
const rate = () => number().strict().positive().max(1e7)
const frame = () => number().strict().integer().min(0).max(MOST_FRAMES)
const seconds = () => number().strict().positive().max(1e6)
const point = () => object({ x: finite(), y: finite() }).noUnknown().strict()
const placed = () =>
  object({ x: finite(), y: finite(), frame: whole(0, MOST_FRAMES) })
    .noUnknown()
    .strict()
    .required()
/** Metres. */
const length = () => number().strict().positive().max(1e12)
const flag = () => boolean().strict().required()

function isPlainObject(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
}

/** A collection keyed by UUID whose every entry fits `entry`. */
function byId(entry: Schema) {
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

function isMark(value: unknown): boolean {
  if (!isPlainObject(value)) return false
  if (!Number.isFinite(value.x) || !Number.isFinite(value.y)) return false
  if ('right' in value && value.right !== true) return false
  if ('streak' in value && !isPlace(value.streak)) return false
  if ('until' in value && !isFrame(value.until)) return false
  const fields = Object.keys(value).filter((key) => !['right', 'streak', 'until'].includes(key)).length
  if (value.by === 'hand') return fields === 3
  const { certainty } = value
  const isShare = typeof certainty === 'number' && certainty >= 0 && certainty <= 1
  return value.by === 'follow' && isShare && fields === 4
}

function isFrame(value: unknown): value is number {
  return Number.isSafeInteger(value) && (value as number) >= 0 && (value as number) < MOST_FRAMES
}

function isPlace(value: unknown): boolean {
  return (
    isPlainObject(value) &&
    Number.isFinite(value.x) &&
    Number.isFinite(value.y) &&
    Object.keys(value).length === 2
  )
}

/** Marks of a body: no rest may end before it begins, or reach over the next mark. */
function areMarks(marks: Record<string, unknown>): boolean {
  const frames = Object.keys(marks)
    .map(Number)
    .sort((a, b) => a - b)
  return frames.every((frame, i) => {
    const { until } = marks[frame] as { until?: number }
    return until === undefined || (until > frame && (i + 1 === frames.length || until < frames[i + 1]))
  })
}

/** Checked by hand: there can be tens of thousands of marks, and a schema object each would take seconds. */
const byFrame = (
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

const footage = object({
  id: uuid(),
  name: title(255),
  size: whole(0, Number.MAX_SAFE_INTEGER),
  width: whole(1, 65536),
  height: whole(1, 65536),
  timeBase: object({ numerator: whole(1, 1e9), denominator: whole(1, 1e9) })
    .noUnknown()
    .strict(),
  ticks: object({
    first: whole(Number.MIN_SAFE_INTEGER, Number.MAX_SAFE_INTEGER),
    runs: array()
      .strict()
      .required()
      .max(MOST_FRAMES)
      .test('runs', '${path} must be pairs of a positive step and a count', (runs) => {
        const pairs = runs as unknown[]
        let frames = 1
        for (const pair of pairs) {
          if (!Array.isArray(pair) || pair.length !== 2) return false
          const [step, count] = pair as [unknown, unknown]
          if (!Number.isSafeInteger(step) || (step as number) <= 0) return false
          if (!Number.isSafeInteger(count) || (count as number) <= 0) return false
          frames += count as number
          if (frames > MOST_FRAMES) return false
        }
        return true
      }),
  })
    .noUnknown()
    .strict(),
  rotation: whole(0, 270).oneOf([0, 90, 180, 270]),
  notedCaptureRate: rate().nullable().defined(),
  converted: boolean().strict().required(),
})
  .noUnknown()
  .strict()

const orientation = object({ mirrored: boolean().strict().required(), quarterTurns: whole(0, 3) })
  .noUnknown()
  .strict()
  .required()

const captureRate = object({
  order: finite(),
  from: frame().nullable().defined(),
  to: frame().nullable().defined(),
  rate: rate().nullable().defined(),
  known: object({ from: frame().required(), to: frame().required(), seconds: seconds().required() })
    .noUnknown()
    .strict()
    .nullable()
    .defined()
    .default(undefined)
    .test(
      'order',
      '${path} must go from an earlier to a later frame',
      (known) => !known || known.from < known.to,
    ),
})
  .noUnknown()
  .strict()
  .test(
    'one',
    '${path} must state either a rate or a known time',
    ({ rate, known }) => (rate === null) !== (known === null),
  )

const repeats = object({
  frames: array()
    .strict()
    .required()
    .max(MOST_FRAMES)
    .test('increasing', '${path} must be increasing frames', (frames) =>
      (frames as unknown[]).every(
        (at, i, all) => Number.isSafeInteger(at) && (at as number) > (i > 0 ? (all[i - 1] as number) : 0),
      ),
    ),
  use: string().strict().required().oneOf(REPEAT_USES),
  originalRate: rate().nullable().defined(),
})
  .noUnknown()
  .strict()
  .nullable()
  .defined()
  .default(undefined)

const timing = object({
  constantRate: rate().nullable().defined(),
  rateError: number().strict().nullable().defined().min(0).max(1),
  zero: frame().nullable().defined(),
  capture: byId(captureRate),
  readout: object({
    seconds: number().strict().required().min(0).max(1),
    towards: string().strict().required().oneOf(READOUT_DIRECTIONS),
  })
    .noUnknown()
    .strict()
    .nullable()
    .defined()
    .default(undefined),
  repeats,
})
  .noUnknown()
  .strict()
  .required()

/** Metres from the camera, from nearest to farthest. */
const distances = () =>
  tuple([length().required(), length().required()])
    .strict()
    .required()
    .test('order', '${path} must go from the nearer to the farther', (range) => range[0] <= range[1])

const reference = object({
  order: finite(),
  name: title(120),
  note: text(500),
  ends: tuple([placed(), placed()]).strict().required(),
  length: length().nullable().defined(),
  lengthError: finite().min(0),
  placingError: finite().min(0).max(1000),
  depth: object({ reference: distances(), motion: distances() })
    .noUnknown()
    .strict()
    .nullable()
    .defined()
    .default(undefined),
  use: string().strict().required().oneOf(REFERENCE_USES),
})
  .noUnknown()
  .strict()

const knownMotion = object({
  order: finite(),
  stretch: uuid(),
  derivative: whole(1, 2),
  value: finite().positive(),
  error: finite().min(0),
})
  .noUnknown()
  .strict()

const axes = object({
  order: finite(),
  name: title(120),
  origin: placed(),
  tilt: finite(),
  turnedX: flag(),
  turnedY: flag(),
  placed: flag(),
})
  .noUnknown()
  .strict()

const probe = object({
  order: finite(),
  name: title(120),
  kind: string().strict().required().oneOf(PROBE_KINDS),
  points: array(placed()).strict().required(),
  oneFrame: flag(),
})
  .noUnknown()
  .strict()
  .test(
    'points',
    '${path} must have as many points as its kind takes',
    ({ kind, points }) => points.length === PROBE_POINTS[kind as keyof typeof PROBE_POINTS],
  )

const landmark = object({
  order: finite(),
  name: title(120),
  marks: byFrame(isPlace),
  gone: frame().nullable().defined(),
})
  .noUnknown()
  .strict()

const camera = object({
  motion: string().strict().required().oneOf(CAMERA_MOTIONS),
  landmarks: byId(landmark),
})
  .noUnknown()
  .strict()
  .required()

const plane = object({
  corners: tuple([placed(), placed(), placed(), placed()]).strict().required(),
  width: length().nullable().defined(),
  height: length().nullable().defined(),
  sizeError: finite().min(0).max(1),
  placingError: finite().min(0).max(1000),
})
  .noUnknown()
  .strict()
  .nullable()
  .defined()
  .default(undefined)

const edge = object({
  order: finite(),
  points: array(point().required()).strict().required().min(2).max(200),
})
  .noUnknown()
  .strict()

const lens = object({
  k1: number().strict().nullable().defined().min(LENS_LIMITS.least).max(LENS_LIMITS.most),
  edges: byId(edge),
})
  .noUnknown()
  .strict()
  .nullable()
  .defined()
  .default(undefined)

const lock = () =>
  object({ by: uuid(), name: title(120) })
    .noUnknown()
    .strict()
    .nullable()
    .defined()
    .default(undefined)

const body = object({
  order: finite(),
  name: title(120),
  colour: string().strict().required().oneOf(BODY_COLOURS),
  shape: string().strict().required().oneOf(BODY_SHAPES),
  mass: object({ value: finite().positive().max(1e12), error: finite().min(0).max(1e12) })
    .noUnknown()
    .strict()
    .nullable()
    .defined()
    .default(undefined),
  hidden: flag(),
  locked: flag(),
  outline: object({
    radii: array(finite().min(RADII.least).max(RADII.most)).strict().required().length(DIRECTIONS),
  })
    .noUnknown()
    .strict()
    .nullable()
    .defined()
    .default(undefined),
  markError: number().strict().positive().max(1000).nullable().defined(),
  marks: byFrame(isMark, areMarks),
  second: byFrame(isPlace),
  breaks: byFrame((word) => BREAK_WORDS.includes(word as BreakWord)),
})
  .noUnknown()
  .strict()

const derivation = () =>
  object({
    method: string().strict().required().oneOf(DERIVATIVE_IDS),
    reach: whole(REACH.least, REACH.most),
    weighted: flag(),
  })
    .noUnknown()
    .strict()

/** A quantity that is known by itself, or the id of one that somebody has defined. */
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
  from: number().strict().nullable().defined(),
  to: number().strict().nullable().defined(),
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
      (values as unknown[]).every((value) => Number.isFinite(value)),
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
    ({ times, values }) => times.length === values.length,
  )

const graph = object({
  ...seriesFields,
  across: lazy((value: unknown) => (value === TIME ? string().strict().required() : quantityId())),
  also: byId(object(seriesFields).noUnknown().strict()),
  axes: string().strict().matches(UUID).nullable().defined(),
  derivation: derivation().nullable().defined().default(undefined),
  errorBars: flag(),
  look: string().strict().required().oneOf(GRAPH_LOOKS),
  scaleAcross: scaling,
  scaleUp: scaling,
  equal: flag(),
  grid: flag(),
  title: text(120),
  height: finite().min(GRAPH_HEIGHTS.least).max(GRAPH_HEIGHTS.most),
  notes: byId(
    object({ frame: whole(0, MOST_FRAMES), text: title(200) })
      .noUnknown()
      .strict(),
  ),
  tangent: flag(),
  handTangent: object({ from: point().required(), to: point().required() })
    .noUnknown()
    .strict()
    .nullable()
    .defined()
    .default(undefined),
  overlays: byId(overlay),
})
  .noUnknown()
  .strict()

const constant = object({
  order: finite(),
  name: title(40),
  value: finite(),
  error: finite().min(0),
  unit: text(40),
})
  .noUnknown()
  .strict()

const ownQuantity = object({
  order: finite(),
  name: title(120),
  symbol: title(20),
  unit: text(40),
  expression: text(MOST_EXPRESSION),
})
  .noUnknown()
  .strict()

const stretch = object({
  number: whole(1, 1e6),
  graph: uuid(),
  from: whole(0, MOST_FRAMES),
  to: whole(0, MOST_FRAMES),
  without: byFrame((value) => value === true),
})
  .noUnknown()
  .strict()

const fit = object({
  order: finite(),
  stretch: uuid(),
  model: string().strict().required().oneOf(MODEL_IDS),
  form: string().strict().required().oneOf(FIT_FORMS),
  expected: object({ value: finite(), label: text(120) })
    .noUnknown()
    .strict()
    .nullable()
    .defined()
    .default(undefined),
})
  .noUnknown()
  .strict()

const investigation = object({
  version: whole(DOCUMENT_VERSION, DOCUMENT_VERSION),
  title: title(200),
  footage: footage.nullable().defined().default(undefined),
  orientation,
  timing,
  span: object({
    first: whole(0, MOST_FRAMES),
    last: whole(0, MOST_FRAMES),
    every: whole(1, MOST_FRAMES),
  })
    .noUnknown()
    .strict()
    .required()
    .test('order', 'span must not end before it begins', (span) => span.first <= span.last),
  lengthUnit: string().strict().required().oneOf(LENGTH_NAMES),
  references: byId(reference),
  knownMotions: byId(knownMotion),
  plane,
  lens,
  camera,
  axes: byId(axes),
  mainAxes: uuid(),
  gravity: number().strict().nullable().defined().min(-4).max(4),
  freeFall: object({ value: finite().positive().max(1e6), error: finite().min(0) })
    .noUnknown()
    .strict()
    .required(),
  direction: finite().min(-7).max(7),
  probes: byId(probe),
  locks: object({ scale: lock(), axes: lock() }).noUnknown().strict().required(),
  hidden: object({ scale: flag(), axes: flag() }).noUnknown().strict().required(),
  drawn: object({
    trail: seconds().nullable().defined(),
    times: flag(),
    velocity: flag(),
    acceleration: flag(),
    curves: flag(),
  })
    .noUnknown()
    .strict()
    .required(),
  strayLimit: finite().min(STRAY_LIMIT.least).max(STRAY_LIMIT.most),
  derivation: derivation().required(),
  constants: byId(constant),
  quantities: byId(ownQuantity),
  bodies: byId(body),
  graphs: byId(graph),
  stretches: byId(stretch),
  fits: byId(fit),
})
  .noUnknown()
  .strict()
  .required()
  .test(
    'main-axes',
    'mainAxes must be one of the axes',
    ({ axes: all, mainAxes }) => mainAxes in (all as object),
  ) as unknown as ObjectSchema<Investigation>

/**
 * Checks a document of this version from outside. Gives it back typed, or throws a RangeError that
 * names the first thing that is wrong.
 */
export function checkInvestigation(value: unknown): Investigation {
  try {
    return investigation.validateSync(value, { strict: true, abortEarly: true })
  } catch (error) {
    if (error instanceof ValidationError) throw new RangeError(error.errors[0])
    throw error
  }
}
