import type { Investigation } from '@apokinema/core/investigation'
import type { Client } from '../api/client.ts'
import type { AsideEdit, LocalStore, Step } from './localRecord.ts'

/**
 * How saving stands. offline: nothing answers. held: something answers, but does not save; `failure` says what. conflict: the same thing
 * was changed elsewhere. gone: the investigation was deleted elsewhere.
 */
type SaveState = 'saved' | 'saving' | 'offline' | 'held' | 'conflict' | 'gone'

export interface SessionState {
  /** The document as it stands in this browser. */
  document: Investigation
  /** What a drag would make of it, while one goes on. */
  preview: Investigation | null
  save: SaveState
  savedAt: Date | null
  undo: Step[]
  redo: Step[]
  /** Edits that could not be saved, the oldest first. */
  aside: AsideEdit[]
  /** Why nothing is saved just now, for people. */
  failure: string | null
  /** A sentence for the person: a refused change, a conflict. */
  message: string | null
}

/** What a session reaches out to; replaced in tests. */
export interface Reach {
  client: Pick<Client, 'open' | 'edit'>
  localStore: LocalStore
  wait: (milliseconds: number) => Promise<void>
}
