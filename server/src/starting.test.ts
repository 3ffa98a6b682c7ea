import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { readConfig } from './config.ts'
import { openDatabase } from './database/database.ts'
import { serve } from './serve.ts'
import { whyNotStarted } from './starting.ts'
import type {} from './testing/globalSetup.ts'
import { createDatabase } from './testing/testCluster.ts'

/** A server that can't start says why in a sentence; one that only was killed while it started just starts. */

let folder: string
let databaseUrl: string
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'apokinema-starting-'))
  databaseUrl = await createDatabase(inject('clusterUrl'))
})
afterAll(() => rmSync(folder, { recursive: true, force: true }))

const configOf = (url: string) => ({ ...readConfig({ DATABASE_URL: url, FOOTAGE_DIR: folder }), port: 0 })

/** Returns what somebody who starts a server is told. */
async function startupMessage(config: ReturnType<typeof configOf>): Promise<string | null> {
  try {
    const running = await serve(config, { quiet: true })
    await running.stop()
    return 'it runs'
  } catch (error) {
    return whyNotStarted(error, config)
  }
}

/** Returns the test database's address with something else in it. */
function changed(change: (url: URL) => void): string {
  const url = new URL(databaseUrl)
  change(url)
  return url.href
}

describe('a server', () => {
  it.each<[string, (url: URL) => void, RegExp]>([
    [
      'a wrong password',
      (url) => Object.assign(url, { password: 'wrong' }),
      /does not let "apokinema_server" in/,
    ],
    [
      'a user that there is not',
      (url) => Object.assign(url, { username: 'nobody' }),
      /does not let "nobody" in/,
    ],
    [
      'a database that there is not',
      (url) => Object.assign(url, { pathname: '/none' }),
      /no database "none"/,
    ],
    ['a port at which nothing listens', (url) => Object.assign(url, { port: '1' }), /does not answer/],
    [
      'a machine that there is not',
      (url) => Object.assign(url, { hostname: 'none.invalid' }),
      /no machine "none.invalid"/,
    ],
    [
      'TLS that PostgreSQL does not offer',
      (url) => Object.assign(url, { search: '?sslmode=require' }),
      /does not offer the TLS/,
    ],
  ])('that is given %s says so', async (_, change, says) => {
    const message = await startupMessage(configOf(changed(change)))
    expect(message).toMatch(says)
    expect(message).not.toContain(new URL(databaseUrl).password)
  })

  it('on a port that is taken says so, and ends', async () => {
    const running = await serve(configOf(databaseUrl), { quiet: true })
    const { port } = running.server.address() as { port: number }
    expect(await startupMessage({ ...configOf(databaseUrl), port })).toMatch(
      new RegExp(`Port ${port} is in use`),
    )
    await running.stop()
  })

  it('whose start before was killed while it held the lock of the tables starts', async () => {
    expect(await startupMessage(configOf(databaseUrl))).toBe('it runs')
    const database = openDatabase(databaseUrl)
    await database('knex_migrations_lock').update({ is_locked: 1 })
    await database.destroy()
    expect(await startupMessage(configOf(databaseUrl))).toBe('it runs')
  })

  it('starts beside another that starts at the same moment', async () => {
    const fresh = await createDatabase(inject('clusterUrl'))
    expect(await Promise.all([startupMessage(configOf(fresh)), startupMessage(configOf(fresh))])).toEqual([
      'it runs',
      'it runs',
    ])
  })

  it('whose database a newer one has used leaves it alone, and says so', async () => {
    const fresh = await createDatabase(inject('clusterUrl'))
    expect(await startupMessage(configOf(fresh))).toBe('it runs')
    const database = openDatabase(fresh)
    await database('knex_migrations').insert({ name: '999-later', batch: 99, migration_time: new Date() })
    await database.destroy()
    expect(await startupMessage(configOf(fresh))).toMatch(/newer Apokinema \(999-later\)/)
  })
})
