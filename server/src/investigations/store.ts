import type { EditAnswer, EditRequest, ListedInvestigations, OpenedInvestigation } from '@apokinema/core/api'
import {
  applyPatch,
  checkInvestigationInSteps,
  checkPatchedInSteps,
  cutText,
  type Investigation,
  type Patch,
  PatchError,
  patchesMeet,
} from '@apokinema/core/investigation'
import type { Knex } from 'knex'
import { documentProblem } from '../documentProblem.ts'
import { type Action, may, type Person } from '../people.ts'
import { editRefused, notFound, Problem } from '../problem.ts'
import { pause } from '../workers/chunks.ts'
import type { WorkerPool } from '../workers/workerPool.ts'
import { Documents, type Standing, storeSnapshot, type Version } from './documents.ts'
import { type InvestigationRow, pageStart, rowOf } from './rows.ts'

/** Maximum number of tries to add an edit while others add theirs. */
const MOST_TRIES = 50
/** Investigations on one page of the list. */
const PAGE = 60
/** PostgreSQL's code for a duplicate key. */
const UNIQUE_VIOLATION = '23505'

/** Number of days for which a deleted investigation can be restored. */
const DAYS_KEPT = 30

/** Investigations in the database. Every function asks `may` first. */
export class InvestigationStore {
  private readonly documents: Documents

  constructor(
    private readonly database: Knex,
    workers: WorkerPool,
  ) {
    this.documents = new Documents(database, workers)
  }

  /** Returns the row if the person may do this to it; otherwise throws 404. */
  async row(
    person: Person,
    action: Action,
    id: string,
    { deleted = false, on = this.database as Knex } = {},
  ): Promise<InvestigationRow> {
    const row = await on<InvestigationRow>('investigations').where({ id }).first()
    if (!row || !may(person, action, row) || (row.deleted_at !== null) !== deleted) throw notFound()
    return row
  }

  /**
   * Returns a page of the investigations that are not deleted, or of the deleted ones that can be restored, newest first.
   *
   * @param after `next` of the previous page
   */
  async list(
    person: Person,
    { deleted = false, after }: { deleted?: boolean; after?: string | undefined } = {},
  ): Promise<ListedInvestigations> {
    const place = pageStart(after)
    const rows: (InvestigationRow & { has_poster: boolean | null; series_id: string | null })[] =
      await this.database('investigations')
        .leftJoin('footage', (join) => {
          join
            .on('footage.investigation_id', 'investigations.id')
            .andOn('footage.id', 'investigations.footage_id')
        })
        .leftJoin('series_trials', 'series_trials.investigation_id', 'investigations.id')
        .where({ owner_id: person.id })
        .modify((query) => {
          void (deleted ? query.whereNotNull('deleted_at') : query.whereNull('deleted_at'))
          if (place)
            void query.whereRaw(
              '(investigations.updated_at, investigations.id) < (?::timestamptz, ?::uuid)',
              [place.updatedAt, place.id],
            )
        })
        .orderBy([
          { column: 'investigations.updated_at', order: 'desc' },
          { column: 'investigations.id', order: 'desc' },
        ])
        .limit(PAGE + 1)
        .select('investigations.*', 'footage.has_poster', 'series_trials.series_id')
    const shown = rows.slice(0, PAGE)
    const last = shown.at(-1)
    return {
      investigations: shown.map((row) => ({
        id: row.id,
        title: row.title,
        summary: row.summary,
        poster: row.has_poster ? row.footage_id : null,
        series: row.series_id,
        updatedAt: row.updated_at.toISOString(),
        deletedAt: row.deleted_at?.toISOString() ?? null,
      })),
      next: rows.length > PAGE ? `${last!.updated_at.toISOString()}_${last!.id}` : null,
    }
  }

  async open(person: Person, id: string): Promise<OpenedInvestigation> {
    const row = await this.row(person, 'see', id)
    const { document } = await this.read(row)
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

  /** Returns the newest document; throws a Problem if it can't be read. */
  private async read(row: Standing): Promise<Version> {
    try {
      return await this.documents.read(row)
    } catch (error) {
      throw documentProblem(
        error,
        (why) =>
          new Problem(
            409,
            'unreadable-document',
            `This investigation can’t be read as it is stored (${why}). Nothing of it is lost: its last readable state can be opened as a copy.`,
          ),
      )
    }
  }

  /** Adds a new investigation. A repeated request with the same id is answered like the first. */
  async create(person: Person, id: string, document: Investigation, on: Knex = this.database): Promise<void> {
    const checked = await checkInvestigationInSteps(document, pause)
    const standing = { id, owner_id: person.id, version: 1, updated_at: new Date() }
    const put = async (within: Knex) => {
      const added = await within('investigations')
        .insert({ ...standing, ...rowOf(checked) })
        .onConflict('id')
        .ignore()
        .returning('id')
      if (added.length === 0) await this.row(person, 'change', id, { on: within })
      else {
        await storeSnapshot(within, id, 1, checked)
        // It is opened next.
        this.documents.note(standing, checked)
      }
    }
    await (on.isTransaction ? put(on) : on.transaction(put))
  }

  /**
   * Applies one edit: a patch of an older version is rebased if it touches nothing that has
   * changed since; otherwise throws a Problem with the code "edit-conflict" and changes nothing. A repeated
   * edit is answered again. Everything is computed before anything is locked; if others were
   * faster, it is computed again.
   */
  async edit(person: Person, id: string, request: EditRequest): Promise<EditAnswer> {
    const { key, base, patch } = request
    const quick = await this.editNewest(person, id, request)
    if (quick) return quick
    for (let tries = 0; tries < MOST_TRIES; tries++) {
      const row = await this.rowWithRevision(id, key)
      if (!row || row.deleted_at !== null || !may(person, 'change', row)) throw notFound()
      if (row.applied_version !== null)
        return {
          version: row.applied_version,
          since: await this.documents.patches(id, base, row.applied_version - 1),
          updatedAt: row.applied_at!.toISOString(),
        }
      if (base > row.version)
        throw new Problem(
          409,
          'unknown-version',
          'The server has an older state of this investigation than this page.',
        )
      const since = await this.documents.patches(id, base, row.version)
      if (since.some((other) => patchesMeet(other, patch)))
        throw new Problem(409, 'edit-conflict', 'The same thing was changed elsewhere in the meantime.', {
          version: row.version,
        })
      const { document, isStoredForm } = await this.read(row)
      const next = await patched(document, patch)
      const updatedAt = await this.append(person, row, { key, patch, next, whole: !isStoredForm })
      if (updatedAt) return { version: row.version + 1, since, updatedAt: updatedAt.toISOString() }
    }
    throw new Problem(
      503,
      'too-busy',
      'Too many change this investigation at once. Yours is kept and sent again.',
    )
  }

  /**
   * Applies an edit of the version in memory, if that is still the newest one: the common case, which needs one
   * statement only. Returns null in all other cases.
   */
  private async editNewest(
    person: Person,
    id: string,
    { key, base, patch }: EditRequest,
  ): Promise<EditAnswer | null> {
    const kept = this.documents.inMemory(id)
    if (kept?.version !== base || !kept.isStoredForm || !may(person, 'change', kept)) return null
    try {
      const next = await patched(kept.document, patch)
      const updatedAt = await this.append(person, kept, { key, patch, next, whole: false })
      return updatedAt && { version: base + 1, since: [], updatedAt: updatedAt.toISOString() }
    } catch (error) {
      // The memory can be outdated, so this proves nothing yet.
      if (error instanceof Problem) return null
      throw error
    }
  }

  /** What an edit needs of an investigation, and the version that it led to if it was applied before. */
  private rowWithRevision(id: string, key: string) {
    return this.database<InvestigationRow>('investigations')
      .leftJoin('revisions', (join) => {
        join.on('revisions.investigation_id', 'investigations.id').andOnVal('revisions.key', key)
      })
      .where('investigations.id', id)
      .options({ name: 'row-with-revision' })
      .first<
        | (Pick<InvestigationRow, 'id' | 'owner_id' | 'version' | 'updated_at' | 'deleted_at'> & {
            applied_version: number | null
            applied_at: Date | null
          })
        | undefined
      >(
        ...['id', 'owner_id', 'version', 'updated_at', 'deleted_at'].map((name) => `investigations.${name}`),
        'revisions.version as applied_version',
        'revisions.created_at as applied_at',
      )
  }

  /**
   * Stores an edit as the version after a row's, in one statement, and the resulting document in
   * memory. Returns its time; null if the row has changed, or the edit was stored already.
   *
   * @param whole whether the document is stored with it, since its form differs from its last snapshot's
   */
  private async append(
    person: Person,
    row: Standing,
    { key, patch, next, whole }: { key: string; patch: Patch; next: Investigation; whole: boolean },
  ): Promise<Date | null> {
    const { id, owner_id } = row
    const version = row.version + 1
    const now = new Date()
    const { title, summary, footage_id } = rowOf(next)
    const put = async (on: Knex) => {
      const { rowCount } = await on
        .raw(
          `with moved as (
             update investigations set version = ?, title = ?, summary = ?, footage_id = ?, updated_at = ?
             where id = ? and version = ? and updated_at = ? and owner_id = ? and deleted_at is null returning id
           )
           insert into revisions (investigation_id, version, key, author_id, patch, created_at)
           select id, ?, ?, ?, ?, ? from moved`,
          [
            ...[version, title, summary, footage_id, now, id, row.version, row.updated_at, owner_id],
            ...[version, key, person.id, JSON.stringify(patch), now],
          ],
        )
        // Named: PostgreSQL prepares it once per connection.
        .options({ name: 'append-edit' })
      return rowCount === 1
    }
    const putWhole = () =>
      this.database.transaction(async (on) => {
        const isPut = await put(on)
        if (isPut) await storeSnapshot(on, id, version, next)
        return isPut
      })
    try {
      if (!(await (whole ? putWhole() : put(this.database)))) return null
    } catch (error) {
      if ((error as { code?: string }).code === UNIQUE_VIOLATION) return null
      throw error
    }
    this.documents.note({ id, owner_id, version, updated_at: now }, next)
    this.documents.snapshotIfDue(id, version, next)
    return now
  }

  /** Returns everything that is stored of an investigation, also if it can't be read. */
  async stored(person: Person, id: string): Promise<object> {
    const { version, title } = await this.row(person, 'see', id)
    return { id, title, version, ...(await this.documents.stored(id)) }
  }

  /** Creates an investigation from the last readable state of one, with its footage. */
  async copyReadable(person: Person, id: string, copyId: string): Promise<void> {
    const row = await this.row(person, 'see', id)
    const readable = await this.documents.lastReadable(row)
    if (!readable)
      throw new Problem(
        409,
        'unreadable-document',
        'No state of this investigation can be read. Nothing was changed.',
      )
    await this.copyOf(person, id, copyId, readable.document)
  }

  /** Copies an investigation with its footage under a new id. */
  async copy(person: Person, id: string, copyId: string): Promise<void> {
    await this.copyOf(person, id, copyId, (await this.read(await this.row(person, 'see', id))).document)
  }

  private async copyOf(person: Person, id: string, copyId: string, document: Investigation): Promise<void> {
    await this.database.transaction(async (on) => {
      const title = `${cutText(document.title, 190)}, copy`
      await this.create(person, copyId, { ...document, title }, on)
      await on.raw(
        `insert into footage (investigation_id, id, sha256, has_poster, original_sha256)
         select ?, id, sha256, has_poster, original_sha256 from footage where investigation_id = ? on conflict do nothing`,
        [copyId, id],
      )
    })
  }

  /** Marks an investigation as deleted; it can be restored for some days. */
  async remove(person: Person, id: string): Promise<void> {
    await this.row(person, 'delete', id)
    await this.database('investigations').where({ id }).update({ deleted_at: new Date() })
  }

  async restore(person: Person, id: string): Promise<void> {
    await this.row(person, 'delete', id, { deleted: true })
    await this.database('investigations').where({ id }).update({ deleted_at: null })
  }

  /** Erases investigations that were deleted long ago. */
  async sweep(now: Date): Promise<void> {
    const limit = new Date(now.getTime() - DAYS_KEPT * 86_400_000)
    await this.database('investigations').where('deleted_at', '<', limit).delete()
  }
}

async function patched(document: Investigation, patch: Patch): Promise<Investigation> {
  try {
    return await checkPatchedInSteps(document, applyPatch(document, patch), patch, pause)
  } catch (error) {
    if (error instanceof PatchError || error instanceof RangeError) throw editRefused(error.message)
    throw error
  }
}
