import { once } from 'node:events'
import { readdirSync, readlinkSync } from 'node:fs'
import { connect } from 'node:net'
import { join } from 'node:path'
import { API } from '@apokinema/core/api'
import { PACKED_ENTRY, readPacked } from '@apokinema/core/formats'
import { edit, edits, type Mutator } from '@apokinema/core/investigation'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { clientOf, sha256Of, uuid } from '../testing/client.ts'
import { type TestServer, testServer } from '../testing/testServer.ts'
import { entriesOf } from '../testing/zips.ts'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server?.stop())

const send = (...asked: Parameters<ReturnType<typeof clientOf>['send']>) => clientOf(server).send(...asked)

const packed = async (id: string) => {
  const answer = await send('GET', API.packed(id))
  expect(answer.status).toBe(200)
  return { answer, entries: await entriesOf(Buffer.from(await answer.arrayBuffer())) }
}

async function worked(): Promise<string> {
  const { id, document, version } = await clientOf(server).make('net-float')
  const body = uuid()
  const mutators: Mutator = (draft) => {
    edits.addBody(body, { position: uuid(), velocity: uuid() }, 'Float / ../ "red"')(draft)
    edits.setTitle('=Throw, ../first')(draft)
    for (let frame = 30; frame < 60; frame++)
      draft.bodies[body].marks[frame] = {
        x: 300 + 9.13 * frame,
        y: 200 + 0.3 * (frame - 45) ** 2,
        by: 'hand',
      }
  }
  const { patch } = edit(document, mutators)
  expect((await send('POST', API.edits(id), { key: uuid(), base: version, patch })).status).toBe(200)
  return id
}

describe('an investigation in one file', () => {
  it('has the document, the footage as it is, tables and a readme, and no path leads out', async () => {
    const id = await worked()
    const { answer, entries } = await packed(id)
    expect(answer.headers.get('content-type')).toBe('application/zip')
    expect(answer.headers.get('content-disposition')).toContain('.zip')
    for (const name of entries.keys()) expect(name).not.toMatch(/(^\/)|\.\.\//)
    const { document, footage } = readPacked(entries.get(PACKED_ENTRY)!.toString())
    expect(document.title).toBe('=Throw, ../first')
    const there = await send('GET', API.footage(id, document.footage!.id))
    expect(sha256Of(entries.get(footage!)!)).toBe(sha256Of(Buffer.from(await there.arrayBuffer())))
    const [table] = [...entries.keys()].filter((name) => name.startsWith('tables/'))
    expect(entries.get(table)!.toString().split('\r\n')).toHaveLength(32)
    expect(entries.get('README.txt')!.toString()).toContain('tables/')
  })

  it('opened in an empty installation gives byte-identical tables', async () => {
    const { entries } = await packed(await worked())
    const { document } = readPacked(entries.get(PACKED_ENTRY)!.toString())
    const elsewhere = await testServer()
    try {
      const id = uuid()
      const request = { id, title: document.title, document }
      const made = await clientOf(elsewhere).send('POST', API.investigations, request)
      expect(made.status).toBe(201)
      const again = await entriesOf(
        Buffer.from(await (await clientOf(elsewhere).send('GET', API.packed(id))).arrayBuffer()),
      )
      const tables = [...entries.keys()].filter((name) => name.startsWith('tables/'))
      expect(tables.length).toBeGreaterThan(0)
      for (const name of tables) expect(again.get(name)!.equals(entries.get(name)!)).toBe(true)
      // The other installation has no footage yet, and says so by leaving it out.
      expect(readPacked(again.get(PACKED_ENTRY)!.toString()).footage).toBeNull()
    } finally {
      await elsewhere.stop()
    }
  })

  it('is refused where its document is none, or newer, and nothing is kept', async () => {
    const { entries } = await packed(await worked())
    const { document } = readPacked(entries.get(PACKED_ENTRY)!.toString())
    for (const [wrong, status, code] of [
      [{ ...document, bodies: { nobody: {} } }, 422, 'document-refused'],
      [{ ...document, version: 99 }, 409, 'newer-document'],
      [{}, 422, 'document-refused'],
    ] as const) {
      const id = uuid()
      const answer = await send('POST', API.investigations, { id, title: 'x', document: wrong })
      expect(answer.status).toBe(status)
      expect(((await answer.json()) as { code: string }).code).toBe(code)
      expect((await send('GET', API.investigation(id))).status).toBe(404)
    }
  })

  it('that nobody reads to its end is closed, footage and all', async () => {
    const { id } = await clientOf(server).make('net-float')
    const open = () =>
      readdirSync('/proc/self/fd').filter((fd) => {
        try {
          return readlinkSync(join('/proc/self/fd', fd)).startsWith(server.footageFolder)
        } catch {
          // The folder's own, closed by now.
          return false
        }
      }).length
    for (let n = 0; n < 5; n++) {
      const { hostname, port, host } = new URL(server.origin)
      const socket = connect(Number(port), hostname)
      socket.write(`GET ${API.packed(id)} HTTP/1.1\r\nHost: ${host}\r\n\r\n`)
      await once(socket, 'data')
      socket.destroy()
    }
    await expect.poll(open).toBe(0)
  })

  it('of nobody is not there', async () => {
    expect((await send('GET', API.packed(uuid()))).status).toBe(404)
  })
})
