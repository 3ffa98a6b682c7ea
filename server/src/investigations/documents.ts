import {
  applyPatch,
  DOCUMENT_VERSION,
  type Investigation,
  type Patch,
  readInvestigation,
  readInvestigationInSteps,
} from '@apokinema/core/investigation'
import type { Knex } from 'knex'
import { LRUCache } from 'lru-cache'
import { serialQueue } from '../serialQueue.ts'
import { pause, stringifyInSteps } from '../workers/chunks.ts'
import type { WorkerPool } from '../workers/workerPool.ts'

/** Version of an investigation, as its row states it. */
export interface Standing {
  id: string
  owner_id: string
  version: number
  updated_at: Date
}

/** A document at a version. */
export interface Version {
  document: Investigation
  version: number
  /** Whether the stored document is in the present version's form, so that patches of this document apply to it. */
  isStoredForm: boolean
}

/** A document in memory, with the values of its row. */
interface Kept extends Version, Standing {}

/** Maximum number of documents in memory, and of marks in them. */
const MOST_KEPT = { documents: 1000, marks: 1_000_000 }
/** Number of versions between two snapshots: maximum number of patches that opening has to apply. */
const SNAPSHOT_EVERY = 50
/** Number of snapshots that are kept besides the newest. */
const OLDER_SNAPSHOTS = 2

const marksIn = ({ bodies }: Investigation) =>
  Object.values(bodies).reduce((sum, { marks }) => sum + Object.keys(marks).length, 0)

/**
 * Documents at their newest version: recently used ones are in memory; others are read from the last snapshot and the patches
 * since. The memory is valid only while the row still states its version and time.
 */
export class Documents {
  private readonly kept = new LRUCache<string, Kept>({
    max: MOST_KEPT.documents,
    maxSize: MOST_KEPT.marks,
    sizeCalculation: ({ document }) => 100 + marksIn(document),
  })

  private readonly inTurn = serialQueue()
  private readonly reading = new Map<string, Promise<Version>>()

  constructor(
    private readonly database: Knex,
    private readonly workers: WorkerPool,
  ) {}

  /**
   * Returns the document at the version that a row states.
   *
   * @throws NewerDocumentError, or a RangeError if what is stored can't be read
   */
  async read(standing: Standing): Promise<Version> {
    const { id, version, updated_at } = standing
    const kept = this.kept.get(id)
    if (kept?.version === version && kept.updated_at.getTime() === updated_at.getTime()) return kept
    // Concurrent requests for one document share the work.
    const key = `${id} ${version} ${updated_at.getTime()}`
    const reading = this.reading.get(key) ?? this.readStored(standing)
    this.reading.set(key, reading)
    return reading.finally(() => this.reading.delete(key))
  }

  private async readStored(standing: Standing): Promise<Version> {
    const { id, version } = standing
    const { document, version: from } = await this.snapshot(id, version)
    const stored = (await this.patches(id, from, version)).reduce(applyPatch, document)
    const read = await readInvestigationInSteps(stored, pause)
    const isStoredForm = stored.version === DOCUMENT_VERSION && read.graphs === stored.graphs
    this.note(standing, read, isStoredForm)
    return { document: read, version, isStoredForm }
  }

  /** Keeps a document in memory. */
  note({ id, owner_id, version, updated_at }: Standing, document: Investigation, isStoredForm = true): void {
    this.kept.set(id, { id, owner_id, version, updated_at, document, isStoredForm })
  }

  /** Returns what is in memory of an investigation, which can be outdated. */
  inMemory(id: string): Kept | undefined {
    return this.kept.get(id)
  }

  /** Returns the newest snapshot up to a version, in the form in which it was stored. */
  private async snapshot(id: string, version: number): Promise<{ document: Investigation; version: number }> {
    const snapshot: { text: string; version: number } = await this.database('snapshots')
      .where({ investigation_id: id })
      .andWhere('version', '<=', version)
      .orderBy('version', 'desc')
      .first(this.database.raw('document::text as text'), 'version')
    return {
      document: (await this.workers.parse(snapshot.text)) as Investigation,
      version: snapshot.version,
    }
  }

  /** Returns the patches after one version up to another, in order. */
  async patches(id: string, after: number, until: number): Promise<Patch[]> {
    if (after >= until) return []
    const rows: { patch: Patch }[] = await this.database('revisions')
      .where('investigation_id', id)
      .andWhere('version', '>', after)
      .andWhere('version', '<=', until)
      .orderBy('version')
      .select('patch')
    return rows.map(({ patch }) => patch)
  }

  /**
   * Queues a snapshot of every SNAPSHOT_EVERY-th version. Edits do not wait for it. If it fails, the next one makes up
   * for it, since all patches are stored.
   */
  snapshotIfDue(id: string, version: number, document: Investigation): void {
    // Offset by the id: the snapshots of people who start together would otherwise coincide.
    if ((version + Number.parseInt(id.slice(0, 6), 16)) % SNAPSHOT_EVERY !== 0) return
    this.inTurn(() => this.takeSnapshot(id, version, document)).catch(() => {})
  }

  /** Deletes older snapshots except for a few. */
  private async takeSnapshot(id: string, version: number, document: Investigation): Promise<void> {
    await storeSnapshot(this.database, id, version, document)
    await this.database('snapshots')
      .where({ investigation_id: id })
      .whereNotIn(
        'version',
        this.database('snapshots')
          .where({ investigation_id: id })
          .orderBy('version', 'desc')
          .limit(1 + OLDER_SNAPSHOTS)
          .select('version'),
      )
      .delete()
  }

  /** Returns everything that is stored of an investigation, unchanged. */
  async stored(id: string): Promise<{ snapshots: object[]; revisions: object[] }> {
    const of = { investigation_id: id }
    return {
      snapshots: await this.database('snapshots').where(of).orderBy('version').select('version', 'document'),
      revisions: await this.database('revisions')
        .where(of)
        .orderBy('version')
        .select('version', 'created_at', 'patch'),
    }
  }

  /** Returns the newest readable version of an investigation whose newest one can't be read; null if there is none. */
  async lastReadable({ id, version }: Standing): Promise<Omit<Version, 'isStoredForm'> | null> {
    const snapshots: { document: Investigation; version: number }[] = await this.database('snapshots')
      .where({ investigation_id: id })
      .orderBy('version', 'desc')
      .select('document', 'version')
    let until = version
    for (const { document, version: from } of snapshots) {
      const states = [{ stored: document, version: from }]
      for (const [i, patch] of (await this.patches(id, from, until)).entries()) {
        try {
          states.push({ stored: applyPatch(states[i].stored, patch), version: from + i + 1 })
        } catch {
          break
        }
      }
      for (const { stored, version } of states.reverse()) {
        try {
          return { document: readInvestigation(stored), version }
        } catch {
          // An earlier one may be readable.
        }
      }
      until = from - 1
    }
    return null
  }
}

/** Stores a document as a snapshot of a version. Idempotent. */
export async function storeSnapshot(
  on: Knex,
  id: string,
  version: number,
  document: Investigation,
): Promise<void> {
  await on('snapshots')
    .insert({ investigation_id: id, version, document: await stringifyInSteps(document) })
    .onConflict(['investigation_id', 'version'])
    .ignore()
}
