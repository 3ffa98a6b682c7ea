import { spawnSync } from 'node:child_process'
import { readdirSync, readFileSync } from 'node:fs'
import { connect } from 'node:net'
import { join } from 'node:path'
import { API, type EditAnswer, type OpenedInvestigation } from '@apokinema/core/api'
import { edit, edits, type Investigation, type Patch } from '@apokinema/core/investigation'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { type TestServer, testServer } from './testing/testServer.ts'

let server: TestServer
let counter = 0
const uuid = () => `00000000-0000-4000-8000-${String(++counter).padStart(12, '0')}`

beforeAll(async () => {
  server = await testServer({ maxFootageBytes: 2_000_000 })
})
afterAll(() => server?.stop())

const send = (method: string, path: string, body?: unknown, headers: Record<string, string> = {}) =>
  fetch(server.origin + path, {
    method,
    headers: {
      Origin: server.origin,
      ...(body === undefined ? {} : { 'Content-Type': 'application/json' }),
      ...headers,
    },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  })
const put = (path: string, body: Buffer) =>
  fetch(server.origin + path, {
    method: 'PUT',
    headers: { Origin: server.origin },
    body: new Uint8Array(body),
  })
const open = async (id: string) =>
  (await (await send('GET', API.investigation(id))).json()) as OpenedInvestigation
const make = async (sample?: string) => {
  const id = uuid()
  const answer = await send('POST', API.investigations, {
    id,
    title: 'Net float',
    ...(sample ? { sample } : {}),
  })
  expect(answer.status).toBe(201)
  return (await answer.json()) as OpenedInvestigation
}
const sendEdit = (id: string, base: number, patch: Patch, key = uuid()) =>
  send('POST', API.edits(id), { key, base, patch })
const titled = (document: Investigation, title: string) => edit(document, edits.setTitle(title)).patch
const ROOT = join(import.meta.dirname, '../..')
const movie = readFileSync(join(ROOT, 'demo/samples/net-float/footage.mp4'))
const storedFiles = () =>
  readdirSync(server.footageFolder, { recursive: true, withFileTypes: true }).filter((entry) =>
    entry.isFile(),
  )

describe('investigations', () => {
  it('are made, listed, copied, deleted and brought back', async () => {
    const { id } = await make()
    const copy = uuid()
    expect((await send('POST', API.copies(id), { id: copy })).status).toBe(201)
    const titles = async (deleted = false) =>
      (
        (await (await send('GET', `${API.investigations}?deleted=${deleted}`)).json()) as {
          id: string
          title: string
        }[]
      )
        .filter((item) => [id, copy].includes(item.id))
        .map((item) => item.title)
    expect((await titles()).sort()).toEqual(['Net float', 'Net float, copy'])
    expect((await send('DELETE', API.investigation(id))).status).toBe(204)
    expect(await titles()).toEqual(['Net float, copy'])
    expect(await titles(true)).toEqual(['Net float'])
    expect((await send('GET', API.investigation(id))).status).toBe(404)
    expect((await send('POST', API.restored(id))).status).toBe(204)
    expect(await titles()).toHaveLength(2)
  })

  it('made twice under one id are one', async () => {
    const id = uuid()
    for (let n = 0; n < 2; n++)
      expect((await send('POST', API.investigations, { id, title: 'Once' })).status).toBe(201)
    expect((await open(id)).version).toBe(1)
  })

  it('from the sample have its footage and picture', async () => {
    const { id, document, footageStored } = await make('net-float')
    expect(footageStored).toBe(true)
    expect(document.span).toEqual({ first: 0, last: 119, every: 1 })
    const poster = await send('GET', API.poster(id, document.footage!.id))
    expect(poster.headers.get('content-type')).toBe('image/jpeg')
  })

  it('keep paths and HTML in a title as plain text', async () => {
    const { id, document } = await make()
    const title = '../../<script>alert(1)</script>'
    expect((await sendEdit(id, 1, titled(document, title))).status).toBe(200)
    expect((await open(id)).document.title).toBe(title)
  })
})

describe('edits', () => {
  it('sent twice are applied once and answered alike', async () => {
    const { id, document } = await make()
    const key = uuid()
    const answers: EditAnswer[] = []
    for (let n = 0; n < 2; n++)
      answers.push((await (await sendEdit(id, 1, titled(document, 'Twice'), key)).json()) as EditAnswer)
    expect(answers[0].version).toBe(2)
    expect(answers[1]).toEqual(answers[0])
    expect((await open(id)).version).toBe(2)
  })

  it('sent twice at once are applied once', async () => {
    const { id, document } = await make()
    const key = uuid()
    const all = await Promise.all(
      Array.from({ length: 8 }, () => sendEdit(id, 1, titled(document, 'At once'), key)),
    )
    expect(all.map((answer) => answer.status)).toEqual(Array(8).fill(200))
    expect((await open(id)).version).toBe(2)
  })

  it('on an older version are laid on top where they touch nothing that changed', async () => {
    const { id, document } = await make()
    await sendEdit(id, 1, titled(document, 'Theirs'))
    const answer = (await (
      await sendEdit(id, 1, edit(document, edits.setAxes({ tilt: 1 })).patch)
    ).json()) as EditAnswer
    expect(answer.version).toBe(3)
    expect(answer.since).toEqual([titled(document, 'Theirs')])
    expect((await open(id)).document).toMatchObject({ title: 'Theirs', axes: { tilt: 1 } })
  })

  it('on an older version that meet a change are a conflict and change nothing', async () => {
    const { id, document } = await make()
    await sendEdit(id, 1, titled(document, 'Theirs'))
    const answer = await sendEdit(id, 1, titled(document, 'Mine'))
    expect(answer.status).toBe(409)
    expect(await answer.json()).toMatchObject({ code: 'edit-conflict', version: 2 })
    expect((await open(id)).document.title).toBe('Theirs')
  })

  it.each<[string, unknown]>([
    ['breaks the schema', [{ op: 'replace', path: '/span', value: 'x' }]],
    ['adds an unknown field', [{ op: 'add', path: '/extra', value: 1 }]],
    ['does not fit', [{ op: 'remove', path: '/bodies/nobody' }]],
    ['reaches for the prototype', [{ op: 'add', path: '/__proto__/polluted', value: 1 }]],
    ['is no patch', 'text'],
    ['is missing', undefined],
  ])('whose patch %s are refused with a reason', async (_, patch) => {
    const { id, document } = await make()
    const answer = await sendEdit(id, 1, patch as Patch)
    expect(answer.status).toBe(422)
    expect(answer.headers.get('content-type')).toContain('application/problem+json')
    expect(((await answer.json()) as { detail: string }).detail).toMatch(/refused, nothing was altered/)
    expect(await open(id)).toMatchObject({ version: 1, document })
    expect(({} as Record<string, unknown>).polluted).toBeUndefined()
  })

  it('that are no JSON or too large are refused', async () => {
    const { id } = await make()
    const raw = (body: string) =>
      fetch(server.origin + API.edits(id), {
        method: 'POST',
        headers: { Origin: server.origin, 'Content-Type': 'application/json' },
        body,
      })
    expect((await raw('{"key":')).status).toBe(400)
    expect((await raw(`"${'x'.repeat(9_000_000)}"`)).status).toBe(413)
  })
})

describe('footage', () => {
  const withFootage = async () => {
    const opened = await make()
    const footage = uuid()
    return { id: opened.id, footage, path: API.footage(opened.id, footage) }
  }

  it('goes in, comes out whole and in ranges, and is stored once', async () => {
    const [a, b] = [await withFootage(), await withFootage()]
    const sums: string[] = []
    for (const { path } of [a, b]) {
      const answer = await put(path, movie)
      expect(answer.status).toBe(201)
      sums.push(((await answer.json()) as { sha256: string }).sha256)
    }
    expect(sums[0]).toBe(sums[1])
    expect(storedFiles().filter((entry) => entry.name === sums[0])).toHaveLength(1)

    expect(Buffer.from(await (await send('GET', a.path)).arrayBuffer()).equals(movie)).toBe(true)
    const part = await send('GET', a.path, undefined, { Range: 'bytes=100-199' })
    expect(part.status).toBe(206)
    expect(part.headers.get('content-range')).toBe(`bytes 100-199/${movie.length}`)
    expect(Buffer.from(await part.arrayBuffer()).equals(movie.subarray(100, 200))).toBe(true)
    const stale = await send('GET', a.path, undefined, { Range: 'bytes=100-199', 'If-Range': '"other"' })
    expect(stale.status).toBe(200)
    await stale.arrayBuffer()
    const beyond = await send('GET', a.path, undefined, { Range: `bytes=${movie.length + 5}-` })
    expect(beyond.status).toBe(416)
    expect(beyond.headers.get('content-range')).toBe(`bytes */${movie.length}`)
  })

  it('is reached only through an investigation that has it', async () => {
    const [a, b] = [await withFootage(), await withFootage()]
    await put(a.path, movie)
    expect((await send('GET', API.footage(b.id, a.footage))).status).toBe(404)
    await send('DELETE', API.investigation(a.id))
    expect((await send('GET', a.path)).status).toBe(404)
  })

  it.each<[string, Buffer, number, RegExp]>([
    ['an empty file', Buffer.alloc(0), 400, /empty/],
    ['a text file', Buffer.from('This is no video at all.'), 415, /not an MP4, MOV or WebM/],
    ['a file over the limit', Buffer.concat([movie, Buffer.alloc(2_000_000)]), 413, /larger than the 2 MB/],
  ])('%s is refused and leaves nothing', async (_, body, status, says) => {
    const before = storedFiles().length
    const { path } = await withFootage()
    const answer = await put(path, body)
    expect(answer.status).toBe(status)
    expect(((await answer.json()) as { detail: string }).detail).toMatch(says)
    expect(storedFiles()).toHaveLength(before)
    expect((await send('GET', path)).status).toBe(404)
  })

  it('whose upload breaks off leaves nothing half-made', async () => {
    const before = storedFiles().length
    const { path } = await withFootage()
    const { hostname, port, host } = new URL(server.origin)
    const socket = connect(Number(port), hostname)
    socket.write(
      `PUT ${path} HTTP/1.1\r\nHost: ${host}\r\nOrigin: ${server.origin}\r\nContent-Length: ${movie.length}\r\n\r\n`,
    )
    socket.write(movie.subarray(0, 200_000))
    await expect.poll(() => storedFiles().length, { timeout: 30_000 }).toBe(before + 1)
    socket.destroy()
    await expect.poll(() => storedFiles().length, { timeout: 30_000 }).toBe(before)
    expect((await send('GET', path)).status).toBe(404)
  })

  it('that nothing refers to any more is really erased', async () => {
    const { id, path } = await withFootage()
    const own = Buffer.concat([movie, Buffer.from('own')])
    const { sha256 } = (await (await put(path, own)).json()) as { sha256: string }
    await send('DELETE', API.investigation(id))
    const { investigations, vault } = server.room
    for (const unused of await investigations.sweep(new Date(Date.now() + 31 * 86_400_000)))
      await vault.erase(unused)
    expect(storedFiles().map((entry) => entry.name)).not.toContain(sha256)
  })
})

describe('security', () => {
  it('takes changes from its own pages only', async () => {
    const body = JSON.stringify({ id: uuid(), title: 'Foreign' })
    const from = (headers: Record<string, string>) =>
      fetch(server.origin + API.investigations, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json', ...headers },
        body,
      })
    expect((await from({ Origin: 'http://foreign.example' })).status).toBe(403)
    expect((await from({})).status).toBe(403)
  })

  it('answers on loopback to its own names only', async () => {
    const { hostname, port } = new URL(server.origin)
    const answer = await new Promise<string>((resolve) => {
      const socket = connect(Number(port), hostname)
      socket.once('data', (data) => resolve(String(data)))
      socket.end('GET /api/health HTTP/1.1\r\nHost: foreign.example\r\nConnection: close\r\n\r\n')
    })
    expect(answer).toMatch(/^HTTP\/1\.1 421/)
  })

  it('gives every page a fresh nonce and a policy without unsafe-inline', async () => {
    const policies = await Promise.all(
      [1, 2].map(async () => (await send('GET', '/')).headers.get('content-security-policy')!),
    )
    expect(policies[0]).not.toContain('unsafe')
    expect(policies[0]).toMatch(/script-src 'self' 'nonce-[\w+/=]{20,}'/)
    expect(policies[0]).not.toBe(policies[1])
  })

  it.each([
    '/assets/..%2f..%2fpackage.json',
    '/assets/../../package.json',
    '/api/investigations/..%2f..',
    '/api/nothing',
  ])('gives nothing for %s', async (path) => {
    const answer = await send('GET', path)
    expect(await answer.text()).not.toContain('"workspaces"')
  })
})

describe('settings', () => {
  it.each([
    [{ PORT: 'abc' }, /PORT must be/],
    [{ MAX_FOOTAGE_MB: '0' }, /MAX_FOOTAGE_MB must be/],
    [{ TLS_CERT: 'a' }, /go together/],
  ])('that are wrong are named: %j', (env, says) => {
    const run = spawnSync(process.execPath, ['--import', 'tsx', join(ROOT, 'server/src/main.ts')], {
      env: { ...process.env, DATABASE_URL: 'postgres://nobody@127.0.0.1:1/none', ...env },
      encoding: 'utf8',
    })
    expect(run.status).not.toBe(0)
    expect(run.stderr).toMatch(says)
  })
})
