import { once } from 'node:events'
import { readFile } from 'node:fs/promises'
import { createServer as createHttpServer, type RequestListener, type Server } from 'node:http'
import { createServer as createHttpsServer } from 'node:https'
import { join } from 'node:path'
import type { Logger } from 'pino'
import { createApp } from './app.ts'
import type { Config } from './config.ts'
import { migrate, openDatabase, tryDatabase } from './database/database.ts'
import { Presence } from './database/presence.ts'
import { Conversions } from './footage/conversions.ts'
import { hasFfmpeg } from './footage/ffmpeg.ts'
import { eraseUnused } from './footage/links.ts'
import { readSamples } from './footage/samples.ts'
import { Uploads } from './footage/uploads.ts'
import { Vault } from './footage/vault.ts'
import { InvestigationStore } from './investigations/store.ts'
import { openLog } from './log.ts'
import type { Room } from './room.ts'
import { Workers } from './workers.ts'

/** A server that runs. */
export interface Running {
  room: Room
  server: Server
  /** Finishes what is being answered and closes everything. */
  stop(): Promise<void>
}

/**
 * Milliseconds for which a quiet connection is kept. Node's own five seconds are so few that a page which has been busy
 * for a while uses a connection in the very moment in which it is closed.
 */
const KEEP_ALIVE = 75_000
/** Milliseconds after which a connection on which nothing moves is given up. */
const SILENCE = 120_000
const HOUR = 3_600_000
/** Milliseconds between two signs of life in the database. */
const BEAT = 3000

/**
 * Does something again and again, each time so long after it was done before; what goes wrong is logged.
 *
 * @returns ends it, and resolves when what is being done is done
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
 * Migrates the database and serves API and pages. Rejects, with everything closed again, where the port is taken or the
 * database is not there.
 */
export async function serve(config: Config, options: { quiet?: boolean } = {}): Promise<Running> {
  const { log, trim } = openLog(config.logFile, options.quiet ?? false)
  await tryDatabase(config.databaseUrl)
  // What has to be ended, in the order in which it was begun.
  const ends: (() => Promise<unknown>)[] = []
  const stop = async () => {
    for (const end of ends.splice(0).reverse()) await end()
  }
  try {
    const database = openDatabase(config.databaseUrl)
    // An idle connection that breaks when the database dies is replaced by itself and must not end the process.
    database.client.pool?.on?.('error', () => {})
    ends.push(() => database.destroy())
    await migrate(database)
    const presence = new Presence(database)
    await presence.beat()
    ends.push(() => presence.signOff().catch(() => {}))
    const vault = await Vault.open(config.footageFolder, presence.id)
    ends.push(() => vault.leave())
    const workers = new Workers(log)
    ends.push(() => workers.close())
    const investigations = new InvestigationStore(database, workers)
    const samples = await readSamples(config.samplesFolder)
    const uploads = await Uploads.open(join(config.footageFolder, 'uploads'), config.maxFootageBytes)
    const conversions = (await hasFfmpeg())
      ? new Conversions(database, config.databaseUrl, vault, presence, log)
      : null
    if (conversions) {
      ends.push(() => conversions.stop())
      await conversions.start()
    }
    ends.push(
      repeatedly(BEAT, log, 'beat', async () => {
        await presence.beat()
        await conversions?.lookAfter()
      }),
    )
    const sweep = async () => {
      trim()
      await vault.tidy(await presence.present())
      await uploads.sweep(new Date())
      await investigations.sweep(new Date())
      await eraseUnused(database, vault, new Date())
    }
    await sweep()
    ends.push(repeatedly(HOUR, log, 'sweep', sweep))
    const room: Room = {
      config,
      log,
      database,
      presence,
      workers,
      investigations,
      vault,
      samples,
      uploads,
      conversions,
    }
    const server = await listen(config, createApp(room).callback())
    ends.push(() => closed(server))
    return { room, server, stop }
  } catch (error) {
    await stop()
    throw error
  }
}

async function listen({ tls, port, host }: Config, handler: RequestListener): Promise<Server> {
  const server = tls
    ? createHttpsServer({ cert: await readFile(tls.certificate), key: await readFile(tls.key) }, handler)
    : createHttpServer(handler)
  // An upload takes as long as it takes; other bodies are timed by the application.
  server.requestTimeout = 0
  server.timeout = SILENCE
  server.keepAliveTimeout = KEEP_ALIVE
  server.headersTimeout = KEEP_ALIVE + 5000
  server.listen(port, host)
  await once(server, 'listening')
  return server
}

/** Finishes what is being answered, within moments. */
async function closed(server: Server): Promise<void> {
  const gone = once(server, 'close')
  server.close()
  server.closeIdleConnections()
  setTimeout(() => server.closeAllConnections(), 2000).unref()
  await gone
}
