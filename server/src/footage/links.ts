import type { Knex } from 'knex'
import type { StoredFile } from './vault.ts'

/** Notes that an investigation has a file as its footage. A second time changes nothing. */
export async function linkFootage(
  on: Knex,
  link: { investigation: string; id: string; file: StoredFile; hasPoster: boolean },
): Promise<void> {
  const { sha256, size, type } = link.file
  await on('files').insert({ sha256, size, type }).onConflict('sha256').ignore()
  await on('footage')
    .insert({ investigation_id: link.investigation, id: link.id, sha256, has_poster: link.hasPoster })
    .onConflict(['investigation_id', 'id'])
    .ignore()
}

/** The file that an investigation has under a footage id, or undefined. */
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
