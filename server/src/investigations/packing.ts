import { once } from 'node:events'
import { createReadStream, type ReadStream } from 'node:fs'
import { Readable } from 'node:stream'
import { fileNameOf } from '@apokinema/core/formats'
import type { Investigation } from '@apokinema/core/investigation'
import type { Context } from 'koa'
import { ZipFile } from 'yazl'
import { stringifyInSteps } from '../workers/chunks.ts'
import type { WorkerPool } from '../workers/workerPool.ts'

/** Bytes that are summed up and packed at a time. */
const PART = 65_536

function* inParts(bytes: Uint8Array): Generator<Uint8Array> {
  for (let at = 0; at < bytes.length; at += PART) yield bytes.subarray(at, at + PART)
}

/**
 * Answers with an investigation as one ZIP, which is made while it is sent: what was decided, tables and a readme, and
 * the footage as it is, which no packing makes smaller.
 *
 * @param footage path of the footage file; null where the server has none
 */
export async function sendPacked(
  context: Context,
  workers: WorkerPool,
  investigation: Investigation,
  footage: string | null,
): Promise<void> {
  // Whoever goes away meanwhile takes the work along.
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
  // What nobody reads to its end is closed all the same.
  gone.signal.addEventListener('abort', () => film?.destroy())
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
