import { applyPatch } from '@apokinema/core/investigation'
import type { PendingEdit } from './localRecord.ts'

/** Returns a document with edits applied on top, and the edits that no longer apply. */
export function rebased<D extends object>(
  base: D,
  pending: readonly PendingEdit[],
): { document: D; misfits: PendingEdit[] } {
  const misfits: PendingEdit[] = []
  const document = pending.reduce((at, edit) => {
    try {
      return applyPatch(at, edit.patch)
    } catch {
      misfits.push(edit)
      return at
    }
  }, base)
  return { document, misfits }
}
