import knex, { type Knex } from 'knex'
import pg from 'pg'
import { MIGRATIONS } from './migrations.ts'

/** Opens the database; connections are made when they are first needed, and made again after they broke. */
export function openDatabase(url: string): Knex {
  return knex({
    client: 'pg',
    connection: { connectionString: url, connectionTimeoutMillis: 3000 },
    pool: { min: 0, max: 8 },
    acquireConnectionTimeout: 5000,
  })
}

/** Tries the database once, at once: the pool would try for seconds, and not say why. Rejects with what PostgreSQL says. */
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
/** Any number that nobody else in this database locks. */
const MIGRATING = 5_170_001

/**
 * Brings the tables to the newest form. Of several servers that start at once one does it, and the others wait; the
 * lock ends with the process that holds it, unlike Knex's own.
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

/** Returns true if an error says that the database is not there, rather than that a query is wrong. */
export function isAway(error: unknown): boolean {
  const { code, name, message } = error as { code?: string; name?: string; message?: string }
  if (name === 'KnexTimeoutError') return true
  if (
    /Connection terminated|timeout expired|Connection ended|not queryable|Client was closed/i.test(
      message ?? '',
    )
  )
    return true
  // Class 57P: the server shuts down, crashed or still starts; class 08: the connection broke; 53: it has no room for
  // one more connection, or no memory, but for a full disk (53100), which is another matter.
  return /^(ECONNREFUSED|ECONNRESET|EPIPE|ETIMEDOUT|57P0[1-5]|08\w{3}|53[02-4]00)$/.test(code ?? '')
}
