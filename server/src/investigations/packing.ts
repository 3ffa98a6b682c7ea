import { once } from 'node:events'
import { createReadStream, type ReadStream } from 'node:fs'
import { join } from 'node:path'
import { Readable } from 'node:stream'
import type { OpenedSeries } from '@apokinema/core/api'
import { fileNameOf } from '@apokinema/core/formats'
import type { Investigation } from '@apokinema/core/investigation'
import type { Context } from 'koa'
import { ZipFile } from 'yazl'
import { pathOf } from '../footage/blobStore.ts'
import { findFootage } from '../footage/links.ts'
import { LOCAL_PERSON } from '../people.ts'
import { Problem } from '../problem.ts'
import type { Services } from '../services.ts'
import { stringifyInSteps } from '../workers/chunks.ts'
import type { WorkerPool } from '../workers/workerPool.ts'

/** Size of a chunk in bytes. */
const PART = 65_536

function* inParts(bytes: Uint8Array): Generator<Uint8Array> {
  for (let at = 0; at < bytes.length; at += PART) yield bytes.subarray(at, at + PART)
}

/** An investigation with the path of its footage; null if the server has none. */
export interface Packable {
  document: Investigation
  footage: string | null
}

/** Returns an investigation with its footage; throws a Problem if it can't be read. */
export async function packableOf(
  { investigations, database, blobs }: Pick<Services, 'investigations' | 'database' | 'blobs'>,
  id: string,
): Promise<Packable> {
  const { document } = await investigations.open(LOCAL_PERSON, id)
  const stored = document.footage ? await findFootage(database, id, document.footage.id) : undefined
  return { document, footage: stored ? join(blobs.root, pathOf(stored.sha256)) : null }
}

/** Answers with an investigation as one ZIP, streamed while it is made. */
export async function sendPacked(context: Context, workers: WorkerPool, packable: Packable): Promise<void> {
  const gone = goneSignal(context)
  sendZip(context, packable.document.title, await packedZip(workers, packable, gone))
}

/**
 * Answers with a series as one ZIP, streamed while it is made: the series itself, and each trial as an investigation in one file. Of a trial
 * that can't be read, that file has what is stored.
 *
 * @param services by which a trial is loaded when its turn has come
 */
export function sendPackedSeries(
  context: Context,
  services: Pick<Services, 'investigations' | 'database' | 'blobs' | 'workers'>,
  { document: series, trials }: Pick<OpenedSeries, 'document' | 'trials'>,
): void {
  const packedTrial = async (id: string): Promise<ZipFile> => {
    const packable = await packableOf(services, id).catch((error) => {
      if (error instanceof Problem) return null
      throw error
    })
    if (packable) return packedZip(services.workers, packable, gone)
    const zip = new ZipFile()
    const stored = await stringifyInSteps(await services.investigations.stored(LOCAL_PERSON, id))
    zip.addBuffer(Buffer.from(stored), 'stored.json')
    zip.end()
    return zip
  }
  const gone = goneSignal(context)
  const zip = new ZipFile()
  const mtime = new Date()
  zip.addBuffer(Buffer.from(`${JSON.stringify(series, null, 1)}\n`), 'series.json', { mtime })
  for (const [i, { id, title }] of trials.entries())
    zip.addReadStreamLazy(
      `trials/${i + 1} ${fileNameOf({ title }, 'zip')}`,
      { compress: false, mtime },
      (give) => {
        packedTrial(id).then(
          (trial) => give(null, trial.outputStream),
          (error) => give(error as Error, Readable.from([])),
        )
      },
    )
  zip.end()
  sendZip(context, series.title, zip)
}

/** Returns a signal that is aborted when the client disconnects. */
function goneSignal(context: Context): AbortSignal {
  const gone = new AbortController()
  context.res.once('close', () => gone.abort())
  return gone.signal
}

/** Returns a ZIP of an investigation: the document, tables and a readme, and the footage, stored without compression. */
async function packedZip(
  workers: WorkerPool,
  { document: investigation, footage }: Packable,
  gone: AbortSignal,
): Promise<ZipFile> {
  const document = await stringifyInSteps(investigation)
  const { entries, footage: name } = await workers.pack(document, footage !== null, gone)
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
  gone.addEventListener('abort', () => film?.destroy())
  zip.end()
  // If the file becomes unreadable, whatever reads the ZIP is told.
  void once(zip, 'error').then(([error]) => (zip.outputStream as Readable).destroy(error as Error))
  return zip
}

function sendZip(context: Context, title: string, zip: ZipFile): void {
  context.set('Content-Type', 'application/zip')
  context.set('Cache-Control', 'no-store')
  context.set(
    'Content-Disposition',
    `attachment; filename*=UTF-8''${encodeURIComponent(fileNameOf({ title }, 'zip'))}`,
  )
  context.body = zip.outputStream
  // An answer that is cut off is taken for complete by nobody.
  void once(zip, 'error').then(([error]) => context.res.destroy(error as Error))
}
