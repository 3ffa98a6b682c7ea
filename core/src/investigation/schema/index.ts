import { type AnySchema, boolean, number, object, string } from 'yup'
import { LENGTH_NAMES } from '../../units/index.ts'
import { framesIn } from '../byFrame.ts'
import { OUTLIER_LIMIT } from '../document/bodies.ts'
import { DOCUMENT_VERSION, type Investigation } from '../document/investigation.ts'
import { LIMITS } from '../limits.ts'
import type { Patch } from '../patch.ts'
import { danglingReference } from '../references.ts'
import { body, checkMarksInSteps, noteChangedMarks } from './bodies.ts'
import { axes, camera, gravity, knownMotion, lens, lock, plane, probe, reference } from './calibration.ts'
import {
  byId,
  finite,
  flag,
  goTogether,
  isKnownSound,
  isPlainObject,
  noteSound,
  seconds,
  title,
  uuid,
  whatIsWrong,
  whole,
} from './fields.ts'
import { footage, orientation, timing } from './footage.ts'
import { calculation, constant, customQuantity, derivation, fit, graph, stretch } from './graphs.ts'
import { refusal } from './refusals.ts'
import { reportSchema } from './report.ts'

/** What each field of a document has to be. */
const FIELDS: Record<keyof Investigation, AnySchema> = {
  version: whole(DOCUMENT_VERSION, DOCUMENT_VERSION),
  title: title(200),
  footage: footage.nullable().defined().default(undefined),
  orientation,
  timing,
  span: object({
    first: whole(0, LIMITS.frames),
    last: whole(0, LIMITS.frames),
    every: whole(1, LIMITS.frames),
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
  references: byId(reference, LIMITS.references),
  knownMotions: byId(knownMotion, LIMITS.knownMotions),
  plane,
  lens,
  camera,
  axes: byId(axes, LIMITS.axes),
  mainAxes: uuid(),
  gravity,
  freeFall: object({ value: finite().positive().max(1e6), error: finite().min(0) })
    .noUnknown()
    .strict()
    .required(),
  direction: finite().min(-7).max(7),
  probes: byId(probe, LIMITS.probes),
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
  outlierLimit: finite().min(OUTLIER_LIMIT.least).max(OUTLIER_LIMIT.most),
  derivation: derivation().required(),
  constants: byId(constant, LIMITS.constants),
  quantities: byId(customQuantity, LIMITS.quantities),
  bodies: byId(body, LIMITS.bodies),
  graphs: byId(graph, LIMITS.graphs),
  stretches: byId(stretch, LIMITS.stretches),
  fits: byId(fit, LIMITS.fits),
  calculations: byId(calculation, LIMITS.calculations),
  tolerance: number().strict().min(0).max(100).nullable().defined(),
  report: reportSchema,
  refusals: byId(refusal, LIMITS.refusals),
}

/** By themselves, under their names, so that one that was found sound before need not be looked at again. */
const SCHEMAS = new Map(Object.entries(FIELDS).map(([name, field]) => [name, object({ [name]: field })]))

/**
 * Checks a document of this version from outside. Gives it back typed, or throws a RangeError that
 * names the first thing that is wrong. What it shares with documents that were checked before costs nothing.
 */
export function checkInvestigation(value: unknown): Investigation {
  const document = checkFields(value)
  const dangling = danglingReference(document)
  if (dangling) throw new RangeError(`${dangling} points at something that is not there`)
  checkAmounts(document)
  return document
}

/**
 * Does what checkInvestigation does, in steps: a document with many marks does not keep others waiting.
 *
 * @param pause awaited between steps
 */
export async function checkInvestigationInSteps(
  value: unknown,
  pause: () => Promise<void>,
): Promise<Investigation> {
  if (isPlainObject(value)) await checkMarksInSteps(value.bodies, pause)
  return checkInvestigation(value)
}

/**
 * Does what checkInvestigationInSteps does for a document that a patch has made of one that was checked: an edit of a few
 * marks costs the check of these.
 */
export async function checkPatchedInSteps(
  before: Investigation,
  after: Investigation,
  patch: Patch,
  pause: () => Promise<void>,
): Promise<Investigation> {
  const schema = SCHEMAS.get('bodies')!
  const paths = patch.map(({ path }) => path)
  if (isKnownSound(before.bodies, schema) && noteChangedMarks(before.bodies, after.bodies, paths))
    noteSound(after.bodies, schema)
  return checkInvestigationInSteps(after, pause)
}

/** Checks a document field by field, but not whether what it points at is there; otherwise as checkInvestigation. */
export function checkFields(value: unknown): Investigation {
  if (!isPlainObject(value)) throw new RangeError('An investigation must be an object.')
  const unknown = Object.keys(value).find((name) => !SCHEMAS.has(name))
  if (unknown !== undefined) throw new RangeError(`An investigation has no field “${unknown.slice(0, 40)}”.`)
  for (const [name, schema] of SCHEMAS) {
    if (isKnownSound(value[name], schema)) continue
    const wrong = whatIsWrong(schema, { [name]: value[name] })
    if (wrong) throw new RangeError(wrong)
    noteSound(value[name], schema)
  }
  return value as unknown as Investigation
}

/** Refuses what only all parts together can have too much of. */
function checkAmounts({ bodies, camera, stretches, graphs }: Investigation): void {
  const count = (things: Record<string, unknown>) => framesIn(things).length
  const sum = <T>(all: Record<string, T>, of: (one: T) => number) =>
    Object.values(all).reduce((total, one) => total + of(one), 0)
  const marks =
    sum(bodies, ({ marks, second, breaks }) => count(marks) + count(second) + count(breaks)) +
    sum(camera.landmarks, ({ marks }) => count(marks)) +
    sum(stretches, ({ without }) => count(without))
  if (marks > LIMITS.marks) throw new RangeError(`an investigation has at most ${LIMITS.marks} marks`)
  const points = sum(graphs, ({ overlays }) => sum(overlays, ({ times }) => times.length))
  if (points > LIMITS.overlayPoints)
    throw new RangeError(`an investigation has at most ${LIMITS.overlayPoints} points of data from elsewhere`)
}
