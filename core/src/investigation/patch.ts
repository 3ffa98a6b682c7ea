import { enablePatches, type Patch as ImmerPatch, produce, produceWithPatches } from 'immer'
import { applyPatch as applyJsonPatch, type Operation } from 'rfc6902'
import { array, mixed, object, string } from 'yup'
import type { Investigation } from './document/investigation.ts'

enablePatches()

/** One change of a document in JSON Patch (RFC 6902); only these three operations are used. */
export type PatchOperation =
  | { op: 'add'; path: string; value: unknown }
  | { op: 'replace'; path: string; value: unknown }
  | { op: 'remove'; path: string }

export type Patch = PatchOperation[]

/** A patch that does not fit the document that it was to change. */
export class PatchError extends Error {}

const operation = object({
  op: string().strict().required().oneOf(['add', 'replace', 'remove']),
  path: string()
    .strict()
    .defined()
    .max(400)
    .matches(
      /^(\/(?!(__proto__|constructor|prototype)(\/|$))([^~/]|~[01])*)+$/,
      '${path} must be a JSON Pointer below the root',
    ),
  value: mixed().nullable(),
})
  .noUnknown()
  .strict()

const patchSchema = array().of(operation).strict().required().min(1).max(20000)

/** Checks a patch from outside; throws a yup ValidationError that says what is wrong. */
export function checkPatch(value: unknown): Patch {
  return patchSchema.validateSync(value, { strict: true }) as Patch
}

const pointerPart = (part: string | number) => String(part).replaceAll('~', '~0').replaceAll('/', '~1')

function toJsonPatch(patches: ImmerPatch[]): Patch {
  return patches.map(({ op, path, value }) => {
    const pointer = path.map((part) => `/${pointerPart(part)}`).join('')
    return op === 'remove' ? { op, path: pointer } : { op, path: pointer, value }
  })
}

/** What one edit did: the document after it, the patch that does it and the one that takes it back. */
export interface Edited {
  document: Investigation
  patch: Patch
  inverse: Patch
}

/** A change of a document, written as if it were changed in place. */
export type Recipe = (draft: Investigation) => void

/** Applies a recipe without touching the document itself. An edit that changes nothing has an empty patch. */
export function edit(document: Investigation, recipe: Recipe): Edited {
  const [next, patches, inverse] = produceWithPatches(document, (draft) => {
    recipe(draft as Investigation)
  })
  return { document: next, patch: toJsonPatch(patches), inverse: toJsonPatch(inverse) }
}

/**
 * The document after a patch; the given one stays as it is, and what the patch does not touch is the
 * same object in both. All operations apply or none does: a PatchError says which one does not fit.
 */
export function applyPatch(document: Investigation, patch: Patch): Investigation {
  return produce(document, (draft) => {
    const failed = applyJsonPatch(draft, jsonCopy(patch) as Operation[]).find((error) => error !== null)
    if (failed)
      throw new PatchError(`The change does not fit the investigation as it is now (${failed.message}).`)
  })
}

/** Values of a patch become part of the document, which must not share them with the patch. */
function jsonCopy<T>(value: T): T {
  return JSON.parse(JSON.stringify(value)) as T
}

/**
 * Whether two patches touch the same thing: one changes a path that the other changes, or something
 * above or below it. Things are keyed by id and never by position, so patches that do not touch can
 * be applied in either order.
 */
export function patchesMeet(a: Patch, b: Patch): boolean {
  const paths = b.map(({ path }) => `${path}/`)
  return a.some(({ path }) =>
    paths.some((other) => other.startsWith(`${path}/`) || `${path}/`.startsWith(other)),
  )
}
