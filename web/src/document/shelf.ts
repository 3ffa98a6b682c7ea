import type { Footage, Investigation, Patch } from '@apokinema/core/investigation'
import { type DBSchema, type IDBPDatabase, openDB } from 'idb'

/** One edit that the server has not acknowledged yet. */
export interface PendingEdit {
  key: string
  patch: Patch
}

/** One step that can be undone or redone. */
export interface Step {
  label: string
  patch: Patch
  inverse: Patch
}

/** What this browser keeps of an investigation. */
export interface ShelfRecord {
  /** The server's last known state. */
  version: number
  document: Investigation
  pending: PendingEdit[]
  undo: Step[]
  redo: Step[]
}

/** Footage that is still to be uploaded. */
export interface WaitingFile {
  investigation: string
  footage: Footage
  file: Blob
}

/** Where a session keeps its state between visits. */
export interface Shelf {
  read(id: string): Promise<ShelfRecord | undefined>
  write(id: string, record: ShelfRecord): Promise<void>
}

interface Schema extends DBSchema {
  sessions: { key: string; value: ShelfRecord }
  files: { key: string; value: WaitingFile }
}

let opened: Promise<IDBPDatabase<Schema>> | null = null

function browserDatabase(): Promise<IDBPDatabase<Schema>> {
  opened ??= openDB<Schema>('apokinema', 1, {
    upgrade(database) {
      database.createObjectStore('sessions')
      database.createObjectStore('files')
    },
  })
  return opened
}

/** The browser's own shelf (IndexedDB). */
export const browserShelf: Shelf = {
  read: async (id) => (await browserDatabase()).get('sessions', id),
  write: async (id, record) => {
    await (await browserDatabase()).put('sessions', record, id)
  },
}

/** Files of this page's own life, for browsers that keep nothing on their disk (private windows, a full disk). */
const inMemory = new Map<string, WaitingFile>()

/** Files that wait for their upload, by the id of their investigation. */
export const waitingFiles = {
  put: async (waiting: WaitingFile) => {
    inMemory.set(waiting.investigation, waiting)
    await browserDatabase()
      .then((database) => database.put('files', waiting, waiting.investigation))
      .catch(() => {})
  },
  get: async (investigation: string) =>
    inMemory.get(investigation) ??
    (await browserDatabase()).get('files', investigation).catch(() => undefined),
  all: async () => {
    const kept = await browserDatabase()
      .then((database) => database.getAll('files'))
      .catch(() => [])
    return [...kept.filter(({ investigation }) => !inMemory.has(investigation)), ...inMemory.values()]
  },
  remove: async (investigation: string) => {
    inMemory.delete(investigation)
    await browserDatabase()
      .then((database) => database.delete('files', investigation))
      .catch(() => {})
  },
}
