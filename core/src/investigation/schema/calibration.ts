import { array, number, object, string, tuple } from 'yup'
import { LENS_LIMITS } from '../../geometry/index.ts'
import { CAMERA_MOTIONS, PROBE_KINDS, PROBE_POINTS, REFERENCE_USES } from '../document/calibration.ts'
import { LIMITS } from '../limits.ts'
import {
  byFrame,
  byId,
  finite,
  flag,
  frame,
  goTogether,
  isPlacedByHand,
  length,
  placed,
  point,
  text,
  title,
  uuid,
  whole,
} from './fields.ts'

/** Metres from the camera, from nearest to farthest. */
const distances = () =>
  tuple([length().required(), length().required()])
    .strict()
    .required()
    .test(
      'order',
      '${path} must go from the nearer to the farther',
      goTogether((range) => range[0] <= range[1]),
    )

export const reference = object({
  order: finite(),
  name: title(120),
  note: text(500),
  ends: tuple([placed(), placed()]).strict().required(),
  length: length().nullable().defined(),
  lengthError: finite().min(0),
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

export const knownMotion = object({
  order: finite(),
  stretch: uuid(),
  derivative: whole(1, 2),
  value: finite().positive(),
  error: finite().min(0),
})
  .noUnknown()
  .strict()

export const axes = object({
  order: finite(),
  name: title(120),
  origin: placed(),
  tilt: finite(),
  tiltError: finite().min(0).max(4),
  turnedX: flag(),
  turnedY: flag(),
  placed: flag(),
})
  .noUnknown()
  .strict()

export const probe = object({
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
    goTogether(({ kind, points }) => points.length === PROBE_POINTS[kind as keyof typeof PROBE_POINTS]),
  )

const landmark = object({
  order: finite(),
  name: title(120),
  marks: byFrame(isPlacedByHand),
  gone: frame().nullable().defined(),
})
  .noUnknown()
  .strict()

export const camera = object({
  motion: string().strict().required().oneOf(CAMERA_MOTIONS),
  landmarks: byId(landmark, LIMITS.landmarks),
})
  .noUnknown()
  .strict()
  .required()

export const gravity = object({ direction: finite().min(-4).max(4), error: finite().min(0).max(4) })
  .noUnknown()
  .strict()
  .nullable()
  .defined()
  .default(undefined)

export const plane = object({
  corners: tuple([placed(), placed(), placed(), placed()]).strict().required(),
  width: length().nullable().defined(),
  height: length().nullable().defined(),
  sizeError: finite().min(0).max(1),
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

export const lens = object({
  k1: number().strict().nullable().defined().min(LENS_LIMITS.least).max(LENS_LIMITS.most),
  edges: byId(edge, LIMITS.edges),
})
  .noUnknown()
  .strict()
  .nullable()
  .defined()
  .default(undefined)

export const lock = () =>
  object({ by: uuid(), name: title(120) })
    .noUnknown()
    .strict()
    .nullable()
    .defined()
    .default(undefined)
