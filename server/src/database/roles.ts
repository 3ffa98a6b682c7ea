import { createHmac } from 'node:crypto'
import pg from 'pg'

/** The role with which the cluster is created, which may do everything. */
export const ADMIN = 'apokinema'
/** The role of the servers. */
const SERVER_ROLE = 'apokinema_server'

/** Returns the password of the servers' role, derived from the admin's (one-way). */
const serverPassword = (admin: string) => createHmac('sha256', admin).update(SERVER_ROLE).digest('hex')

/** Returns the servers' address of a database, given the admin's. */
export function serverUrl(adminUrl: string): string {
  const url = new URL(adminUrl)
  url.password = serverPassword(url.password)
  url.username = SERVER_ROLE
  return url.href
}

/** Returns the addresses of a cluster's databases, for the servers' role and for the admin. */
interface Addresses {
  url(database: string): string
  adminUrl(database: string): string
}

/** Creates a database of the servers' role if it does not exist. Returns its address. */
export async function ensureDatabase(cluster: Addresses, name: string): Promise<string> {
  await asAdmin(cluster.adminUrl('postgres'), async (client) => {
    const { rowCount: hasRole } = await client.query('select from pg_roles where rolname = $1', [SERVER_ROLE])
    const password = client.escapeLiteral(new URL(cluster.url(name)).password)
    await client.query(`${hasRole ? 'alter' : 'create'} role ${SERVER_ROLE} login password ${password}`)
    const { rowCount } = await client.query('select from pg_database where datname = $1', [name])
    if (!rowCount) await client.query(`create database ${client.escapeIdentifier(name)} owner ${SERVER_ROLE}`)
  })
  // In earlier versions everything belonged to the admin.
  await asAdmin(cluster.adminUrl(name), async (client) => {
    await client.query(`alter database ${client.escapeIdentifier(name)} owner to ${SERVER_ROLE}`)
    const { rows } = await client.query(ADMINS_THINGS, [ADMIN])
    for (const { kind, thing } of rows) await client.query(`alter ${kind} ${thing} owner to ${SERVER_ROLE}`)
  })
  return cluster.url(name)
}

/** Schemas, tables, types and functions that a role owns; what belongs to a table goes with it. */
const ADMINS_THINGS = `
  with own as (
    select oid, nspname from pg_namespace
    where nspname <> 'information_schema' and nspname !~ '^pg_'
  ), owner as (select oid from pg_roles where rolname = $1)
  select 'schema' as kind, format('%I', nspname) as thing from pg_namespace
    where oid in (select oid from own) and nspowner = (select oid from owner)
  union all
  select 'table', oid::regclass::text from pg_class
    where relkind in ('r', 'p') and relowner = (select oid from owner) and relnamespace in (select oid from own)
  union all
  select 'type', oid::regtype::text from pg_type
    where typtype = 'e' and typowner = (select oid from owner) and typnamespace in (select oid from own)
  union all
  select 'function', oid::regprocedure::text from pg_proc
    where proowner = (select oid from owner) and pronamespace in (select oid from own)`

async function asAdmin(url: string, act: (client: pg.Client) => Promise<void>): Promise<void> {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  try {
    await act(client)
  } finally {
    await client.end()
  }
}
