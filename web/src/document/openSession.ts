import { applyPatch } from '@apokinema/core/investigation'
import { AwayError } from '../api/client.ts'
import { Session } from './session.ts'
import type { OpenedDocument, Reach } from './sessionState.ts'

/**
 * Opens a document: the server's state with this browser's unsent edits applied. If the server does not answer,
 * the state that the browser stored. Rejects if neither has it.
 */
export async function openSession<D extends object>(id: string, reach: Reach<D>): Promise<Session<D>> {
  const opening = reach.client.open(id)
  opening.catch(() => {})
  const kept = await reach.localStore.read(id).catch(() => undefined)
  let fetched: OpenedDocument<D> | null = null
  try {
    fetched = await opening
  } catch (error) {
    if (!(error instanceof AwayError) || !kept) throw error
  }
  const history = { undo: kept?.undo ?? [], redo: kept?.redo ?? [], aside: kept?.aside ?? [] }
  if (kept && (kept.pending.length > 0 || !fetched)) {
    const { document, since = [] } = kept
    const base = { version: kept.version, document: reach.read(since.reduce(applyPatch<D>, document)) }
    const state = { ...history, save: fetched ? ('saving' as const) : ('offline' as const) }
    const session = new Session(id, reach, base, kept.pending, state, { document, since })
    session.resume()
    return session
  }
  const { version, document, updatedAt } = fetched!
  return new Session(id, reach, { version, document }, [], { ...history, savedAt: new Date(updatedAt) })
}
