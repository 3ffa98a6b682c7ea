import type { EditAnswer, EditRequest, ListedInvestigation, OpenedInvestigation } from '@apokinema/core/api'
import {
  applyPatch,
  checkInvestigation,
  cutText,
  type Investigation,
  NewerDocumentError,
  type Patch,
  PatchError,
  patchesMeet,
  readInvestigation,
  summarise,
} from '@apokinema/core/investigation'
import type { Knex } from 'knex'
import { type Action, may, type Person } from '../people.ts'
import { notFound, Problem } from '../problem.ts'

interface InvestigationRow {
  id: string
  owner_id: string
  version: number
  document: unknown
  updated_at: Date
  deleted_at: Date | null
}

interface RevisionRow {
  investigation_id: string
  version: number
  key: string
  patch: Patch
  created_at: Date
}

/** Days for which a deleted investigation can be brought back. */
export const DAYS_KEPT = 30

/** Investigations in the database. Every function asks `may` first. */
export class InvestigationStore {
  constructor(private readonly database: Knex) {}

  /** The row, if the person may do this to it; otherwise it is as if it were not there. */
  async row(
    person: Person,
    action: Action,
    id: string,
    { lock = false, deleted = false, on = this.database as Knex } = {},
  ): Promise<InvestigationRow> {
    const query = on<InvestigationRow>('investigations').where({ id }).first()
    const row = await (lock ? query.forUpdate() : query)
    if (!row || !may(person, action, row) || (row.deleted_at !== null) !== deleted) throw notFound()
    return row
  }

  /** All that are not deleted, newest first, or those that were deleted and can still be brought back. */
  async list(person: Person, { deleted = false } = {}): Promise<ListedInvestigation[]> {
    const rows = (await this.database('investigations')
      .leftJoin('footage', (join) => {
        join
          .on('footage.investigation_id', 'investigations.id')
          .andOn(this.database.raw("footage.id = (investigations.document #>> '{footage,id}')::uuid"))
      })
      .where({ owner_id: person.id })
      .modify((query) => (deleted ? query.whereNotNull('deleted_at') : query.whereNull('deleted_at')))
      .orderBy('updated_at', 'desc')
      .select('investigations.*', 'footage.has_poster', 'footage.id as footage_id')) as (InvestigationRow & {
      has_poster: boolean | null
      footage_id: string | null
    })[]
    return rows.flatMap((row) => {
      try {
        const document = readInvestigation(row.document)
        return [
          {
            id: row.id,
            title: document.title,
            summary: summarise(document),
            poster: row.has_poster ? row.footage_id : null,
            updatedAt: row.updated_at.toISOString(),
            deletedAt: row.deleted_at?.toISOString() ?? null,
          },
        ]
      } catch (error) {
        // One that a newer Apokinema wrote is left alone, not shown wrongly.
        if (error instanceof NewerDocumentError) return []
        throw error
      }
    })
  }

  async open(person: Person, id: string): Promise<OpenedInvestigation> {
    const row = await this.row(person, 'see', id)
    const document = readStored(row)
    const stored = document.footage
      ? await this.database('footage').where({ investigation_id: id, id: document.footage.id }).first('id')
      : undefined
    return {
      id,
      version: row.version,
      document,
      footageStored: stored !== undefined,
      updatedAt: row.updated_at.toISOString(),
    }
  }

  /** Puts a new investigation in. The same id a second time is answered as the first was. */
  async create(person: Person, id: string, document: Investigation, on: Knex = this.database): Promise<void> {
    const added = await on('investigations')
      .insert({ id, owner_id: person.id, version: 1, document: JSON.stringify(document) })
      .onConflict('id')
      .ignore()
      .returning('id')
    if (added.length === 0) await this.row(person, 'change', id, { on })
  }

  /**
   * Applies one edit in one transaction: a patch that was made on an older version is laid on top where
   * it touches nothing that has changed since; where it does, a Problem with the code "edit-conflict"
   * tells so and nothing is changed. An edit that has been applied already is answered again.
   */
  async edit(person: Person, id: string, { key, base, patch }: EditRequest): Promise<EditAnswer> {
    return this.database.transaction(async (on) => {
      const row = await this.row(person, 'change', id, { lock: true, on })
      const revisions = () => on<RevisionRow>('revisions').where('investigation_id', id)
      const applied = await revisions().where({ key }).first()
      const until = applied ? applied.version - 1 : row.version
      const since = await revisions()
        .where('version', '>', base)
        .andWhere('version', '<=', until)
        .orderBy('version')
        .select('patch')
      const answer = (version: number, updatedAt: Date) => ({
        version,
        since: since.map((revision) => revision.patch),
        updatedAt: updatedAt.toISOString(),
      })
      if (applied) return answer(applied.version, applied.created_at)

      if (base > row.version)
        throw new Problem(
          409,
          'unknown-version',
          'The server has an older state of this investigation than this page.',
        )
      if (since.some((revision) => patchesMeet(revision.patch, patch)))
        throw new Problem(409, 'edit-conflict', 'The same thing was changed elsewhere in the meantime.', {
          version: row.version,
        })
      const next = patched(readStored(row), patch)
      const version = row.version + 1
      const now = new Date()
      await on('revisions').insert({
        investigation_id: id,
        version,
        key,
        author_id: person.id,
        patch: JSON.stringify(patch),
        created_at: now,
      })
      await on('investigations')
        .where({ id })
        .update({ version, document: JSON.stringify(next), updated_at: now })
      return answer(version, now)
    })
  }

  /** Copies an investigation with its footage under a new id. */
  async copy(person: Person, id: string, copyId: string): Promise<void> {
    await this.database.transaction(async (on) => {
      const document = readStored(await this.row(person, 'see', id, { on }))
      const title = `${cutText(document.title, 190)}, copy`
      await this.create(person, copyId, { ...document, title }, on)
      await on.raw(
        `insert into footage (investigation_id, id, sha256, has_poster, original_sha256)
         select ?, id, sha256, has_poster, original_sha256 from footage where investigation_id = ? on conflict do nothing`,
        [copyId, id],
      )
    })
  }

  /** Deletes so that it can be brought back for some days. */
  async remove(person: Person, id: string): Promise<void> {
    await this.row(person, 'delete', id)
    await this.database('investigations').where({ id }).update({ deleted_at: new Date() })
  }

  async restore(person: Person, id: string): Promise<void> {
    await this.row(person, 'delete', id, { deleted: true })
    await this.database('investigations').where({ id }).update({ deleted_at: null })
  }

  /** Erases what was deleted too long ago; gives the files that nothing refers to any more. */
  async sweep(now: Date): Promise<string[]> {
    const limit = new Date(now.getTime() - DAYS_KEPT * 86_400_000)
    return this.database.transaction(async (on) => {
      await on('investigations').where('deleted_at', '<', limit).delete()
      const unused = await on('files')
        .whereNotExists(
          on('footage').select('id').whereRaw('files.sha256 in (footage.sha256, original_sha256)'),
        )
        .whereNotExists(
          on('conversions').select('id').whereRaw('files.sha256 in (source_sha256, result_sha256)'),
        )
        .delete()
        .returning('sha256')
      return unused.map(({ sha256 }) => sha256 as string)
    })
  }
}

function readStored({ document }: InvestigationRow): Investigation {
  try {
    return readInvestigation(document)
  } catch (error) {
    if (error instanceof NewerDocumentError) throw new Problem(409, 'newer-document', error.message)
    throw error
  }
}

function patched(document: Investigation, patch: Patch): Investigation {
  try {
    return checkInvestigation(applyPatch(document, patch))
  } catch (error) {
    if (error instanceof PatchError || error instanceof RangeError)
      throw new Problem(422, 'edit-refused', `This change was refused, nothing was altered: ${error.message}`)
    throw error
  }
}
