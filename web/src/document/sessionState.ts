import type { Investigation } from '@apokinema/core/investigation'
import type { Client } from '../api/client.ts'
import type { AsideEdit, LocalStore, Step } from './localRecord.ts'

/**
 * State of saving. offline: no answer. held: something answers, but does not save; `failure` says why. conflict: the same value
 * was changed elsewhere. gone: the investigation was deleted elsewhere.
 */
type SaveState = 'saved' | 'saving' | 'offline' | 'held' | 'conflict' | 'gone'

export interface SessionState {
  /** The document in this browser. */
  document: Investigation
  /** The preview of a drag; null without one. */
  preview: Investigation | null
  save: SaveState
  /** Whether text is being written that is not an edit yet. */
  isWriting: boolean
  savedAt: Date | null
  undo: Step[]
  redo: Step[]
  /** Edits that could not be saved, oldest first. */
  aside: AsideEdit[]
  /** Why nothing is saved at the moment, for people. */
  failure: string | null
  /** A message for the person: a refused edit, a conflict. */
  message: string | null
}

/** Interfaces of a session to the outside; replaced in tests. */
export interface Reach {
  client: Pick<Client, 'open' | 'edit'>
  localStore: LocalStore
  wait: (milliseconds: number) => Promise<void>
}
