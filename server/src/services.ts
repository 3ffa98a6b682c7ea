import type { Knex } from 'knex'
import type { Logger } from 'pino'
import type { Config } from './config.ts'
import type { ServerRegistry } from './database/serverRegistry.ts'
import type { BlobStore } from './footage/blobStore.ts'
import type { Conversions } from './footage/conversions.ts'
import type { Samples } from './footage/samples.ts'
import type { Uploads } from './footage/uploads.ts'
import type { InvestigationStore } from './investigations/store.ts'
import type { SeriesStore } from './series/store.ts'
import type { WorkerPool } from './workers/workerPool.ts'

/** Services that the routes use. */
export interface Services {
  config: Config
  log: Logger
  database: Knex
  registry: ServerRegistry
  investigations: InvestigationStore
  series: SeriesStore
  blobs: BlobStore
  samples: Samples
  uploads: Uploads
  workers: WorkerPool
  /** Null if the tools are not installed. */
  conversions: Conversions | null
}
