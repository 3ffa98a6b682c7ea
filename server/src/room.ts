import type { Knex } from 'knex'
import type { Logger } from 'pino'
import type { Config } from './config.ts'
import type { ServerRegistry } from './database/serverRegistry.ts'
import type { Conversions } from './footage/conversions.ts'
import type { StoredSample } from './footage/samples.ts'
import type { Uploads } from './footage/uploads.ts'
import type { Vault } from './footage/vault.ts'
import type { InvestigationStore } from './investigations/store.ts'
import type { WorkerPool } from './workers/workerPool.ts'

/** What the routes work with. */
export interface Room {
  config: Config
  log: Logger
  database: Knex
  registry: ServerRegistry
  investigations: InvestigationStore
  vault: Vault
  samples: StoredSample[]
  uploads: Uploads
  workers: WorkerPool
  /** null where the tools for it are not installed. */
  conversions: Conversions | null
}
