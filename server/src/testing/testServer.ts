import { randomBytes } from 'node:crypto'
import { mkdtempSync, rmSync } from 'node:fs'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { type Config, readConfig } from '../config.ts'
import { ensureDatabase, startCluster, throwawayFolder } from '../database/cluster.ts'
import type { Room } from '../room.ts'
import { serve } from '../serve.ts'

/** A server in this process on a free port, with a throwaway PostgreSQL. */
export interface TestServer {
  origin: string
  footageFolder: string
  room: Room
  /** Stops the server and starts it again over the same database and files. */
  restart(): Promise<void>
  stop(): Promise<void>
}

export async function testServer(settings: Partial<Config> = {}): Promise<TestServer> {
  const folder = throwawayFolder()
  const footageFolder = mkdtempSync(join(tmpdir(), 'apokinema-footage-'))
  const cluster = await startCluster(folder, { throwaway: true })
  const databaseUrl = await ensureDatabase(cluster, `test_${randomBytes(4).toString('hex')}`)
  const config = {
    ...readConfig({ DATABASE_URL: databaseUrl, FOOTAGE_DIR: footageFolder }),
    port: 0,
    ...settings,
  }
  let running = await serve(config, { quiet: true })
  const { port } = running.server.address() as AddressInfo
  const server: TestServer = {
    origin: `http://127.0.0.1:${port}`,
    footageFolder,
    room: running.room,
    restart: async () => {
      await running.stop()
      running = await serve({ ...config, port }, { quiet: true })
      server.room = running.room
    },
    stop: async () => {
      await running.stop()
      await cluster.stop()
      rmSync(folder, { recursive: true, force: true })
      rmSync(footageFolder, { recursive: true, force: true })
    },
  }
  return server
}
