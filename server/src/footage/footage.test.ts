import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { connect } from 'node:net'
import { join } from 'node:path'
import { API } from '@apokinema/core/api'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { clientOf, sha256Of, uuid } from '../testing/client.ts'
import { type TestServer, testServer } from '../testing/testServer.ts'

const movie = readFileSync(join(import.meta.dirname, '../../../demo/samples/net-float/footage.mp4'))
let server: TestServer
let client: ReturnType<typeof clientOf>

beforeAll(async () => {
  server = await testServer({ maxFootageBytes: 2_000_000 })
  client = clientOf(server)
})
afterAll(() => server?.stop())

const stored = () =>
  readdirSync(server.footageFolder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => entry.name)
const place = async () => {
  const { id } = await client.make()
  const footage = uuid()
  return { id, footage, path: API.footage(id, footage) }
}

describe('footage', () => {
  it('goes in, comes out whole and in ranges, and is stored once', async () => {
    const [a, b] = [await place(), await place()]
    for (const { id, footage } of [a, b]) expect((await client.claim(id, footage, movie)).status).toBe(201)
    expect(stored().filter((name) => name === sha256Of(movie))).toHaveLength(1)

    expect(Buffer.from(await (await client.send('GET', a.path)).arrayBuffer()).equals(movie)).toBe(true)
    const part = await client.send('GET', a.path, undefined, { Range: 'bytes=100-199' })
    expect(part.status).toBe(206)
    expect(part.headers.get('content-range')).toBe(`bytes 100-199/${movie.length}`)
    expect(Buffer.from(await part.arrayBuffer()).equals(movie.subarray(100, 200))).toBe(true)
    const stale = await client.send('GET', a.path, undefined, {
      Range: 'bytes=100-199',
      'If-Range': '"other"',
    })
    expect(stale.status).toBe(200)
    await stale.arrayBuffer()
    const beyond = await client.send('GET', a.path, undefined, { Range: `bytes=${movie.length + 5}-` })
    expect(beyond.status).toBe(416)
    expect(beyond.headers.get('content-range')).toBe(`bytes */${movie.length}`)
  })

  it('is reached only through an investigation that has it', async () => {
    const [a, b] = [await place(), await place()]
    await client.claim(a.id, a.footage, movie)
    expect((await client.send('GET', API.footage(b.id, a.footage))).status).toBe(404)
    await client.send('DELETE', API.investigation(a.id))
    expect((await client.send('GET', a.path)).status).toBe(404)
  })

  it.each<[string, Buffer, number, RegExp]>([
    ['an empty file', Buffer.alloc(0), 400, /empty/],
    ['a text file', Buffer.from('This is no video at all.'), 415, /not an MP4, MOV, WebM or MKV/],
  ])('%s is refused and leaves nothing', async (_, body, status, says) => {
    const { id, footage, path } = await place()
    const answer = await client.claim(id, footage, body)
    expect(answer.status).toBe(status)
    expect(((await answer.json()) as { detail: string }).detail).toMatch(says)
    expect(stored()).not.toContain(sha256Of(body))
    expect((await client.send('GET', path)).status).toBe(404)
  })

  it('over the limit is refused before a byte of it is sent', async () => {
    const answer = await client.begin(2_000_001)
    expect(answer.status).toBe(413)
    expect(await answer.text()).toMatch(/larger than the 2 MB/)
  })

  it('claimed twice at once and once more is there once', async () => {
    const { id, footage, path } = await place()
    const upload = await client.upload(movie)
    const both = await Promise.all([1, 2].map(() => client.claim(id, footage, movie, { upload })))
    expect(both.map(({ status }) => status)).toContain(201)
    expect((await client.claim(id, footage, movie, { upload })).status).toBe(201)
    expect((await client.send('GET', path, undefined, { Range: 'bytes=0-9' })).status).toBe(206)
    expect(stored().filter((name) => name.startsWith(upload))).toEqual([])
  })

  it('that arrived changed is not taken, and its upload is forgotten', async () => {
    const { id, footage, path } = await place()
    const upload = await client.upload(movie)
    const answer = await client.claim(id, footage, Buffer.from('something else'), { upload })
    expect(answer.status).toBe(422)
    expect((await client.send('GET', path)).status).toBe(404)
    expect((await client.claim(id, footage, movie, { upload })).status).toBe(404)
  })

  it('that nothing refers to any more is really erased', async () => {
    const { id, footage } = await place()
    const own = Buffer.concat([movie, Buffer.from('own')])
    await client.claim(id, footage, own)
    expect(stored()).toContain(sha256Of(own))
    await client.send('DELETE', API.investigation(id))
    const { investigations, vault } = server.room
    for (const unused of await investigations.sweep(new Date(Date.now() + 31 * 86_400_000)))
      await vault.erase(unused)
    expect(stored()).not.toContain(sha256Of(own))
  })
})

describe('upload', () => {
  const offsetOf = async (path: string) =>
    Number((await client.tus('HEAD', path, {})).headers.get('upload-offset'))

  /** Sends a part of what it promises, then breaks the connection. */
  function breakOff(path: string, offset: number, promised: Buffer, sent: number): Promise<void> {
    const { hostname, port, host } = new URL(server.origin)
    return new Promise((resolve) => {
      const socket = connect(Number(port), hostname)
      socket.once('close', () => resolve())
      socket.on('error', () => {})
      socket.write(
        `PATCH ${path} HTTP/1.1\r\nHost: ${host}\r\nOrigin: ${server.origin}\r\nTus-Resumable: 1.0.0\r\n` +
          `Upload-Offset: ${offset}\r\nContent-Type: application/offset+octet-stream\r\nContent-Length: ${promised.length}\r\n\r\n`,
      )
      socket.write(promised.subarray(0, sent), () => socket.destroy())
    })
  }

  it('goes on where it broke off, five times, and arrives whole', async () => {
    const { id, footage, path } = await place()
    const address = (await client.begin(movie.length)).headers.get('location')!
    let offset = 0
    for (let time = 0; time < 5; time++) {
      const rest = movie.subarray(offset)
      await breakOff(address, offset, rest, Math.floor(rest.length / 3))
      await expect.poll(() => offsetOf(address), { timeout: 30_000 }).toBeGreaterThan(offset)
      offset = await offsetOf(address)
    }
    expect(offset).toBeLessThan(movie.length)
    const last = await client.patch(address, offset, movie.subarray(offset))
    expect(last.status).toBe(204)
    const upload = address.split('/').at(-1)!
    expect((await client.claim(id, footage, movie, { upload })).status).toBe(201)
    expect(Buffer.from(await (await client.send('GET', path)).arrayBuffer()).equals(movie)).toBe(true)
  })

  it('survives a restarted server', async () => {
    const address = (await client.begin(movie.length)).headers.get('location')!
    await client.patch(address, 0, movie.subarray(0, 300_000))
    await server.restart()
    expect(await offsetOf(address)).toBe(300_000)
  })

  it('that is not complete can’t become footage', async () => {
    const { id, footage } = await place()
    const address = (await client.begin(movie.length)).headers.get('location')!
    await client.patch(address, 0, movie.subarray(0, 1000))
    const upload = address.split('/').at(-1)!
    expect((await client.claim(id, footage, movie, { upload })).status).toBe(404)
  })

  it('is reached by its own name only, and taken from its own pages only', async () => {
    for (const name of ['%2e%2e%2fsecret', 'nothing-here', '..%2f..%2f..%2fetc%2fpasswd'])
      expect((await client.tus('HEAD', `${API.uploads}/${name}`, {})).status).toBeGreaterThanOrEqual(400)
    const foreign = await fetch(server.origin + API.uploads, {
      method: 'POST',
      headers: { Origin: 'http://foreign.example', 'Tus-Resumable': '1.0.0', 'Upload-Length': '5' },
    })
    expect(foreign.status).toBe(403)
    writeFileSync(join(server.footageFolder, 'secret'), 'secret')
    const answer = await client.send('GET', `${API.uploads}/%2e%2e%2fsecret`)
    expect(await answer.text()).not.toContain('secret\n')
    expect(answer.status).toBeGreaterThanOrEqual(400)
  })
})
