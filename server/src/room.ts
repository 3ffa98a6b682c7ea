import type { Knex } from 'knex'
import type { Logger } from 'pino'
import type { Config } from './config.ts'
import type { Presence } from './database/presence.ts'
import type { Conversions } from './footage/conversions.ts'
import type { StoredSample } from './footage/samples.ts'
import type { Uploads } from './footage/uploads.ts'
import type { Vault } from './footage/vault.ts'
import type { InvestigationStore } from './investigations/store.ts'
import type { Workers } from './workers.ts'

/** What the routes work with. */
export interface Room {
  config: Config
  log: Logger
  database: Knex
  presence: Presence
  investigations: InvestigationStore
  vault: Vault
  samples: StoredSample[]
  uploads: Uploads
  workers: Workers
  /** null where the tools for it are not installed. */
  conversions: Conversions | null
}
