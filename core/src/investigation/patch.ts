import { enablePatches, type Patch as ImmerPatch, produceWithPatches } from 'immer'
import { DraftByFrame, isFrameKey, isLargeByFrame } from './byFrame.ts'
import type { Investigation } from './document/investigation.ts'
import { isKeepable } from './text.ts'
import { checkValue, isInherited, keepableValue, MOST_DEPTH } from './values.ts'

enablePatches()

/** One change of a document in JSON Patch (RFC 6902); only these three operations are used. */
export type PatchOperation =
  | { op: 'add'; path: string; value: unknown }
  | { op: 'replace'; path: string; value: unknown }
  | { op: 'remove'; path: string }

export type Patch = PatchOperation[]

/** A patch that is none, or that does not fit the document that it was to change. */
export class PatchError extends RangeError {}

/** What a patch from outside may be at most. */
const PATCH_LIMITS = {
  operations: 20_000,
  /** Characters of a path. */
  path: 400,
}

const POINTER = /^(\/([^~/]|~[01])*)+$/

/** Steps of a JSON Pointer (RFC 6901). */
function stepsOf(path: string): string[] {
  const steps = path.split('/')
  steps.shift()
  return path.includes('~') ? steps.map((step) => step.replaceAll('~1', '/').replaceAll('~0', '~')) : steps
}

/**
 * Checks that something from outside is a patch, before any work is done for it.
 *
 * @throws RangeError that says what is wrong
 */
export function checkPatch(value: unknown): Patch {
  if (!Array.isArray(value)) throw new PatchError('a patch is a list of operations')
  if (value.length === 0 || value.length > PATCH_LIMITS.operations)
    throw new PatchError(`a patch has 1 to ${PATCH_LIMITS.operations} operations`)
  for (const [at, operation] of value.entries()) checkOperation(operation, `operation ${at}`)
  return value as Patch
}

function checkOperation(operation: unknown, where: string): void {
  if (typeof operation !== 'object' || operation === null || Array.isArray(operation))
    throw new PatchError(`${where} must be an object`)
  const { op, path, value, ...unknown } = operation as Record<string, unknown>
  if (op !== 'add' && op !== 'replace' && op !== 'remove')
    throw new PatchError(`op of ${where} must be add, replace or remove`)
  if (typeof path !== 'string' || path.length > PATCH_LIMITS.path || !POINTER.test(path) || !isKeepable(path))
    throw new PatchError(`path of ${where} must be a JSON Pointer below the root`)
  const steps = stepsOf(path)
  if (steps.length > MOST_DEPTH) throw new PatchError(`path of ${where} has too many steps`)
  if (steps.some(isInherited))
    throw new PatchError(`path of ${where} goes through a name that nothing here has`)
  if (Object.keys(unknown).length > 0) throw new PatchError(`${where} has a field that is not known here`)
  if (op !== 'remove') {
    if (value === undefined) throw new PatchError(`${where} has no value`)
    checkValue(value, where)
  }
}

const pointerTo = (path: (string | number)[]) =>
  path.map((part) => `/${String(part).replaceAll('~', '~0').replaceAll('/', '~1')}`).join('')

/** @param before the document that the patches are for */
function toJsonPatch(patches: ImmerPatch[], before: object): Patch {
  return patches.flatMap(({ op, path, value }): PatchOperation[] => {
    if (path.at(-1) === 'length') {
      const to = path.slice(0, -1)
      const list = to.reduce((at: unknown, part) => (at as Record<string, unknown>)?.[part], before)
      if (Array.isArray(list)) return shortened(pointerTo(to), list.length, Number(value))
    }
    const pointer = pointerTo(path)
    return [op === 'remove' ? { op, path: pointer } : { op, path: pointer, value }]
  })
}

/** Immer shortens a list by its length, which is no place in JSON: what lies beyond is removed, the last one first. */
const shortened = (list: string, from: number, to: number): PatchOperation[] =>
  Array.from({ length: from - to }, (_, i) => ({ op: 'remove', path: `${list}/${from - 1 - i}` }))

/** What one edit did: the document after it, the patch that does it and the one that takes it back. */
export interface Edited<D extends object = Investigation> {
  document: D
  patch: Patch
  inverse: Patch
}

/** A change of a document (an investigation, if nothing else is said), written as if it were changed in place. */
export interface Mutator<D extends object = Investigation> {
  (draft: D): void
  /**
   * The same change as a patch, each of whose operations has a path of its own. Mutators for what there can be very much
   * of say it, since drafts of that take long.
   */
  patch?: (document: D) => Patch
}

/**
 * Applies a mutator without touching the document itself. An edit that changes nothing has an empty patch. What can't be
 * kept of a text, such as half of an emoji that somebody pasted, becomes a replacement character.
 */
export function edit<D extends object>(document: D, mutator: Mutator<D>): Edited<D> {
  if (mutator.patch) {
    const patch = keepableValue(mutator.patch(document))
    return { document: applyPatch(document, patch), patch, inverse: inverseOf(document, patch) }
  }
  const [next, patches, inverse] = produceWithPatches(document, (draft) => {
    mutator(draft as D)
  })
  const made = toJsonPatch(patches, document)
  const patch = keepableValue(made)
  return {
    document: patch === made ? next : applyPatch(document, patch),
    patch,
    inverse: toJsonPatch(inverse, next),
  }
}

/** Returns the patch that takes back one whose operations each have a path of their own and add or remove no list's entries. */
function inverseOf(before: object, patch: Patch): Patch {
  return patch.map(({ op, path }): PatchOperation => {
    const value = valueAt(before, path)
    if (value === undefined) return { op: 'remove', path }
    return { op: op === 'remove' ? 'add' : 'replace', path, value }
  })
}

/** Several mutators as one, in order; they must not change the same things where they say their patches. */
export function together<D extends object>(...mutators: Mutator<D>[]): Mutator<D> {
  const all: Mutator<D> = (draft) => {
    for (const mutator of mutators) mutator(draft)
  }
  if (mutators.every((mutator) => mutator.patch))
    all.patch = (document) => mutators.flatMap((mutator) => mutator.patch!(document))
  return all
}

/**
 * Returns the document after a patch (RFC 6902); the given one stays as it is, and what the patch does not touch is the
 * same object in both. It moves through own properties of plain objects, and through indices that a list has. All
 * operations apply or none does.
 *
 * @throws PatchError that says which operation does not fit
 */
export function applyPatch<D extends object>(document: D, patch: Patch): D {
  const copies = new Copies()
  const root = copies.of(document as unknown as Parent)
  for (const operation of patch) applyOperation(root, operation, copies)
  copies.freeze()
  return root as unknown as D
}

type Parent = Record<string, unknown> | unknown[]

/** Objects that one application of a patch has made: nobody else has seen them, so they may be changed in place. */
class Copies {
  private readonly made = new Set<Parent>()
  private readonly byFrame = new Map<Parent, DraftByFrame>()

  has(parent: Parent): boolean {
    return this.made.has(parent)
  }

  of(parent: Parent): Parent {
    if (!Array.isArray(parent) && isLargeByFrame(parent)) {
      const draft = new DraftByFrame(parent as Record<string, unknown>)
      this.byFrame.set(draft.record, draft)
      this.made.add(draft.record)
      return draft.record
    }
    const copy = Array.isArray(parent) ? [...parent] : { ...parent }
    this.made.add(copy)
    return copy
  }

  /** Sets an entry of an object that was made here. */
  set(parent: Record<string, unknown>, key: string, value: unknown): void {
    const draft = this.draftOf(parent, key)
    if (draft) draft.set(Number(key), value)
    else parent[key] = value
  }

  /** Removes an entry of an object that was made here. */
  delete(parent: Record<string, unknown>, key: string): void {
    const draft = this.draftOf(parent, key)
    if (draft) draft.delete(Number(key))
    else delete parent[key]
  }

  /** Ends all changes. */
  freeze(): void {
    for (const draft of this.byFrame.values()) draft.end()
    for (const one of this.made) Object.freeze(one)
  }

  /** Returns the record by frame that an object is; one that gets another key is none from then on. */
  private draftOf(parent: Parent, key: string): DraftByFrame | undefined {
    const draft = this.byFrame.get(parent)
    if (!draft || isFrameKey(key)) return draft
    this.byFrame.delete(parent)
    return undefined
  }
}

function applyOperation(root: Parent, operation: PatchOperation, copies: Copies): void {
  const { op, path } = operation
  const misfit = (why: string) =>
    new PatchError(`The change does not fit the investigation as it is now (${path.slice(0, 120)} ${why}).`)
  const steps = stepsOf(path)
  if (steps.some(isInherited)) throw misfit('goes through a name that nothing here has')
  const last = steps.pop()!
  let parent = root
  for (const step of steps) {
    const child = has(parent, step) ? (parent as Record<string, unknown>)[step] : undefined
    if (typeof child !== 'object' || child === null) throw misfit('leads through something that is not there')
    if (copies.has(child as Parent)) parent = child as Parent
    else {
      const copy = copies.of(child as Parent)
      if (Array.isArray(parent)) parent[Number(step)] = copy
      else copies.set(parent, step, copy)
      parent = copy
    }
  }
  if (op !== 'add' && !has(parent, last)) throw misfit('is not there')
  if (Array.isArray(parent)) {
    const at = last === '-' ? parent.length : Number(last)
    if (op === 'add' && !(isIndex(last) && at <= parent.length) && last !== '-')
      throw misfit('is no place in the list')
    if (op === 'remove') parent.splice(at, 1)
    else parent.splice(at, op === 'add' ? 0 : 1, frozenCopy(operation.value))
  } else if (op === 'remove') copies.delete(parent, last)
  else copies.set(parent, last, frozenCopy(operation.value))
}

const isIndex = (step: string) => /^(0|[1-9]\d{0,9})$/.test(step)
const has = (parent: Parent, step: string) =>
  Array.isArray(parent) ? isIndex(step) && Number(step) < parent.length : Object.hasOwn(parent, step)

/** Returns the values of a patch become part of the document, which must not share them with the patch. */
function frozenCopy(value: unknown): unknown {
  // JSON knows no negative zero.
  if (value === 0) return 0
  if (typeof value !== 'object' || value === null) return value
  if (Array.isArray(value)) return Object.freeze(value.map(frozenCopy))
  const copy: Record<string, unknown> = {}
  for (const name of Object.keys(value)) {
    if (isInherited(name)) throw new PatchError('The change holds a name that nothing here has.')
    const one = (value as Record<string, unknown>)[name]
    if (one !== undefined) copy[name] = frozenCopy(one)
  }
  return Object.freeze(copy)
}

/** Operations on the entries of one thing beyond which it is replaced as a whole. */
const MOST_APART = 2000

/**
 * Returns the same change in few operations: where a patch changes thousands of entries of one thing, such as the marks of a
 * body, that is replaced as a whole.
 *
 * @param after the document after the patch
 */
export function compactPatch(patch: Patch, after: object): Patch {
  if (patch.length <= MOST_APART) return patch
  const changes = new Map<string, number>()
  for (const { path } of patch) {
    const parent = parentOf(path)
    changes.set(parent, (changes.get(parent) ?? 0) + 1)
  }
  const wholes = [...changes.keys()].filter(
    (parent) => parent !== '' && changes.get(parent)! > MOST_APART && valueAt(after, parent) !== undefined,
  )
  if (wholes.length === 0) return patch
  const isWithin = (path: string) => pathsAbove(path).some((above) => wholes.includes(above))
  return [
    ...patch.filter(({ path }) => !isWithin(path)),
    ...wholes
      .filter((parent) => !isWithin(parent))
      .map((path): PatchOperation => ({ op: 'replace', path, value: valueAt(after, path) })),
  ]
}

const parentOf = (path: string) => path.slice(0, path.lastIndexOf('/'))
const valueAt = (document: object, path: string): unknown =>
  stepsOf(path).reduce((at: unknown, step) => (at as Record<string, unknown> | undefined)?.[step], document)

/**
 * Returns true if two patches touch the same thing: one changes a path that the other changes, or something
 * above or below it. Things are keyed by id and never by position, so patches that do not touch can
 * be applied in either order. Takes time in proportion to the length of both.
 */
export function patchesMeet(a: Patch, b: Patch): boolean {
  const paths = new Set(b.map(({ path }) => path))
  const above = new Set(b.flatMap(({ path }) => pathsAbove(path)))
  return a.some(
    ({ path }) => paths.has(path) || above.has(path) || pathsAbove(path).some((one) => paths.has(one)),
  )
}

/** Paths of the things that the thing at a path is within. */
function pathsAbove(path: string): string[] {
  const above: string[] = []
  for (let at = path.lastIndexOf('/'); at > 0; at = path.lastIndexOf('/', at - 1))
    above.push(path.slice(0, at))
  return above
}
