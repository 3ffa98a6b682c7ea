import type { Knex } from 'knex'
import type { StoredFile } from './vault.ts'

/**
 * Notes that an investigation has a file as its footage, and the original that it was made from where
 * there is one. A second time changes nothing.
 */
export async function linkFootage(
  on: Knex,
  link: { investigation: string; id: string; file: StoredFile; hasPoster: boolean; original?: string },
): Promise<void> {
  const { sha256 } = link.file
  await noteFile(on, link.file)
  await on('footage')
    .insert({
      investigation_id: link.investigation,
      id: link.id,
      sha256,
      has_poster: link.hasPoster,
      original_sha256: link.original ?? null,
    })
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

/** Notes a file of the vault, so that it can be referred to. */
export async function noteFile(on: Knex, { sha256, size, type }: StoredFile): Promise<void> {
  await on('files').insert({ sha256, size, type }).onConflict('sha256').ignore()
}
