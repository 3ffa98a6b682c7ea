import type { Knex } from 'knex'
import { type Action, may, type Person } from '../people.ts'
import type { BlobStore, StoredFile } from './blobStore.ts'

/** Key of the advisory lock that is held shared while a file is stored and exclusively while one is erased. */
const ERASING = 5_170_002
/** Milliseconds for which a file must have been unused before it is erased. */
const DAY = 86_400_000

/**
 * Moves a complete file into the blob store, inserts its row and runs `use`, which inserts the rows that refer to it, in one
 * transaction.
 *
 * @param path current path of the file; see `BlobStore.measure`
 */
export async function storeFile(
  database: Knex,
  blobs: BlobStore,
  path: string,
  file: StoredFile,
  use: (on: Knex) => Promise<void>,
): Promise<void> {
  await database.transaction(async (on) => {
    // The file being erased could have the same content.
    await on.raw('select pg_advisory_xact_lock_shared(?)', [ERASING])
    await on('files')
      .insert({ ...file })
      .onConflict('sha256')
      .merge({ unused_since: null })
    await use(on)
    await blobs.keep(path, file)
  })
}

/**
 * Links a file to an investigation as its footage, with the original that it was made from if
 * there is one. Idempotent.
 */
export async function linkFootage(
  on: Knex,
  link: { investigation: string; id: string; sha256: string; hasPoster: boolean; original?: string },
): Promise<void> {
  await on('footage')
    .insert({
      investigation_id: link.investigation,
      id: link.id,
      sha256: link.sha256,
      has_poster: link.hasPoster,
      original_sha256: link.original ?? null,
    })
    .onConflict(['investigation_id', 'id'])
    .ignore()
}

/** Returns the file that an investigation has under a footage id, or undefined. */
export async function findFootage(
  on: Knex,
  investigation: string,
  id: string,
): Promise<{ sha256: string; type: string; has_poster: boolean } | undefined> {
  return on('footage')
    .join('files', 'files.sha256', 'footage.sha256')
    .where({ 'footage.investigation_id': investigation, 'footage.id': id })
    .first('files.sha256', 'files.type', 'footage.has_poster')
}

/**
 * Returns the file that an investigation has under a footage id, in one statement with the check that the person may do this
 * to the investigation, or undefined: a whole class opens one clip at the same moment.
 */
export async function permittedFootage(
  on: Knex,
  person: Person,
  action: Action,
  { investigation, id }: { investigation: string; id: string },
): Promise<{ sha256: string; type: string; has_poster: boolean } | undefined> {
  const { rows } = await on
    .raw(
      `select owner_id, files.sha256, type, has_poster from investigations
       join footage on footage.investigation_id = investigations.id join files on files.sha256 = footage.sha256
       where investigations.id = ? and footage.id = ? and deleted_at is null`,
      [investigation, id],
    )
    // Named: PostgreSQL prepares it once per connection.
    .options({ name: 'permitted-footage' })
  return rows.find((row: { owner_id: string }) => may(person, action, row))
}

/** Query for files that no footage and no conversion refers to. */
function unused(on: Knex) {
  return on('files')
    .whereNotExists(on('footage').select('id').whereRaw('files.sha256 in (footage.sha256, original_sha256)'))
    .whereNotExists(on('conversions').select('id').whereRaw('files.sha256 in (source_sha256, result_sha256)'))
}

/**
 * Erases unreferenced files in two steps: marks them, and erases those that have been marked for a day after checking
 * again under a lock that excludes `storeFile`. Files in the blob store without a row, left by a crash between the two, are
 * marked as well.
 */
export async function eraseUnused(database: Knex, blobs: BlobStore, now: Date): Promise<void> {
  const known = new Set<string>(await database('files').pluck('sha256'))
  for await (const sha256 of blobs.checksums()) {
    const stray = known.has(sha256) ? null : await blobs.describe(sha256)
    if (stray) await database('files').insert(stray).onConflict('sha256').ignore()
  }
  await unused(database).whereNull('unused_since').update({ unused_since: now })
  const due: string[] = await database('files')
    .where('unused_since', '<=', new Date(now.getTime() - DAY))
    .pluck('sha256')
  for (const sha256 of due)
    await database.transaction(async (on) => {
      await on.raw('select pg_advisory_xact_lock(?)', [ERASING])
      const isErased = await unused(on).where({ sha256 }).whereNotNull('unused_since').delete()
      if (isErased) await blobs.erase(sha256)
      else await on('files').where({ sha256 }).update({ unused_since: null })
    })
}
