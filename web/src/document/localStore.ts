import type { FootageKind } from '@apokinema/core/api'
import type { Footage } from '@apokinema/core/investigation'
import type { KeptNumbers, Series } from '@apokinema/core/series'
import { type DBSchema, type IDBPDatabase, openDB } from 'idb'
import type { Survey } from '../footage/survey.worker.ts'
import type { LocalRecord, LocalStore } from './localRecord.ts'
import { type PartedRecord, PartedStore, type PartStore } from './partedStore.ts'

/** Footage that is still to be uploaded. */
export interface WaitingFile {
  investigation: string
  /** Id of the footage that it is, or that is made from it. */
  id: string
  name: string
  kind: FootageKind
  /** For stills: frames per second. */
  rate: string | null
  file: Blob
}

interface Schema extends DBSchema {
  sessions: { key: string; value: PartedRecord | LocalRecord<object> }
  /** Parts of sessions, keyed by investigation and part. */
  parts: { key: [string, string]; value: unknown }
  files: { key: string; value: WaitingFile }
  /** Addresses of interrupted uploads, by investigation. */
  addresses: { key: string; value: string }
  /** Surveys of footage, by its id; they can be recomputed. */
  surveys: { key: string; value: Survey }
  /** Numbers of the trials of a series, by its id; they can be recomputed. */
  numbers: { key: string; value: StoredNumbers }
}

/** Numbers of trials as they were computed by one build of the pages. */
export interface StoredNumbers {
  build: string
  /** By the ids of the trials. */
  trials: Map<string, { version: number; numbers: KeptNumbers }>
}

let opened: Promise<IDBPDatabase<Schema>> | null = null

function browserDatabase(): Promise<IDBPDatabase<Schema>> {
  opened ??= openDB<Schema>('apokinema', 4, {
    async upgrade(database, version, _, transaction) {
      if (version < 1) {
        database.createObjectStore('sessions')
        database.createObjectStore('files')
      }
      if (version < 3) database.createObjectStore('parts')
      if (version < 4) database.createObjectStore('numbers')
      if (version >= 2) return
      database.createObjectStore('addresses')
      database.createObjectStore('surveys')
      // In earlier versions a file waited together with the footage that it became.
      const files = transaction.objectStore('files')
      for (const old of (await files.getAll()) as (WaitingFile & { footage?: Footage })[])
        if (old.footage) {
          const { investigation, file, footage } = old
          const { id, name } = footage
          await files.put({ investigation, file, id, name, kind: 'as-it-is', rate: null }, investigation)
        }
    },
  })
  return opened
}

/** Records and their parts in IndexedDB. */
const partStore: PartStore = {
  read: async (id) => {
    const transaction = (await browserDatabase()).transaction(['sessions', 'parts'])
    const parts = transaction.objectStore('parts')
    const ofInvestigation = IDBKeyRange.bound([id, ''], [id, '\uffff'])
    const [record, keys, values] = await Promise.all([
      transaction.objectStore('sessions').get(id),
      parts.getAllKeys(ofInvestigation),
      parts.getAll(ofInvestigation),
    ])
    return { record, parts: new Map(keys.map(([, key], i) => [key, values[i]])) }
  },
  write: async (id, record, added, removed) => {
    const transaction = (await browserDatabase()).transaction(['sessions', 'parts'], 'readwrite')
    const parts = transaction.objectStore('parts')
    const writes = [
      transaction.objectStore('sessions').put(record, id),
      ...[...added].map(([key, part]) => parts.put(part, [id, key])),
      ...removed.map((key) => parts.delete([id, key])),
    ]
    await Promise.all([...writes, transaction.done])
  },
}

/** The local stores of investigations and of series. */
export const browserStore: LocalStore = new PartedStore(partStore)
export const seriesBrowserStore: LocalStore<Series> = new PartedStore<Series>(partStore)

/** Files kept in memory while the page is open, for browsers that store nothing (private windows, a full disk). */
const inMemory = new Map<string, WaitingFile>()
const addressesInMemory = new Map<string, string>()

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
    await waitingFiles.setAddress(investigation, null)
  },
  /** Address of an upload that was begun; null if there is none. */
  address: async (investigation: string): Promise<string | null> =>
    addressesInMemory.get(investigation) ??
    (await (await browserDatabase()).get('addresses', investigation).catch(() => undefined)) ??
    null,
  setAddress: async (investigation: string, address: string | null) => {
    if (address) addressesInMemory.set(investigation, address)
    else addressesInMemory.delete(investigation)
    await browserDatabase()
      .then(async (database) => {
        if (address) await database.put('addresses', address, investigation)
        else await database.delete('addresses', investigation)
      })
      .catch(() => {})
  },
}

/** Returns access to a store of what can be recomputed, by its key: where the browser keeps nothing it is missing. */
const recomputable = <Name extends 'surveys' | 'numbers'>(name: Name) => ({
  get: async (key: string): Promise<Schema[Name]['value'] | undefined> =>
    browserDatabase()
      .then((database) => database.get(name, key))
      .catch(() => undefined),
  put: async (key: string, value: Schema[Name]['value']): Promise<void> => {
    await browserDatabase()
      .then((database) => database.put(name, value, key))
      .catch(() => {})
  },
})

/** Surveys that this browser has made, by their footage, so that each clip is surveyed once. */
export const surveys = recomputable('surveys')
/** Numbers of the trials of series, so that a table stands there before its trials are loaded. */
export const storedNumbers = recomputable('numbers')
