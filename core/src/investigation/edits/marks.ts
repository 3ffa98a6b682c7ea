import { type PlacedByHand, type Point, placeOf } from '../../geometry/index.ts'
import { framesIn } from '../byFrame.ts'
import type { Body, BreakWord, Mark } from '../document/bodies.ts'
import type { Mutator, Patch, PatchOperation } from '../patch.ts'
import { restOver } from '../rests.ts'

/** Entries of a body's records by frame that change; null: the entry goes. */
interface Changes {
  marks?: Map<number, Mark | null>
  second?: Map<number, Point | null>
  breaks?: Map<number, BreakWord | null>
}

/** Returns a mutator that changes a body's records by frame, and says its patch; an unknown body is left alone. */
function byFrameMutator(id: string, changesOf: (body: Readonly<Body>) => Changes): Mutator {
  const mutator: Mutator = (draft) => {
    const body = draft.bodies[id]
    if (!body) return
    for (const [name, changes] of Object.entries(changesOf(body)) as [
      keyof Changes,
      Map<number, unknown>,
    ][]) {
      const record = body[name] as Record<number, unknown>
      for (const [frame, entry] of changes)
        if (entry === null) delete record[frame]
        else record[frame] = entry
    }
  }
  mutator.patch = ({ bodies }) => {
    const body = bodies[id]
    return body ? patchOf(`/bodies/${id}`, body, changesOf(body)) : []
  }
  return mutator
}

function patchOf(at: string, body: Readonly<Body>, changed: Changes): Patch {
  const patch: Patch = []
  for (const [name, changes] of Object.entries(changed) as [keyof Changes, Map<number, unknown>][]) {
    const record = body[name] as Record<number, unknown>
    for (const [frame, entry] of changes) {
      const operation = operationTo(`${at}/${name}/${frame}`, record[frame], entry)
      if (operation) patch.push(operation)
    }
  }
  return patch
}

/** Returns the operation that makes one entry of another; null where they are alike. */
function operationTo(path: string, before: unknown, after: unknown): PatchOperation | null {
  if (after === null) return before === undefined ? null : { op: 'remove', path }
  if (before === undefined) return { op: 'add', path, value: after }
  return JSON.stringify(before) === JSON.stringify(after) ? null : { op: 'replace', path, value: after }
}

/** Ends a rest that reaches over a frame before it, among changes of marks. */
function endRestBefore(marks: Body['marks'], frame: number, changes: Map<number, Mark | null>): void {
  const resting = restOver(marks, frame)
  if (resting === null || resting === frame || changes.has(resting)) return
  const { until, ...mark } = marks[resting]
  changes.set(resting, frame - 1 > resting ? { ...mark, until: frame - 1 } : mark)
}

/** Sets the mark of a body in a frame; with `streak`, from its middle to one of its ends, where it is smeared. */
export function setMark(body: string, frame: number, at: PlacedByHand, streak?: Point): Mutator {
  return byFrameMutator(body, ({ marks }) => {
    const changes = new Map<number, Mark | null>()
    endRestBefore(marks, frame, changes)
    const end = streak && { streak: { x: streak.x, y: streak.y } }
    return { marks: changes.set(frame, { ...placeOf(at), by: 'hand', ...end }) }
  })
}

/** Moves a mark to where a hand puts it; a streak and a rest go along. */
export function moveMark(body: string, frame: number, to: PlacedByHand): Mutator {
  return byFrameMutator(body, ({ marks }) => {
    const mark = marks[frame]
    if (!mark) return {}
    const { streak, until } = mark
    const moved: Mark = {
      ...placeOf(to),
      by: 'hand',
      ...(streak && { streak: { x: streak.x, y: streak.y } }),
      ...(until !== undefined && { until }),
    }
    return { marks: new Map([[frame, moved]]) }
  })
}

/** Says that a body rests at a place from one frame to another: one mark in the first, in the place of all that stood there. */
export function setRest(body: string, from: number, to: number, at: Point): Mutator {
  return byFrameMutator(body, ({ marks }) => {
    const changes = new Map<number, Mark | null>()
    endRestBefore(marks, from, changes)
    for (const frame of framesWithin(marks, from, to)) changes.set(frame, null)
    return { marks: changes.set(from, { x: at.x, y: at.y, by: 'hand', ...(to > from && { until: to }) }) }
  })
}

const framesWithin = (record: Readonly<Record<string, unknown>>, from: number, to: number) =>
  framesIn(record).filter((frame) => frame >= from && frame <= to)

/** Sets where the second point of a body is in a frame, or takes it away with null. */
export function setSecond(body: string, frame: number, at: Point | null): Mutator {
  return byFrameMutator(body, () => ({ second: new Map([[frame, at && { x: at.x, y: at.y }]]) }))
}

/** Says that the motion breaks before the mark of a frame, or that it doesn't; with null nothing is said any more. */
export function setBreak(body: string, frame: number, word: BreakWord | null): Mutator {
  return byFrameMutator(body, () => ({ breaks: new Map([[frame, word]]) }))
}

/** Sets marks that following has found. Marks that a hand has set stay, unless they are to be replaced. */
export function setFollowed(
  body: string,
  found: Record<string, Point & { certainty: number }>,
  replacesHand = false,
): Mutator {
  return byFrameMutator(body, ({ marks }) => {
    const changes = new Map<number, Mark | null>()
    // Numbered keys come in order: of several frames within a rest the first one ends it.
    for (const [key, { x, y, certainty }] of Object.entries(found)) {
      const frame = Number(key)
      const standing = restOver(marks, frame) ?? frame
      if (!replacesHand && marks[standing]?.by === 'hand') continue
      endRestBefore(marks, frame, changes)
      changes.set(frame, { x, y, by: 'follow', certainty })
    }
    return { marks: changes }
  })
}

/** Says that a mark is right, although it does not fit the marks around it. */
export function confirmMark(body: string, frame: number): Mutator {
  return byFrameMutator(body, ({ marks }) =>
    marks[frame] ? { marks: new Map([[frame, { ...marks[frame], right: true }]]) } : {},
  )
}

/** Removes the mark of a body in a frame. */
export function removeMark(body: string, frame: number): Mutator {
  return byFrameMutator(body, () => ({ marks: new Map([[frame, null]]) }))
}

/** Removes all marks of a body from one frame to another, both included, and what else is said of these frames. */
export function clearMarks(body: string, from = 0, to = Number.POSITIVE_INFINITY): Mutator {
  return byFrameMutator(body, ({ marks, second, breaks }) => {
    const cleared = (record: Readonly<Record<string, unknown>>) =>
      new Map(framesWithin(record, from, to).map((frame) => [frame, null]))
    const changes = new Map<number, Mark | null>()
    endRestBefore(marks, from, changes)
    for (const [frame] of cleared(marks)) changes.set(frame, null)
    return { marks: changes, second: cleared(second), breaks: cleared(breaks) }
  })
}
