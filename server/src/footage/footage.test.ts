import { mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { statfs } from 'node:fs/promises'
import { connect } from 'node:net'
import { dirname, join } from 'node:path'
import { API } from '@apokinema/core/api'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { clientOf, sha256Of, uuid } from '../testing/client.ts'
import { type TestServer, testServer } from '../testing/testServer.ts'
import { pathOf } from './blobStore.ts'
import { CONVERTER_ACCOUNT } from './converterAccount.ts'
import { eraseUnused } from './links.ts'

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
const DAY = 86_400_000

/** Does what the server does every hour, as if so many milliseconds had passed. */
async function sweep(after: number): Promise<void> {
  const { investigations, blobs, database } = server.services
  const now = new Date(Date.now() + after)
  await investigations.sweep(now)
  await eraseUnused(database, blobs, now)
}

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

  it('that nothing refers to any more is marked, and really erased a day later', async () => {
    const { id, footage } = await place()
    const own = Buffer.concat([movie, Buffer.from('own')])
    await client.claim(id, footage, own)
    await client.send('DELETE', API.investigation(id))
    await sweep(31 * DAY)
    expect(stored()).toContain(sha256Of(own))
    await sweep(31.9 * DAY)
    expect(stored()).toContain(sha256Of(own))
    await sweep(32 * DAY)
    expect(stored()).not.toContain(sha256Of(own))
  })

  it('that is used again after it was marked stays', async () => {
    const [a, b] = [await place(), await place()]
    const own = Buffer.concat([movie, Buffer.from('again')])
    await client.claim(a.id, a.footage, own)
    await client.send('DELETE', API.investigation(a.id))
    await sweep(31 * DAY)
    expect((await client.claim(b.id, b.footage, own)).status).toBe(201)
    await sweep(40 * DAY)
    await sweep(80 * DAY)
    expect((await client.send('GET', b.path)).status).toBe(200)
  })

  it('that lies in the folder though the database does not know it is erased as well', async () => {
    const stray = sha256Of(Buffer.from('stray'))
    mkdirSync(join(server.footageFolder, stray.slice(0, 2)), { recursive: true, mode: 0o700 })
    writeFileSync(join(server.footageFolder, pathOf(stray)), 'stray')
    await sweep(0)
    expect(stored()).toContain(stray)
    await sweep(DAY)
    expect(stored()).not.toContain(stray)
  })

  it('is not erased at the moment at which the same file is taken in', async () => {
    for (let round = 0; round < 10; round++) {
      const own = Buffer.concat([movie, Buffer.from(`round ${round}`)])
      const [a, b] = [await place(), await place()]
      await client.claim(a.id, a.footage, own)
      await client.send('DELETE', API.investigation(a.id))
      await sweep(31 * DAY)
      const upload = await client.upload(own)
      const [, answer] = await Promise.all([sweep(33 * DAY), client.claim(b.id, b.footage, own, { upload })])
      expect(answer.status).toBe(201)
      expect((await client.send('GET', b.path)).status).toBe(200)
    }
  })

  it('can be read by nobody else on the machine', async () => {
    const { id, footage } = await place()
    await client.claim(id, footage, movie)
    await client.begin(1000)
    const entries = readdirSync(server.footageFolder, { recursive: true, withFileTypes: true })
    expect(entries.filter((entry) => entry.isFile()).length).toBeGreaterThan(2)
    const reached = new Set([server.footageFolder])
    // What is below a folder that nobody enters is out of reach whatever its own mode.
    const isOpen = (path: string) => {
      const { mode, gid } = statSync(path)
      return (mode & 0o007) !== 0 || (gid !== CONVERTER_ACCOUNT?.gid && (mode & 0o070) !== 0)
    }
    const open = entries
      .map((entry) => join(entry.parentPath, entry.name))
      .filter((path) => reached.has(dirname(path)) && isOpen(path) && reached.add(path))
    expect(open).toEqual([])
    expect(isOpen(server.footageFolder)).toBe(false)
  })
})

describe('upload', () => {
  it('that the disk does not hold beside those that have been announced is refused before it begins', async () => {
    const large = await testServer({ maxFootageBytes: 1e15 })
    try {
      const begin = (bytes: number) => clientOf(large).begin(Math.floor(bytes))
      const { bavail, bsize } = await statfs(large.footageFolder)
      const free = bavail * bsize
      const both = await Promise.all([begin(0.6 * free), begin(0.6 * free)])
      expect(both.map(({ status }) => status).sort()).toEqual([201, 507])
      expect(await both.find(({ status }) => status === 507)!.text()).toMatch(/disk of the server is full/)
      expect((await begin(0.6 * free)).status).toBe(507)
      expect((await begin(1000)).status).toBe(201)
      // Without an announced length it may become as large as any.
      const endless = await clientOf(large).tus('POST', API.uploads, { 'Upload-Defer-Length': '1' })
      expect(endless.status).toBe(507)
    } finally {
      await large.stop()
    }
  })

  it('finds room beside pieces that crashes left behind, which take none', async () => {
    const maxFootageBytes = 1e9
    const crashed = await testServer({ maxFootageBytes })
    try {
      const uploads = join(crashed.footageFolder, 'uploads')
      const { bavail, bsize } = await statfs(uploads)
      const pieces = Math.max(300, Math.ceil((bavail * bsize) / maxFootageBytes) + 1)
      for (let i = 0; i < pieces; i++) writeFileSync(join(uploads, `piece-${i}`), '')
      writeFileSync(join(uploads, 'half'), '')
      writeFileSync(join(uploads, 'half.json'), '{"id":"ha')
      writeFileSync(join(uploads, 'note.json'), `{"id":"note","size":${bavail * bsize}}`)
      expect((await clientOf(crashed).begin(1000)).status).toBe(201)
    } finally {
      await crashed.stop()
    }
  })

  it('is one of 200 at a time; others wait', async () => {
    const busy = await testServer()
    try {
      const statuses = await Promise.all(
        Array.from({ length: 230 }, async () => (await clientOf(busy).begin(1000)).status),
      )
      expect(statuses.filter((status) => status === 201)).toHaveLength(200)
      expect(statuses.filter((status) => status === 503)).toHaveLength(30)
    } finally {
      await busy.stop()
    }
  })

  it('of which pieces were left behind, or of which nothing ever came, is tidied in time', async () => {
    const uploads = join(server.footageFolder, 'uploads')
    const names = () => readdirSync(uploads).filter((name) => name.startsWith('left') || name.includes(kept))
    const kept = (await client.begin(movie.length)).headers.get('location')!.split('/').at(-1)!
    await client.patch(`${API.uploads}/${kept}`, 0, movie.subarray(0, 1000))
    writeFileSync(join(uploads, 'left-part'), 'part')
    writeFileSync(join(uploads, 'left-note.json'), '{"id":"left-note","size":5}')
    writeFileSync(join(uploads, 'left-half'), 'part')
    writeFileSync(join(uploads, 'left-half.json'), '{"id":"le')
    writeFileSync(join(uploads, 'left-empty'), '')
    writeFileSync(join(uploads, 'left-empty.json'), '{"id":"left-empty","size":5}')
    const sweepUploads = (hours: number) =>
      server.services.uploads.sweep(new Date(Date.now() + hours * 3_600_000))
    await sweepUploads(0.9)
    expect(names()).toHaveLength(8)
    await sweepUploads(1.1)
    expect(names().sort()).toEqual([kept, `${kept}.json`, 'left-empty', 'left-empty.json'].sort())
    await sweepUploads(25)
    expect(names().sort()).toEqual([kept, `${kept}.json`])
    await sweepUploads(24 * 7 + 1)
    expect(names()).toEqual([])
  })

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
