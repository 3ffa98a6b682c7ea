import type { Investigation, Patch } from '@apokinema/core/investigation'

/** One edit that the server has not acknowledged yet. */
export interface PendingEdit {
  key: string
  /** What it did, as in the list of steps; missing in stores from before it was kept. */
  label?: string
  patch: Patch
}

/** An edit that could not be saved: it waits for the person to try it again or to let it go. */
export interface AsideEdit extends PendingEdit {
  /** Why it could not, for people. */
  why: string
}

/** One step that can be undone or redone. */
export interface Step {
  label: string
  patch: Patch
  inverse: Patch
  /** Name of what it belongs to: a step after it of the same name becomes one with it. */
  together?: string
}

/** What this browser keeps of an investigation. */
export interface LocalRecord {
  /** Version of the server's last known state. */
  version: number
  /** The server's state at some version, which the patches in `since` bring to `version`. */
  document: Investigation
  /** Missing in stores from before the document was written only now and then. */
  since?: Patch[]
  pending: PendingEdit[]
  /** Missing in stores from before edits were set aside. */
  aside?: AsideEdit[]
  undo: Step[]
  redo: Step[]
}

/** Where a session keeps its state between visits. */
export interface LocalStore {
  read(id: string): Promise<LocalRecord | undefined>
  write(id: string, record: LocalRecord): Promise<void>
}
