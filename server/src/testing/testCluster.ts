import { randomBytes } from 'node:crypto'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import pg from 'pg'
import { readConfig } from '../config.ts'
import { startCluster, throwawayFolder } from '../database/cluster.ts'
import { ensureDatabase, serverUrl } from '../database/roles.ts'
import { serve } from '../serve.ts'

/** A throwaway PostgreSQL that all tests of a run share. */
export interface TestCluster {
  /** The admin's address of its maintenance database, from which `createDatabase` copies the template. */
  url: string
  stop(): Promise<void>
}

const TEMPLATE = 'template_served'

/** Starts a throwaway cluster with a template database: tables and queue are as a server's first start leaves them. */
export async function startTestCluster(): Promise<TestCluster> {
  const folder = throwawayFolder()
  const footageFolder = mkdtempSync(join(tmpdir(), 'apokinema-footage-'))
  const cluster = await startCluster(folder, { throwaway: true })
  const stop = async () => {
    await cluster.stop()
    rmSync(folder, { recursive: true, force: true })
    rmSync(footageFolder, { recursive: true, force: true })
  }
  try {
    const databaseUrl = await ensureDatabase(cluster, TEMPLATE)
    const config = { ...readConfig({ DATABASE_URL: databaseUrl, FOOTAGE_DIR: footageFolder }), port: 0 }
    await (await serve(config, { quiet: true })).stop()
  } catch (error) {
    await stop()
    throw error
  }
  return { url: cluster.adminUrl('postgres'), stop }
}

/** Creates a database as a copy of the template and returns its address. */
export async function createDatabase(clusterUrl: string): Promise<string> {
  const name = `test_${randomBytes(6).toString('hex')}`
  const client = new pg.Client({ connectionString: clusterUrl })
  await client.connect()
  try {
    const owner = new URL(serverUrl(clusterUrl)).username
    await client.query(`create database ${name} template ${TEMPLATE} owner ${owner}`)
  } finally {
    await client.end()
  }
  const url = new URL(serverUrl(clusterUrl))
  url.pathname = `/${name}`
  return url.href
}
