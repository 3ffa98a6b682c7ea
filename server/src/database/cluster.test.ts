import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import pg from 'pg'
import { afterAll, describe, expect, it } from 'vitest'
import { type Cluster, startCluster, throwawayFolder } from './cluster.ts'
import { ensureDatabase } from './roles.ts'

const folder = throwawayFolder()
const lock = join(folder, 'postgres/postmaster.pid')
let last: Cluster | null = null
const start = async () => {
  last = await startCluster(folder, { throwaway: true })
  return last
}

afterAll(async () => {
  await last?.stop()
  rmSync(folder, { recursive: true, force: true })
})

async function ask(url: string, question: string): Promise<Record<string, unknown>[]> {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  try {
    return (await client.query(question)).rows
  } finally {
    await client.end()
  }
}

describe('our own PostgreSQL', () => {
  it('is made, listens on loopback only, and wants a password', async () => {
    const cluster = await start()
    const url = await ensureDatabase(cluster, 'harbour')
    expect(await ensureDatabase(cluster, 'harbour')).toBe(url)
    const [{ listen_addresses: addresses }] = await ask(url, 'show listen_addresses')
    expect(addresses).toBe('127.0.0.1')
    const stranger = new pg.Client({ connectionString: url.replace(/:[0-9a-f]+@/, ':guess@') })
    await expect(stranger.connect()).rejects.toThrow(/password/)
    await ask(url, 'create table kept (n int)')
    await cluster.stop()
  })

  it('lets servers do in their database what they need, and nothing elsewhere', async () => {
    const cluster = await start()
    const url = await ensureDatabase(cluster, 'harbour')
    const [role] = await ask(url, 'select * from pg_roles where rolname = current_user')
    expect(role).toMatchObject({ rolsuper: false, rolcreatedb: false, rolcreaterole: false })
    await expect(ask(url, "copy kept from program 'id'")).rejects.toThrow(
      /superuser|pg_execute_server_program/,
    )
    await ask(url, 'create schema queue')
    const admin = new URL(cluster.adminUrl('harbour'))
    expect(url).not.toContain(admin.password)
  })

  it('hands over what belonged to the admin before there was a role for servers', async () => {
    const cluster = last!
    await ask(cluster.adminUrl('postgres'), 'create database older')
    await ask(
      cluster.adminUrl('older'),
      `create schema queue; create type queue.state as enum ('a', 'b'); create table queue.job (state queue.state);
       create table "Kept" (n serial primary key); create function queue.one() returns int language sql as 'select 1'`,
    )
    const url = await ensureDatabase(cluster, 'older')
    await ask(
      url,
      `alter table "Kept" add column more int; insert into "Kept" (more) values (1); drop table queue.job;
       alter type queue.state add value 'c'; drop function queue.one(); drop schema queue cascade`,
    )
    expect(await ask(url, 'select * from "Kept"')).toEqual([{ n: 1, more: 1 }])
    await cluster.stop()
  })

  it('whose password was lost or changed is given it anew', async () => {
    const secret = join(folder, 'postgres.password')
    rmSync(secret)
    const cluster = await start()
    expect(await ask(await ensureDatabase(cluster, 'harbour'), 'select count(*) from kept')).toEqual([
      { count: '0' },
    ])
    writeFileSync(secret, "it's another")
    await expect(startCluster(folder)).rejects.toThrow(/still runs .* End it and try again/s)
    await cluster.stop()
    const again = await start()
    expect(await ask(await ensureDatabase(again, 'harbour'), 'select 1 as one')).toEqual([{ one: 1 }])
    await again.stop()
  })

  it('keeps its log and its password to itself', async () => {
    await start()
    for (const name of ['postgres.log', 'postgres.password'])
      expect(statSync(join(folder, name)).mode & 0o077).toBe(0)
    await last!.stop()
  })

  it('keeps its data over a stop, and stops for good', async () => {
    const cluster = await start()
    expect(await ask(cluster.url('harbour'), 'select count(*) from kept')).toEqual([{ count: '0' }])
    await cluster.stop()
    expect(() => process.kill(cluster.pid, 0)).toThrow()
  })

  it('starts again after its postmaster was killed', async () => {
    const cluster = await start()
    process.kill(cluster.pid, 'SIGKILL')
    await cluster.ended
    const again = await start()
    expect(again.pid).not.toBe(cluster.pid)
    expect(await ask(again.url('harbour'), 'select count(*) from kept')).toEqual([{ count: '0' }])
  })

  it('that still runs, since its starter was killed, is taken over and not started twice', async () => {
    const running = last!
    const second = await start()
    expect(second.pid).toBe(running.pid)
    await second.stop()
    await running.ended
  })

  it('is not kept from starting by a lock whose process number belongs to somebody else now', async () => {
    const cluster = await start()
    const text = readFileSync(lock, 'utf8')
    await cluster.stop()
    const other = spawn('sleep', ['60'])
    writeFileSync(lock, text.replace(/^\d+/, String(other.pid)))
    const again = await start()
    expect(again.pid).not.toBe(other.pid)
    expect(await ask(again.url('harbour'), 'select 1 as one')).toEqual([{ one: 1 }])
    other.kill()
    await once(other, 'exit')
  })
})
