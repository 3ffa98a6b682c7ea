import { once } from 'node:events'
import { readFile } from 'node:fs/promises'
import { createServer as createHttpServer, type RequestListener, type Server } from 'node:http'
import { createServer as createHttpsServer } from 'node:https'
import { join } from 'node:path'
import type { Logger } from 'pino'
import { createApp } from './app.ts'
import type { Config } from './config.ts'
import { migrate, openDatabase, tryDatabase } from './database/database.ts'
import { ServerRegistry } from './database/serverRegistry.ts'
import { BlobStore } from './footage/blobStore.ts'
import { Conversions } from './footage/conversions.ts'
import { hasFfmpeg } from './footage/ffmpeg.ts'
import { eraseUnused } from './footage/links.ts'
import { Samples } from './footage/samples.ts'
import { Uploads } from './footage/uploads.ts'
import { InvestigationStore } from './investigations/store.ts'
import { openLog } from './log.ts'
import { SeriesStore } from './series/store.ts'
import type { Services } from './services.ts'
import { WorkerPool } from './workers/workerPool.ts'

/** A running server. */
export interface Running {
  services: Services
  server: Server
  /** Finishes running requests and closes everything. */
  stop(): Promise<void>
}

/**
 * Keep-alive timeout in milliseconds. Node's default of five seconds is so short that a page that was busy
 * for a while uses a connection in the very moment in which it is closed.
 */
const KEEP_ALIVE = 75_000
/** Milliseconds after which an inactive connection is closed. */
const SILENCE = 120_000
const HOUR = 3_600_000
/** Milliseconds between heartbeats; see ServerRegistry. */
const HEARTBEAT = 3000

/**
 * Runs a task repeatedly with `pause` milliseconds between the end of one run and the start of the next. Logs errors.
 *
 * @returns a function that stops it and resolves when the current run has ended
 */
function repeatedly(pause: number, log: Logger, name: string, act: () => Promise<void>): () => Promise<void> {
  let acting = Promise.resolve()
  let timer: NodeJS.Timeout
  const next = () => {
    timer = setTimeout(() => {
      acting = act()
        .catch((error) => log.warn({ err: error }, name))
        .then(next)
    }, pause).unref()
  }
  next()
  return async () => {
    clearTimeout(timer)
    await acting
    clearTimeout(timer)
  }
}

/**
 * Migrates the database and serves API and pages. Rejects, with everything closed again, if the port is taken or the
 * database is unavailable.
 */
export async function serve(config: Config, options: { quiet?: boolean } = {}): Promise<Running> {
  const { log, trim } = openLog(config.logFile, options.quiet ?? false)
  await tryDatabase(config.databaseUrl)
  // Cleanup functions, run in reverse order.
  const ends: (() => Promise<unknown>)[] = []
  const stop = async () => {
    for (const end of ends.splice(0).reverse()) await end()
  }
  try {
    const database = openDatabase(config.databaseUrl)
    // A broken idle connection is replaced by the pool and must not end the process.
    database.client.pool?.on?.('error', () => {})
    ends.push(() => database.destroy())
    await migrate(database)
    const registry = new ServerRegistry(database)
    await registry.heartbeat()
    ends.push(() => registry.signOff().catch(() => {}))
    const blobs = await BlobStore.open(config.footageFolder, registry.id)
    ends.push(() => blobs.leave())
    const workers = new WorkerPool(log)
    ends.push(() => workers.close())
    const investigations = new InvestigationStore(database, workers)
    const series = new SeriesStore(database)
    const samples = await Samples.read(config.samplesFolder)
    const uploads = await Uploads.open(join(config.footageFolder, 'uploads'), config.maxFootageBytes)
    const conversions = (await hasFfmpeg())
      ? new Conversions(database, config.databaseUrl, blobs, registry, log)
      : null
    if (conversions) {
      ends.push(() => conversions.stop())
      await conversions.start()
    }
    ends.push(
      repeatedly(HEARTBEAT, log, 'heartbeat', async () => {
        await registry.heartbeat()
        await conversions?.reconcile()
      }),
    )
    const sweep = async () => {
      trim()
      await blobs.tidy(await registry.present())
      await uploads.sweep(new Date())
      await investigations.sweep(new Date())
      await series.sweep(new Date())
      await eraseUnused(database, blobs, new Date())
    }
    await sweep()
    ends.push(repeatedly(HOUR, log, 'sweep', sweep))
    const services: Services = {
      config,
      log,
      database,
      registry,
      workers,
      investigations,
      series,
      blobs,
      samples,
      uploads,
      conversions,
    }
    const server = await listen(config, createApp(services).callback())
    ends.push(() => closed(server))
    return { services, server, stop }
  } catch (error) {
    await stop()
    throw error
  }
}

async function listen({ tls, port, host }: Config, handler: RequestListener): Promise<Server> {
  const server = tls
    ? createHttpsServer({ cert: await readFile(tls.certificate), key: await readFile(tls.key) }, handler)
    : createHttpServer(handler)
  // Uploads have no time limit; other bodies are timed by the application.
  server.requestTimeout = 0
  server.timeout = SILENCE
  server.keepAliveTimeout = KEEP_ALIVE
  server.headersTimeout = KEEP_ALIVE + 5000
  server.listen(port, host)
  await once(server, 'listening')
  return server
}

/** Closes the server; running requests have two seconds to finish. */
async function closed(server: Server): Promise<void> {
  const gone = once(server, 'close')
  server.close()
  server.closeIdleConnections()
  setTimeout(() => server.closeAllConnections(), 2000).unref()
  await gone
}
