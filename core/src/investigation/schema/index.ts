import { boolean, number, type ObjectSchema, object, string, ValidationError } from 'yup'
import { LENGTH_NAMES } from '../../units/index.ts'
import { STRAY_LIMIT } from '../document/bodies.ts'
import { DOCUMENT_VERSION, type Investigation } from '../document/investigation.ts'
import { body } from './bodies.ts'
import { axes, camera, knownMotion, lens, lock, plane, probe, reference } from './calibration.ts'
import { byId, finite, flag, goTogether, MOST_FRAMES, seconds, title, uuid, whole } from './fields.ts'
import { footage, orientation, timing } from './footage.ts'
import { calculation, constant, derivation, fit, graph, ownQuantity, stretch } from './graphs.ts'

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
    .test(
      'order',
      'span must not end before it begins',
      goTogether((span) => span.first <= span.last),
    ),
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
    momentum: boolean().strict(),
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
  calculations: byId(calculation),
  tolerance: number().strict().min(0).max(100).nullable().defined(),
})
  .noUnknown()
  .strict()
  .required()
  .test(
    'main-axes',
    'mainAxes must be one of the axes',
    goTogether(({ axes: all, mainAxes }) => Object.hasOwn(all as object, mainAxes)),
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
