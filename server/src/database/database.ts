import knex, { type Knex } from 'knex'
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

/** Brings the tables to the newest form. */
export async function migrate(database: Knex): Promise<void> {
  await database.migrate.latest({
    migrationSource: {
      getMigrations: async () => Object.keys(MIGRATIONS),
      getMigrationName: (name: string) => name,
      getMigration: async (name: string) => MIGRATIONS[name],
    },
  })
}

/** Whether an error says that the database is not there, rather than that a query is wrong. */
export function isAway(error: unknown): boolean {
  const { code, name, message } = error as { code?: string; name?: string; message?: string }
  if (name === 'KnexTimeoutError') return true
  if (/Connection terminated|timeout expired|Connection ended/i.test(message ?? '')) return true
  // Class 57P: the server shuts down, crashed or still starts; class 08: the connection broke.
  return /^(ECONNREFUSED|ECONNRESET|EPIPE|ETIMEDOUT|57P0[1-5]|08\w{3})$/.test(code ?? '')
}
