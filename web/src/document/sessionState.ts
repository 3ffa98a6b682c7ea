import type { EditAnswer, EditRequest } from '@apokinema/core/api'
import type { Investigation } from '@apokinema/core/investigation'
import type { AsideEdit, LocalStore, Step } from './localRecord.ts'

/**
 * State of saving. offline: no answer. held: something answers, but does not save; `failure` says why. conflict: the same value
 * was changed elsewhere. gone: the investigation was deleted elsewhere.
 */
type SaveState = 'saved' | 'saving' | 'offline' | 'held' | 'conflict' | 'gone'

export interface SessionState<D extends object = Investigation> {
  /** The document in this browser. */
  document: D
  /** The preview of a drag; null without one. */
  preview: D | null
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

/** A document as the server has it. */
export interface OpenedDocument<D extends object> {
  version: number
  document: D
  updatedAt: string
}

/** Interfaces of a session to the outside; replaced in tests. */
export interface Reach<D extends object = Investigation> {
  client: {
    open(id: string): Promise<OpenedDocument<D>>
    edit(id: string, body: EditRequest): Promise<EditAnswer>
  }
  localStore: LocalStore<D>
  /** Checks what the browser stored, and upgrades it. */
  read: (stored: unknown) => D
  wait: (milliseconds: number) => Promise<void>
}
