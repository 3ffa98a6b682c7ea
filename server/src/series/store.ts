import type {
  EditAnswer,
  EditRequest,
  ListedSeries,
  ListedTrial,
  OpenedSeries,
  SeriesOf,
} from '@apokinema/core/api'
import { applyPatch, inOrder, type Patch, PatchError, patchesMeet } from '@apokinema/core/investigation'
import { checkSeries, readSeries, type Series } from '@apokinema/core/series'
import type { Knex } from 'knex'
import { documentProblem } from '../documentProblem.ts'
import { type Action, may, type Person } from '../people.ts'
import { editRefused, notFound, Problem } from '../problem.ts'

/** A row of the table of series. */
interface SeriesRow {
  id: string
  owner_id: string
  version: number
  title: string
  document: unknown
  updated_at: Date
  deleted_at: Date | null
}

/** Most series in a list. */
const MOST_LISTED = 500
/** Trials that a list shows of each. */
const TRIALS_LISTED = 4
/** Number of days for which a deleted series can be restored. */
const DAYS_KEPT = 30

/** Series in the database. Every function asks `may` first. A document is small, so edits are applied within their transaction. */
export class SeriesStore {
  constructor(private readonly database: Knex) {}

  /** Returns the series that are not deleted, or the deleted ones, newest first. */
  async list(person: Person, deleted = false): Promise<ListedSeries[]> {
    const rows: Pick<SeriesRow, 'id' | 'title' | 'updated_at' | 'deleted_at'>[] = await this.database(
      'series',
    )
      .where({ owner_id: person.id })
      .modify((query) => {
        void (deleted ? query.whereNotNull('deleted_at') : query.whereNull('deleted_at'))
      })
      .orderBy([
        { column: 'updated_at', order: 'desc' },
        { column: 'id', order: 'desc' },
      ])
      .limit(MOST_LISTED)
      .select('id', 'title', 'updated_at', 'deleted_at')
    const trials = await this.trialsOf(rows.map(({ id }) => id))
    return rows.map(({ id, title, updated_at, deleted_at }) => {
      const own = trials.get(id) ?? []
      return {
        id,
        title,
        trials: own.slice(0, TRIALS_LISTED),
        count: own.length,
        updatedAt: updated_at.toISOString(),
        deletedAt: deleted_at?.toISOString() ?? null,
      }
    })
  }

  async open(person: Person, id: string): Promise<OpenedSeries> {
    const row = await this.row(person, 'see', id)
    const trials = await this.trialsOf([id])
    return {
      id,
      version: row.version,
      document: read(row.document),
      trials: trials.get(id) ?? [],
      updatedAt: row.updated_at.toISOString(),
    }
  }

  /** Returns the ids of the investigations of a series that are not deleted, in order. */
  async trials(person: Person, id: string): Promise<string[]> {
    await this.row(person, 'see', id)
    return ((await this.trialsOf([id])).get(id) ?? []).map((trial) => trial.id)
  }

  /** Returns the series that an investigation is a trial of; null if there is none. */
  async of(person: Person, investigation: string): Promise<SeriesOf | null> {
    const row = await this.database('series_trials')
      .join('series', 'series.id', 'series_trials.series_id')
      .where({ investigation_id: investigation })
      .whereNull('series.deleted_at')
      .first('series.id', 'series.title', 'series.owner_id')
    return row && may(person, 'see', row) ? { id: row.id, title: row.title } : null
  }

  /** Adds a new series. A repeated request with the same id is answered like the first. */
  async create(person: Person, id: string, document: Series): Promise<void> {
    await this.database.transaction(async (on) => {
      const added = await on('series')
        .insert({
          id,
          owner_id: person.id,
          version: 1,
          title: document.title,
          document: JSON.stringify(document),
          updated_at: new Date(),
        })
        .onConflict('id')
        .ignore()
        .returning('id')
      if (added.length === 0) await this.row(person, 'change', id, { on })
      else await setTrials(on, person, id, document, { trials: {} })
    })
  }

  /**
   * Applies one edit, as that of an investigation: a patch of an older version is rebased if it touches nothing that has changed since;
   * otherwise throws a Problem with the code "edit-conflict". A repeated edit is answered again.
   */
  async edit(person: Person, id: string, { key, base, patch }: EditRequest): Promise<EditAnswer> {
    return this.database.transaction(async (on) => {
      const row = await this.row(person, 'change', id, { on, locked: true })
      const applied = await on('series_revisions')
        .where({ series_id: id, key })
        .first('version', 'created_at')
      if (applied)
        return {
          version: applied.version,
          since: await patchesBetween(on, id, base, applied.version - 1),
          updatedAt: (applied.created_at as Date).toISOString(),
        }
      if (base > row.version)
        throw new Problem(
          409,
          'unknown-version',
          'The server has an older state of this series than this page.',
        )
      const since = await patchesBetween(on, id, base, row.version)
      if (since.some((other) => patchesMeet(other, patch)))
        throw new Problem(409, 'edit-conflict', 'The same thing was changed elsewhere in the meantime.', {
          version: row.version,
        })
      const before = read(row.document)
      const next = patched(before, patch)
      const version = row.version + 1
      const now = new Date()
      await on('series')
        .where({ id })
        .update({
          version,
          title: next.title,
          document: JSON.stringify(next),
          updated_at: now,
        })
      await on('series_revisions').insert({
        series_id: id,
        version,
        key,
        author_id: person.id,
        patch: JSON.stringify(patch),
        created_at: now,
      })
      await setTrials(on, person, id, next, before)
      return { version, since, updatedAt: now.toISOString() }
    })
  }

  /** Marks a series as deleted. Its investigations stay, and belong to no series until it is restored. */
  async remove(person: Person, id: string): Promise<void> {
    await this.database.transaction(async (on) => {
      await this.row(person, 'delete', id, { on, locked: true })
      await on('series').where({ id }).update({ deleted_at: new Date() })
      await on('series_trials').where({ series_id: id }).delete()
    })
  }

  async restore(person: Person, id: string): Promise<void> {
    await this.database.transaction(async (on) => {
      const row = await this.row(person, 'delete', id, { on, locked: true, deleted: true })
      await on('series').where({ id }).update({ deleted_at: null })
      await setTrials(on, person, id, read(row.document), null)
    })
  }

  /** Erases series that were deleted long ago. */
  async sweep(now: Date): Promise<void> {
    const limit = new Date(now.getTime() - DAYS_KEPT * 86_400_000)
    await this.database('series').where('deleted_at', '<', limit).delete()
  }

  /** Returns the row if the person may do this to it; otherwise throws 404. */
  private async row(
    person: Person,
    action: Action,
    id: string,
    { on = this.database as Knex, locked = false, deleted = false } = {},
  ): Promise<SeriesRow> {
    const query = on<SeriesRow>('series').where({ id })
    const row = await (locked ? query.forUpdate() : query).first()
    if (!row || !may(person, action, row) || (row.deleted_at !== null) !== deleted) throw notFound()
    return row
  }

  /** Returns the trials of series that are not deleted, in order. */
  private async trialsOf(ids: readonly string[]): Promise<Map<string, ListedTrial[]>> {
    const rows = await this.database('series_trials')
      .join('investigations', 'investigations.id', 'series_trials.investigation_id')
      .leftJoin('footage', (join) => {
        join
          .on('footage.investigation_id', 'investigations.id')
          .andOn('footage.id', 'investigations.footage_id')
      })
      .whereIn('series_trials.series_id', ids)
      .whereNull('investigations.deleted_at')
      .orderBy(['series_trials.series_id', 'series_trials.place'])
      .select(
        'series_trials.series_id',
        'investigations.id',
        'investigations.title',
        'investigations.version',
        'investigations.footage_id',
        'footage.has_poster',
      )
    const trials = new Map<string, ListedTrial[]>()
    for (const { series_id, id, title, version, footage_id, has_poster } of rows)
      trials.set(series_id, [
        ...(trials.get(series_id) ?? []),
        { id, title, version, poster: has_poster ? footage_id : null },
      ])
    return trials
  }
}

/** Returns the patches after one version up to another, in order. */
async function patchesBetween(on: Knex, id: string, after: number, until: number): Promise<Patch[]> {
  const rows: { patch: Patch }[] = await on('series_revisions')
    .where('series_id', id)
    .andWhere('version', '>', after)
    .andWhere('version', '<=', until)
    .orderBy('version')
    .select('patch')
  return rows.map(({ patch }) => patch)
}

/**
 * Keeps which investigations are trials of a series. Those that it had before may have been erased since; each new one must be an
 * investigation of the person and in no other series.
 *
 * @param before the series as it was; null: new ones that are gone, or in another series by now, are passed over
 */
async function setTrials(
  on: Knex,
  person: Person,
  series: string,
  document: Series,
  before: Pick<Series, 'trials'> | null,
): Promise<void> {
  const places = new Map(inOrder(document.trials).map(([id], place) => [id, place]))
  const known: { investigation_id: string; place: number }[] = await on('series_trials')
    .where({ series_id: series })
    .select('investigation_id', 'place')
  const gone = known.filter(({ investigation_id }) => !places.has(investigation_id))
  if (gone.length > 0)
    await on('series_trials')
      .whereIn(
        'investigation_id',
        gone.map(({ investigation_id }) => investigation_id),
      )
      .delete()
  for (const { investigation_id, place } of known) {
    const now = places.get(investigation_id)
    if (now !== undefined && now !== place)
      await on('series_trials').where({ investigation_id }).update({ place: now })
    places.delete(investigation_id)
  }
  for (const [investigation_id, place] of places) {
    if (before && Object.hasOwn(before.trials, investigation_id)) continue
    const row = await on('investigations').where({ id: investigation_id }).first('owner_id')
    const isThere = row !== undefined && may(person, 'change', row)
    const added = isThere
      ? await on('series_trials')
          .insert({ investigation_id, series_id: series, place })
          .onConflict('investigation_id')
          .ignore()
          .returning('investigation_id')
      : []
    if (added.length > 0 || before === null) continue
    if (!isThere)
      throw new Problem(422, 'edit-refused', 'This investigation is not there. Nothing was altered.')
    throw new Problem(
      409,
      'in-another-series',
      'This investigation is a trial of another series already. Take it out of that one first.',
    )
  }
}

/** Returns a stored series; one that can't be read is a Problem. */
function read(document: unknown): Series {
  try {
    return readSeries(document)
  } catch (error) {
    throw documentProblem(
      error,
      (why) =>
        new Problem(
          409,
          'unreadable-document',
          `This series can’t be read as it is stored (${why}). Nothing of it is lost.`,
        ),
    )
  }
}

function patched(document: Series, patch: Patch): Series {
  try {
    return checkSeries(applyPatch(document, patch))
  } catch (error) {
    if (error instanceof PatchError || error instanceof RangeError) throw editRefused(error.message)
    throw error
  }
}
