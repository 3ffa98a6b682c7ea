import { mkdtempSync, rmSync } from 'node:fs'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { inject } from 'vitest'
import { type Config, readConfig } from '../config.ts'
import { serve } from '../serve.ts'
import type { Services } from '../services.ts'
import type {} from './globalSetup.ts'
import { createDatabase } from './testCluster.ts'

/** A server in this process on a free port, with an empty database and a footage folder of its own. */
export interface TestServer {
  origin: string
  footageFolder: string
  services: Services
  /** Stops the server and starts it again over the same database and files. */
  restart(): Promise<void>
  stop(): Promise<void>
}

/** Starts a server for the tests of one file, in the cluster of the run; beside another one with that one's settings. */
export async function testServer(settings: Partial<Config> = {}): Promise<TestServer> {
  const footageFolder = mkdtempSync(join(tmpdir(), 'apokinema-footage-'))
  const databaseUrl = await createDatabase(inject('clusterUrl'))
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
    services: running.services,
    restart: async () => {
      await running.stop()
      running = await serve({ ...config, port }, { quiet: true })
      server.services = running.services
    },
    stop: async () => {
      await running.stop()
      rmSync(footageFolder, { recursive: true, force: true })
    },
  }
  return server
}
