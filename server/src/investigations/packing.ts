import { once } from 'node:events'
import { createReadStream, type ReadStream } from 'node:fs'
import { Readable } from 'node:stream'
import { fileNameOf } from '@apokinema/core/formats'
import type { Investigation } from '@apokinema/core/investigation'
import type { Context } from 'koa'
import { ZipFile } from 'yazl'
import { stringifyInSteps } from '../workers/chunks.ts'
import type { WorkerPool } from '../workers/workerPool.ts'

/** Size of a chunk in bytes. */
const PART = 65_536

function* inParts(bytes: Uint8Array): Generator<Uint8Array> {
  for (let at = 0; at < bytes.length; at += PART) yield bytes.subarray(at, at + PART)
}

/**
 * Answers with an investigation as one ZIP, streamed while it is made: the document, tables and a readme, and
 * the footage, stored without compression.
 *
 * @param footage path of the footage file; null if the server has none
 */
export async function sendPacked(
  context: Context,
  workers: WorkerPool,
  investigation: Investigation,
  footage: string | null,
): Promise<void> {
  // The work is aborted when the client disconnects.
  const gone = new AbortController()
  context.res.once('close', () => gone.abort())
  const document = await stringifyInSteps(investigation)
  const { entries, footage: name } = await workers.pack(document, footage !== null, gone.signal)
  const zip = new ZipFile()
  const mtime = new Date()
  for (const { name: entry, bytes } of entries)
    zip.addReadStreamLazy(entry, { mtime }, (give) => give(null, Readable.from(inParts(bytes))))
  let film: ReadStream | null = null
  if (footage !== null && name !== null)
    zip.addReadStreamLazy(name, { compress: false, mtime }, (give) => {
      film = createReadStream(footage)
      give(null, film)
    })
  // Closed even if nobody reads it to its end.
  gone.signal.addEventListener('abort', () => film?.destroy())
  zip.end()
  context.set('Content-Type', 'application/zip')
  context.set('Cache-Control', 'no-store')
  context.set(
    'Content-Disposition',
    `attachment; filename*=UTF-8''${encodeURIComponent(fileNameOf(investigation, 'zip'))}`,
  )
  context.body = zip.outputStream
  // If the file becomes unreadable, the answer is cut off, so that nobody takes it for complete.
  void once(zip, 'error').then(([error]) => context.res.destroy(error as Error))
}
