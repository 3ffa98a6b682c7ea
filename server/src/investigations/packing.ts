import { once } from 'node:events'
import { fileNameOf, packedTexts } from '@apokinema/core/formats'
import type { Investigation } from '@apokinema/core/investigation'
import type { Context } from 'koa'
import { ZipFile } from 'yazl'

/**
 * Answers with an investigation as one ZIP, which is made while it is sent: what was decided, tables and a readme, and
 * the footage as it is, which no packing makes smaller.
 *
 * @param footage path of the footage file; null where the server has none
 */
export function sendPacked(context: Context, investigation: Investigation, footage: string | null): void {
  const { entries, footage: name } = packedTexts(investigation, footage !== null)
  const zip = new ZipFile()
  const mtime = new Date()
  for (const { name: entry, text } of entries) zip.addBuffer(Buffer.from(text, 'utf8'), entry, { mtime })
  if (footage !== null && name !== null) zip.addFile(footage, name, { compress: false, mtime })
  zip.end()
  context.set('Content-Type', 'application/zip')
  context.set('Cache-Control', 'no-store')
  context.set(
    'Content-Disposition',
    `attachment; filename*=UTF-8''${encodeURIComponent(fileNameOf(investigation, 'zip'))}`,
  )
  context.body = zip.outputStream
  // A file that can't be read any more ends the answer in the middle, so that nobody takes it for whole.
  void once(zip, 'error').then(([error]) => context.res.destroy(error as Error))
}
