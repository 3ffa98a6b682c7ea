import { execFile } from 'node:child_process'
import { createHash } from 'node:crypto'
import { createReadStream, createWriteStream, existsSync } from 'node:fs'
import { mkdir, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises'
import { dirname, join } from 'node:path'
import { Transform } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { promisify } from 'node:util'
import pg from 'pg'
import { programs } from './database/cluster.ts'
import { pathOf, posterPathOf } from './footage/blobStore.ts'

/** Content of `backup.json`. */
export interface BackupNote {
  form: 1
  /** Time of the database's snapshot, ISO 8601 in UTC. */
  at: string
  investigations: number
  files: number
  /** Settings that differ from their defaults, except for those with a password. */
  settings: Record<string, string>
}

/** A backup or a restore that is not possible; the message is for people. */
export class BackupError extends Error {}

const run = promisify(execFile)
const SETTINGS = [
  ...['PORT', 'HOST', 'OPEN_TO_NETWORK', 'ALLOWED_HOSTS', 'PUBLIC_ORIGIN', 'TRUST_PROXY'],
  ...['TLS_CERT', 'TLS_KEY', 'MAX_FOOTAGE_MB', 'DATA_DIR', 'FOOTAGE_DIR'],
]

/** Returns the environment that passes a database to PostgreSQL's programs: everybody on the machine can read arguments. */
function environmentOf(databaseUrl: string): NodeJS.ProcessEnv {
  const url = new URL(databaseUrl)
  return {
    PATH: process.env.PATH,
    LC_ALL: 'C.UTF-8',
    PGHOST: url.hostname,
    PGPORT: url.port || '5432',
    PGUSER: decodeURIComponent(url.username),
    PGPASSWORD: decodeURIComponent(url.password),
    PGDATABASE: decodeURIComponent(url.pathname.slice(1)),
  }
}

/**
 * Writes database and footage to a folder while the server runs, as a consistent snapshot. A
 * folder with an earlier backup is updated, and holds that one until the new one is complete.
 *
 * @throws BackupError
 */
export async function backUp(
  databaseUrl: string,
  footageFolder: string,
  folder: string,
): Promise<BackupNote> {
  if (existsSync(folder) && !existsSync(join(folder, 'backup.json')) && (await readdir(folder)).length > 0)
    throw new BackupError(
      `${folder} holds something else. Name an empty folder, or one with an earlier backup.`,
    )
  const client = new pg.Client({ connectionString: databaseUrl })
  await client.connect()
  try {
    const { rows: tables } = await client.query("select to_regclass('public.investigations') as there")
    if (!tables[0].there)
      throw new BackupError('There is nothing to back up yet: this installation was never started.')
    await mkdir(join(folder, 'footage'), { recursive: true, mode: 0o700 })
    await client.query('begin isolation level repeatable read read only')
    const { rows: moment } = await client.query('select pg_export_snapshot() as snapshot, now() as at')
    // Unused files may be erased meanwhile.
    const { rows: files } = await client.query('select sha256 from files where unused_since is null')
    const { rows: counted } = await client.query('select count(*)::int as investigations from investigations')
    const dump = join(folder, 'database.dump')
    await run(
      `${programs()}pg_dump`,
      ['--format=custom', '--no-owner', `--snapshot=${moment[0].snapshot}`, `--file=${dump}.new`],
      { env: environmentOf(databaseUrl) },
    )
    for (const { sha256 } of files) {
      await copyWhole(join(footageFolder, pathOf(sha256)), join(folder, 'footage', pathOf(sha256)), sha256)
      const poster = posterPathOf(sha256)
      if (existsSync(join(footageFolder, poster)))
        await copyWhole(join(footageFolder, poster), join(folder, 'footage', poster), null)
    }
    await rename(`${dump}.new`, dump)
    const note: BackupNote = {
      form: 1,
      at: (moment[0].at as Date).toISOString(),
      investigations: counted[0].investigations,
      files: files.length,
      settings: Object.fromEntries(
        SETTINGS.flatMap((name) => (process.env[name] ? [[name, process.env[name]]] : [])),
      ),
    }
    await writeFile(join(folder, 'backup.json'), `${JSON.stringify(note, null, 2)}\n`)
    return note
  } finally {
    await client.end()
  }
}

/**
 * Restores a backup into an installation without investigations; its server must not run.
 *
 * @throws BackupError
 */
export async function restore(
  databaseUrl: string,
  footageFolder: string,
  folder: string,
): Promise<BackupNote> {
  const note = await noteOf(folder)
  const client = new pg.Client({ connectionString: databaseUrl })
  await client.connect()
  try {
    const { rows } = await client.query("select to_regclass('public.investigations') as there")
    const held = rows[0].there
      ? (await client.query('select count(*)::int as count from investigations')).rows[0].count
      : 0
    if (held > 0)
      throw new BackupError(
        `This installation holds ${held} investigations, which would be lost. Restore into an empty one, such as with DATA_DIR=/another/folder.`,
      )
    await client.query(
      'drop schema if exists pgboss cascade; drop schema public cascade; create schema public',
    )
  } finally {
    await client.end()
  }
  await run(
    `${programs()}pg_restore`,
    [
      '--no-owner',
      '--exit-on-error',
      `--dbname=${environmentOf(databaseUrl).PGDATABASE}`,
      join(folder, 'database.dump'),
    ],
    { env: environmentOf(databaseUrl) },
  )
  for (const part of await readdir(join(folder, 'footage')))
    for (const name of await readdir(join(folder, 'footage', part))) {
      const sha256 = /^[0-9a-f]{64}$/.test(name) ? name : null
      await copyWhole(join(folder, 'footage', part, name), join(footageFolder, part, name), sha256)
    }
  return note
}

async function noteOf(folder: string): Promise<BackupNote> {
  const text = await readFile(join(folder, 'backup.json'), 'utf8').catch(() => null)
  if (text === null) throw new BackupError(`${folder} holds no backup: there is no backup.json in it.`)
  const note = JSON.parse(text) as BackupNote
  if (note.form !== 1) throw new BackupError(`This backup is of a newer Apokinema (form ${note.form}).`)
  return note
}

/**
 * Copies a file atomically; an existing file of the same size counts as the same.
 *
 * @param sha256 expected checksum; null if it is not known
 */
async function copyWhole(from: string, to: string, sha256: string | null): Promise<void> {
  const { size } = await stat(from).catch(() => {
    throw new BackupError(`${from} is missing, though the database knows it.`)
  })
  if ((await stat(to).catch(() => null))?.size === size) return
  await mkdir(dirname(to), { recursive: true, mode: 0o700 })
  const hash = createHash('sha256')
  const summed = new Transform({
    transform(part, _, done) {
      hash.update(part)
      done(null, part)
    },
  })
  await pipeline(createReadStream(from), summed, createWriteStream(`${to}.new`, { mode: 0o600 }))
  if (sha256 !== null && hash.digest('hex') !== sha256) {
    await rm(`${to}.new`)
    throw new BackupError(`${from} is damaged: it is not what it was when it was stored.`)
  }
  await rename(`${to}.new`, to)
}
