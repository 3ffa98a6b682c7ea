import { readFile } from 'node:fs/promises'
import { createServer as createHttpServer, type Server } from 'node:http'
import { createServer as createHttpsServer } from 'node:https'
import { join } from 'node:path'
import { pino } from 'pino'
import { createApp } from './app.ts'
import type { Config } from './config.ts'
import { migrate, openDatabase, tryDatabase } from './database/database.ts'
import { Conversions } from './footage/conversions.ts'
import { hasFfmpeg } from './footage/ffmpeg.ts'
import { readSamples } from './footage/samples.ts'
import { Uploads } from './footage/uploads.ts'
import { Vault } from './footage/vault.ts'
import { InvestigationStore } from './investigations/store.ts'
import type { Room } from './room.ts'

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
const DAY = 86_400_000

/** What a log says of an error: errors of the database carry their whole connection with them. */
function toldOfError(error: unknown) {
  if (!(error instanceof Error)) return { message: String(error) }
  const { name, message, stack } = error
  return { name, message, code: (error as { code?: string }).code, stack }
}

/** Migrates the database and serves API and pages. Rejects where the port is taken or the database is not there. */
export async function serve(config: Config, options: { quiet?: boolean } = {}): Promise<Running> {
  const log = pino(
    { level: options.quiet ? 'silent' : 'info', serializers: { err: toldOfError } },
    pino.destination(2),
  )
  await tryDatabase(config.databaseUrl)
  const database = openDatabase(config.databaseUrl)
  // An idle connection that breaks when the database dies is replaced by itself and must not end the process.
  database.client.pool?.on?.('error', () => {})
  try {
    await migrate(database)
    const vault = new Vault(config.footageFolder)
    await vault.tidy()
    const investigations = new InvestigationStore(database)
    const samples = await readSamples(config.samplesFolder)
    const uploads = await Uploads.open(join(config.footageFolder, 'uploads'), config.maxFootageBytes)
    const conversions = (await hasFfmpeg()) ? new Conversions(database, config.databaseUrl, vault, log) : null
    await conversions?.start()
    const room: Room = { config, log, database, investigations, vault, samples, uploads, conversions }
    const sweep = async () => {
      for (const sha256 of await investigations.sweep(new Date())) await vault.erase(sha256)
      await uploads.sweep()
    }
    await sweep()
    const daily = setInterval(() => void sweep().catch((error) => log.error({ err: error }, 'sweep')), DAY)
    daily.unref()

    const handler = createApp(room).callback()
    const server = config.tls
      ? createHttpsServer(
          { cert: await readFile(config.tls.certificate), key: await readFile(config.tls.key) },
          handler,
        )
      : createHttpServer(handler)
    server.requestTimeout = 0
    server.keepAliveTimeout = KEEP_ALIVE
    server.headersTimeout = KEEP_ALIVE + 5000
    await new Promise<void>((resolve, reject) => {
      server.once('error', reject)
      server.listen(config.port, config.host, resolve)
    })
    const stop = async () => {
      clearInterval(daily)
      await new Promise<void>((resolve) => {
        server.close(() => resolve())
        server.closeIdleConnections()
        setTimeout(() => server.closeAllConnections(), 2000).unref()
      })
      await conversions?.stop()
      await database.destroy()
    }
    return { room, server, stop }
  } catch (error) {
    await database.destroy()
    throw error
  }
}
