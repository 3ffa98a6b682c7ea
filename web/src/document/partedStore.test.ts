import { newInvestigation } from '@apokinema/core/investigation'
import { describe, expect, it } from 'vitest'
import type { LocalRecord, Step } from './localRecord.ts'
import { type PartedRecord, PartedStore, type PartStore } from './partedStore.ts'

/** Returns a store in memory that counts what is written. */
function storeInMemory() {
  const records = new Map<string, PartedRecord | LocalRecord>()
  const parts = new Map<string, Map<string, unknown>>()
  const written: number[] = []
  const partsOf = (id: string) => {
    const known = parts.get(id) ?? new Map<string, unknown>()
    parts.set(id, known)
    return known
  }
  const store: PartStore = {
    read: async (id) => structuredClone({ record: records.get(id), parts: partsOf(id) }),
    write: async (id, record, added, removed) => {
      records.set(id, structuredClone(record))
      for (const [key, part] of added) partsOf(id).set(key, structuredClone(part))
      for (const key of removed) partsOf(id).delete(key)
      written.push(added.size)
    },
  }
  return { store, records, partsOf, written }
}

const step = (label: string): Step => ({
  label,
  patch: [{ op: 'replace', path: '/title', value: label }],
  inverse: [{ op: 'replace', path: '/title', value: 'before' }],
})
const record = (change: Partial<LocalRecord> = {}): LocalRecord => ({
  version: 1,
  document: newInvestigation('Net float'),
  since: [],
  pending: [],
  aside: [],
  undo: [],
  redo: [],
  ...change,
})

describe('PartedStore', () => {
  it('gives back what was put there', async () => {
    const { store } = storeInMemory()
    const put = record({ version: 7, undo: [step('a'), step('b')], since: [step('c').patch] })
    await new PartedStore(store).write('one', put)
    expect(await new PartedStore(store).read('one')).toEqual(put)
    expect(await new PartedStore(store).read('other')).toBeUndefined()
  })

  it('writes what is new only, and removes what is not used any more', async () => {
    const { store, written, partsOf } = storeInMemory()
    const localStore = new PartedStore(store)
    const [a, b, c] = ['a', 'b', 'c'].map(step)
    const { document } = record()
    await localStore.write('one', record({ document, undo: [a, b] }))
    await localStore.write('one', record({ document, undo: [a], redo: [b] }))
    await localStore.write('one', record({ document, undo: [a, c] }))
    expect(written).toEqual([3, 0, 1])
    expect(partsOf('one').size).toBe(3)
  })

  it('goes on with what another visit has written', async () => {
    const { store, written, partsOf } = storeInMemory()
    await new PartedStore(store).write('one', record({ undo: [step('a'), step('b')] }))
    const later = new PartedStore(store)
    const known = (await later.read('one'))!
    await later.write('one', { ...known, undo: known.undo.slice(0, 1), redo: [] })
    expect(written).toEqual([3, 0])
    expect(partsOf('one').size).toBe(2)
    // One that was not read first takes the place of what is there.
    await new PartedStore(store).write('one', record())
    expect(partsOf('one').size).toBe(1)
  })

  it('reads records from before there were parts, and keeps investigations apart', async () => {
    const { store, records, partsOf } = storeInMemory()
    const old = record({ undo: [step('a')] })
    records.set('old', structuredClone(old))
    const localStore = new PartedStore(store)
    const known = await localStore.read('old')
    expect(known).toEqual(old)
    await localStore.write('old', known!)
    await localStore.write('one', record())
    expect(await new PartedStore(store).read('old')).toEqual(old)
    expect([partsOf('old').size, partsOf('one').size]).toEqual([2, 1])
  })
})
