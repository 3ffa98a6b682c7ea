/** Things keyed by UUID; their order is a field of theirs, so that edits to different things never meet. */
export type ById<T> = Record<string, T>

/** Entries of a keyed collection by their order field. */
export function inOrder<T extends { order: number }>(things: ById<T>): [string, T][] {
  return Object.entries(things).sort(([idA, a], [idB, b]) => a.order - b.order || (idA < idB ? -1 : 1))
}

/** Order for a thing that is added behind all others. */
export function nextOrder(things: ById<{ order: number }>): number {
  return Object.values(things).reduce((next, thing) => Math.max(next, thing.order + 1), 0)
}
