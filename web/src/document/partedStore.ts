import type { Investigation } from '@apokinema/core/investigation'
import type { LocalRecord, LocalStore } from './localRecord.ts'

/** Lists of a record whose entries are immutable. */
const LISTS = ['since', 'pending', 'aside', 'undo', 'redo'] as const satisfies (keyof LocalRecord)[]

/** A record whose document and list entries are stored as separate parts, by key. */
export interface PartedRecord extends Record<(typeof LISTS)[number], string[]> {
  version: number
  documentPart: string
}

/** Storage of records and parts. */
export interface PartStore {
  /** Returns the record of an investigation and all its parts; a whole record if it was written before there were parts. */
  read(
    id: string,
  ): Promise<{ record: PartedRecord | LocalRecord<object> | undefined; parts: Map<string, unknown> }>
  /** Writes a record, adds parts and removes others, in one transaction. */
  write(id: string, record: PartedRecord, added: Map<string, unknown>, removed: string[]): Promise<void>
}

/**
 * A local store that writes only what has changed: writing the document of a long run and its undo steps takes
 * seconds, and each edit changes little of them.
 */
export class PartedStore<D extends object = Investigation> implements LocalStore<D> {
  /** Key of each part that was written or read, by object identity. */
  private readonly keys = new WeakMap<object, string>()
  /** Keys of an investigation in the store. */
  private readonly stored = new Map<string, Set<string>>()

  constructor(private readonly store: PartStore) {}

  async read(id: string): Promise<LocalRecord<D> | undefined> {
    const { record, parts } = await this.store.read(id)
    if (!record) return undefined
    this.stored.set(id, new Set(parts.keys()))
    if ('document' in record) return record as LocalRecord<D>
    const part = (key: string) => {
      const one = parts.get(key) as object
      this.keys.set(one, key)
      return one
    }
    const lists = LISTS.map((name) => [name, record[name].map(part)])
    return {
      version: record.version,
      document: part(record.documentPart),
      ...Object.fromEntries(lists),
    } as LocalRecord<D>
  }

  async write(id: string, record: LocalRecord<D>): Promise<void> {
    if (!this.stored.has(id)) await this.read(id)
    const stored = this.stored.get(id) ?? new Set()
    const used = new Set<string>()
    const added = new Map<string, unknown>()
    const keyOf = (part: object) => {
      const key = this.keys.get(part) ?? crypto.randomUUID()
      used.add(key)
      if (!stored.has(key)) added.set(key, part)
      return key
    }
    const parted = {
      version: record.version,
      documentPart: keyOf(record.document),
      ...Object.fromEntries(LISTS.map((name) => [name, (record[name] ?? []).map(keyOf)])),
    } as PartedRecord
    const removed = [...stored].filter((key) => !used.has(key))
    await this.store.write(id, parted, added, removed)
    for (const [key, part] of added) this.keys.set(part as object, key)
    this.stored.set(id, used)
  }
}
