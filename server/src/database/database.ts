import knex, { type Knex } from 'knex'
import pg from 'pg'
import { MIGRATIONS } from './migrations.ts'

/** Opens the database; connections are made on first use, and again after they broke. */
export function openDatabase(url: string): Knex {
  return knex({
    client: 'pg',
    connection: { connectionString: url, connectionTimeoutMillis: 3000 },
    pool: { min: 0, max: 8 },
    acquireConnectionTimeout: 5000,
  })
}

/** Tries to connect once: the pool would retry for seconds without stating the reason. Rejects with PostgreSQL's error. */
export async function tryDatabase(url: string): Promise<void> {
  const client = new pg.Client({ connectionString: url, connectionTimeoutMillis: 3000 })
  client.on('error', () => {})
  try {
    await client.connect()
    await client.query('select 1')
  } finally {
    await client.end().catch(() => {})
  }
}

/** The database has been used by a newer Apokinema. */
export class NewerSchemaError extends Error {}

const SOURCE = {
  migrationSource: {
    getMigrations: async () => Object.keys(MIGRATIONS),
    getMigrationName: (name: string) => name,
    getMigration: async (name: string) => MIGRATIONS[name],
  },
}
/** Key of the advisory lock of migrations; arbitrary. */
const MIGRATING = 5_170_001

/**
 * Migrates the tables to the newest schema. Of several servers that start together one does it, and the others wait; the
 * lock is released when its process ends, unlike Knex's own.
 *
 * @throws NewerSchemaError
 */
export async function migrate(database: Knex): Promise<void> {
  await database.transaction(async (lock) => {
    await lock.raw('select pg_advisory_xact_lock(?)', [MIGRATING])
    if (await database.schema.hasTable('knex_migrations')) {
      const applied: string[] = await database('knex_migrations').pluck('name')
      const unknown = applied.find((name) => !Object.hasOwn(MIGRATIONS, name))
      if (unknown)
        throw new NewerSchemaError(
          `This database has been used by a newer Apokinema (${unknown}). Start that one, or give this one a database of its own.`,
        )
      await database.migrate.forceFreeMigrationsLock(SOURCE)
    }
    await database.migrate.latest(SOURCE)
  })
}

/** Returns true if an error means that the database is unavailable, rather than that a query is wrong. */
export function isAway(error: unknown): boolean {
  const { code, name, message } = error as { code?: string; name?: string; message?: string }
  if (name === 'KnexTimeoutError') return true
  if (
    /Connection terminated|timeout expired|Connection ended|not queryable|Client was closed/i.test(
      message ?? '',
    )
  )
    return true
  // Class 57P: the server is shutting down, crashed or starting; class 08: the connection broke; 53: no more connections or
  // memory, except for a full disk (53100).
  return /^(ECONNREFUSED|ECONNRESET|EPIPE|ETIMEDOUT|57P0[1-5]|08\w{3}|53[02-4]00)$/.test(code ?? '')
}
