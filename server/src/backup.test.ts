import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { API, type ListedInvestigations, type OpenedInvestigation } from '@apokinema/core/api'
import { edit, edits } from '@apokinema/core/investigation'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { BackupError, backUp, restore } from './backup.ts'
import { clientOf, sha256Of, uuid } from './testing/client.ts'
import { createDatabase } from './testing/testCluster.ts'
import { type TestServer, testServer } from './testing/testServer.ts'

let server: TestServer
let folder: string
beforeAll(async () => {
  server = await testServer()
  folder = mkdtempSync(join(tmpdir(), 'apokinema-backup-'))
})
afterAll(async () => {
  await server?.stop()
  rmSync(folder, { recursive: true, force: true })
})

async function allOf(one: TestServer): Promise<Map<string, OpenedInvestigation>> {
  const { send, open } = clientOf(one)
  const { investigations } = (await (await send('GET', API.investigations)).json()) as ListedInvestigations
  return new Map(await Promise.all(investigations.map(async ({ id }) => [id, await open(id)] as const)))
}

describe('a backup', () => {
  it('is restored into an empty installation, document by document and file by file, also when made amid edits', async () => {
    const client = clientOf(server)
    const made = [await client.make('net-float'), await client.make('ice-blocks'), await client.make()]
    await client.send('DELETE', API.investigation((await client.make()).id))
    const titled = async (id: string, from: number) => {
      for (let n = from; n < from + 60; n++) {
        const { version, document } = await client.open(id)
        const { patch } = edit(document, edits.setTitle(`Title ${n}`))
        const answer = await client.send('POST', API.edits(id), { key: uuid(), base: version, patch })
        expect(answer.status).toBe(200)
      }
    }
    await titled(made[0].id, 0)
    const before = await allOf(server)
    const busy = titled(made[1].id, 0)
    const note = await backUp(server.services.config.databaseUrl, server.footageFolder, join(folder, 'first'))
    await busy
    expect(note).toMatchObject({ investigations: 4, files: 2 })

    const target = {
      databaseUrl: await createDatabase(inject('clusterUrl')),
      footageFolder: mkdtempSync(join(tmpdir(), 'apokinema-restored-')),
    }
    await restore(target.databaseUrl, target.footageFolder, join(folder, 'first'))
    const restored = await testServer(target)
    const after = await allOf(restored)
    expect([...after.keys()].sort()).toEqual([...before.keys()].sort())
    for (const [id, { document, footageStored }] of after) {
      expect(footageStored).toBe(before.get(id)!.footageStored)
      // The one that was changed meanwhile is there as it was at one moment.
      if (id !== made[1].id) expect(document).toEqual(before.get(id)!.document)
      else expect(document.title).toMatch(/^(Title \d+|Net float)$/)
      if (!document.footage) continue
      const path = API.footage(id, document.footage.id)
      const bytes = async (one: TestServer) =>
        Buffer.from(await (await clientOf(one).send('GET', path)).arrayBuffer())
      expect(sha256Of(await bytes(restored))).toBe(sha256Of(await bytes(server)))
    }
    await restored.stop()
    rmSync(target.footageFolder, { recursive: true, force: true })
  })

  it('of an installation that was never started is refused with a sentence', async () => {
    const admin = new pg.Client({ connectionString: inject('clusterUrl') })
    await admin.connect()
    await admin.query('create database never_started')
    await admin.end()
    const url = new URL(inject('clusterUrl'))
    url.pathname = '/never_started'
    const to = mkdtempSync(join(tmpdir(), 'apokinema-never-'))
    await expect(backUp(url.href, to, to)).rejects.toThrow(/nothing to back up yet/)
    expect(readdirSync(to)).toEqual([])
    rmSync(to, { recursive: true })
  })

  it('made again in the same folder is brought up to date', async () => {
    const { id } = await clientOf(server).make('paper-lantern')
    const note = await backUp(server.services.config.databaseUrl, server.footageFolder, join(folder, 'first'))
    expect(note).toMatchObject({ investigations: 5, files: 3 })
    expect((await allOf(server)).has(id)).toBe(true)
  })

  it('is not written over something else, nor restored over investigations', async () => {
    writeFileSync(join(folder, 'letters'), 'mine')
    await expect(backUp(server.services.config.databaseUrl, server.footageFolder, folder)).rejects.toThrow(
      /holds something else/,
    )
    await expect(
      restore(server.services.config.databaseUrl, server.footageFolder, join(folder, 'first')),
    ).rejects.toThrow(/holds \d+ investigations/)
    await expect(restore(server.services.config.databaseUrl, server.footageFolder, tmpdir())).rejects.toThrow(
      /holds no backup/,
    )
    expect(readFileSync(join(folder, 'letters'), 'utf8')).toBe('mine')
  })

  it('in which a file has been damaged is found out when it is restored', async () => {
    const [part] = readdirSync(join(folder, 'first/footage'))
    const [name] = readdirSync(join(folder, 'first/footage', part)).filter((one) => one.length === 64)
    const path = join(folder, 'first/footage', part, name)
    const file = readFileSync(path)
    file[file.length >> 1] ^= 1
    writeFileSync(path, file)
    const empty = mkdtempSync(join(tmpdir(), 'apokinema-empty-'))
    const url = await createDatabase(inject('clusterUrl'))
    await expect(restore(url, empty, join(folder, 'first'))).rejects.toThrow(BackupError)
    rmSync(empty, { recursive: true, force: true })
  })
})
