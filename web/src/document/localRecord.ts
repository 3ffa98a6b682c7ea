import type { Investigation, Patch } from '@apokinema/core/investigation'

/** One edit that the server has not acknowledged yet. */
export interface PendingEdit {
  key: string
  /** Label of the edit in the list of steps; missing in records from before it was stored. */
  label?: string
  patch: Patch
}

/** An edit that could not be saved: the person tries it again or discards it. */
export interface AsideEdit extends PendingEdit {
  /** Why it could not be saved, for people. */
  why: string
}

/** One step that can be undone or redone. */
export interface Step {
  label: string
  patch: Patch
  inverse: Patch
  /** Name of the group of steps that it belongs to: consecutive steps of one group are undone together. */
  together?: string
}

/** What this browser keeps of an investigation, or of another document. */
export interface LocalRecord<D extends object = Investigation> {
  /** Version of the server's last known state. */
  version: number
  /** The server's state at some version; the patches in `since` bring it to `version`. */
  document: D
  /** Missing in records from before the document was written only from time to time. */
  since?: Patch[]
  pending: PendingEdit[]
  /** Missing in records from before edits could be set aside. */
  aside?: AsideEdit[]
  undo: Step[]
  redo: Step[]
}

/** Storage of a session's state between visits. */
export interface LocalStore<D extends object = Investigation> {
  read(id: string): Promise<LocalRecord<D> | undefined>
  write(id: string, record: LocalRecord<D>): Promise<void>
}
