import { spawnSync } from 'node:child_process'
import { chmodSync, mkdtempSync, readFileSync, rmSync, statSync } from 'node:fs'
import { connect } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { API, type EditAnswer, type ListedInvestigations } from '@apokinema/core/api'
import { edit, edits, FIRST_AXES, type Investigation, type Patch } from '@apokinema/core/investigation'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { readConfig } from './config.ts'
import { CONVERTER_ACCOUNT } from './footage/converterAccount.ts'
import { clientOf, uuid } from './testing/client.ts'
import { type TestServer, testServer } from './testing/testServer.ts'

let server: TestServer

beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server?.stop())

const send = (...asked: Parameters<ReturnType<typeof clientOf>['send']>) => clientOf(server).send(...asked)
const open = (id: string) => clientOf(server).open(id)
const make = (sample?: string) => clientOf(server).make(sample)
const sendEdit = (id: string, base: number, patch: Patch, key = uuid()) =>
  send('POST', API.edits(id), { key, base, patch })
const titled = (document: Investigation, title: string) => edit(document, edits.setTitle(title)).patch
const ROOT = join(import.meta.dirname, '../..')

describe('investigations', () => {
  it('are made, listed, copied, deleted and brought back', async () => {
    const { id } = await make()
    const copy = uuid()
    expect((await send('POST', API.copies(id), { id: copy })).status).toBe(201)
    const titles = async (deleted = false) =>
      (
        (await (await send('GET', `${API.investigations}?deleted=${deleted}`)).json()) as ListedInvestigations
      ).investigations
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

  it('come by pages, each once, also while others are changed', async () => {
    const made: string[] = []
    for (let n = 0; n < 70; n++) made.push((await make()).id)
    const seen: string[] = []
    for (let after: string | null = ''; after !== null; ) {
      const path: string = `${API.investigations}?${new URLSearchParams(after ? { after } : {})}`
      const { investigations, next } = (await (await send('GET', path)).json()) as ListedInvestigations
      expect(investigations.length).toBeLessThanOrEqual(60)
      seen.push(...investigations.map(({ id }) => id))
      after = next
    }
    expect(new Set(seen).size).toBe(seen.length)
    expect(seen).toEqual(expect.arrayContaining(made))
    expect((await send('GET', `${API.investigations}?after=yesterday`)).status).toBe(400)
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
    expect((await open(id)).document).toMatchObject({ title: 'Theirs', axes: { [FIRST_AXES]: { tilt: 1 } } })
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

describe('requests', () => {
  it('whose bodies do not come end in time, and others are answered meanwhile', async () => {
    const impatient = await testServer({ bodySeconds: 0.5 })
    try {
      const { hostname, port, host } = new URL(impatient.origin)
      const held = Array.from(
        { length: 200 },
        () =>
          new Promise<string>((resolve) => {
            const socket = connect(Number(port), hostname)
            socket.once('data', (data) => resolve(String(data).split('\r\n')[0]))
            socket.write(
              `POST ${API.investigations} HTTP/1.1\r\nHost: ${host}\r\nOrigin: ${impatient.origin}\r\nContent-Type: application/json\r\nContent-Length: 100\r\n\r\n{`,
            )
          }),
      )
      expect((await clientOf(impatient).send('GET', API.investigations)).status).toBe(200)
      expect(new Set(await Promise.all(held))).toEqual(new Set(['HTTP/1.1 408 Request Timeout']))
    } finally {
      await impatient.stop()
    }
  })

  it('have a line each in the log; that of a fault says what it was, under the id that the answer gives', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'apokinema-log-'))
    const logFile = join(folder, 'server.log')
    const logging = await testServer({ logFile })
    try {
      const { id } = await clientOf(logging).make()
      await clientOf(logging).send('GET', API.investigation(id), undefined, { Cookie: 'secret=1' })
      await logging.services.database.raw('alter table investigations rename column updated_at to changed_at')
      const answer = await clientOf(logging).send('GET', API.investigations)
      expect(answer.status).toBe(500)
      const { instance } = (await answer.json()) as { instance: string }
      const text = () => readFileSync(logFile, 'utf8')
      await expect.poll(text).toContain('"statusCode":500')
      expect(text()).not.toContain('secret')
      expect(statSync(logFile).mode & 0o077).toBe(0)
      const lines = text()
        .trim()
        .split('\n')
        .map((line) => JSON.parse(line) as Record<string, Record<string, unknown>>)
      expect(lines.find(({ req }) => req?.url === API.investigation(id))).toMatchObject({
        req: { method: 'GET' },
        res: { statusCode: 200 },
      })
      expect(lines.find(({ req }) => `urn:uuid:${req?.id}` === instance)).toMatchObject({
        level: 50,
        err: { code: '42703', message: expect.stringContaining('updated_at') },
      })
    } finally {
      await logging.stop()
      rmSync(folder, { recursive: true })
    }
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

  /** Returns the first line of what is answered under a name. */
  const answeredUnder = (name: string, { origin } = server) =>
    new Promise<string>((resolve) => {
      const { hostname, port } = new URL(origin)
      const socket = connect(Number(port), hostname)
      socket.once('data', (data) => resolve(String(data).split('\r\n')[0]))
      socket.end(`GET /livez HTTP/1.1\r\nHost: ${name}\r\nConnection: close\r\n\r\n`)
    })

  it.each([
    'other.example',
    '127.attacker.example',
    '127.0.0.1.attacker.example',
    'localhost.attacker.example',
    '10.0.0.7',
  ])('does not answer on loopback under %s', async (name) => {
    expect(await answeredUnder(name)).toMatch(/^HTTP\/1\.1 421/)
  })

  it.each(['localhost', '127.0.0.1', '127.3.2.1:5170', '[::1]:5170', 'LOCALHOST:1'])(
    'answers on loopback under %s',
    async (name) => {
      expect(await answeredUnder(name)).toMatch(/^HTTP\/1\.1 200/)
    },
  )

  it('behind a proxy that ends TLS takes changes from where its pages are, and answers under that name', async () => {
    const behind = await testServer({ publicOrigin: 'https://lab.example', allowedNames: ['school.example'] })
    try {
      expect(await answeredUnder('lab.example', behind)).toMatch(/^HTTP\/1\.1 200/)
      expect(await answeredUnder('school.example', behind)).toMatch(/^HTTP\/1\.1 200/)
      expect(await answeredUnder('other.example', behind)).toMatch(/^HTTP\/1\.1 421/)
      const from = (origin: string, forwarded = {}) =>
        fetch(behind.origin + API.investigations, {
          method: 'POST',
          headers: { 'Content-Type': 'application/json', Origin: origin, ...forwarded },
          body: JSON.stringify({ id: uuid(), title: 'Behind' }),
        })
      expect((await from('https://lab.example')).status).toBe(201)
      expect((await from('https://other.example')).status).toBe(403)
      // Nobody's word is taken for the name where no proxy is trusted.
      const forwarded = { 'X-Forwarded-Host': 'school.example', 'X-Forwarded-Proto': 'https' }
      expect((await from('https://school.example', forwarded)).status).toBe(403)
      const trusting = await testServer({ trustProxy: true, allowedNames: ['school.example'] })
      const answer = await fetch(trusting.origin + API.investigations, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json', Origin: 'https://school.example', ...forwarded },
        body: JSON.stringify({ id: uuid(), title: 'Trusting' }),
      })
      expect(answer.status).toBe(201)
      await trusting.stop()
    } finally {
      await behind.stop()
    }
  })

  it('gives every page a fresh nonce and a policy without unsafe-inline', async () => {
    const policies = await Promise.all(
      [1, 2].map(async () => (await send('GET', '/')).headers.get('content-security-policy')!),
    )
    expect(policies[0]).not.toContain('unsafe')
    expect(policies[0]).toMatch(/script-src 'self' 'nonce-[\w+/=]{20,}'/)
    expect(policies[0]).not.toBe(policies[1])
  })

  it('lets compiled kernels run in workers only', async () => {
    const policyOf = async (path: string) => (await send('GET', path)).headers.get('content-security-policy')!
    expect(await policyOf('/assets/some.worker.js')).toContain("script-src 'self' 'wasm-unsafe-eval';")
    for (const path of ['/', '/investigations/assets/', '/?/assets/', '/api/assets/'])
      expect(await policyOf(path)).not.toContain('wasm')
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
  const env = { DATABASE_URL: 'postgres://nobody@127.0.0.1:1/none', FOOTAGE_DIR: tmpdir() }

  it.each([
    [{ PORT: 'abc' }, /PORT must be/],
    [{ PORT: '' }, /PORT must be/],
    [{ MAX_FOOTAGE_MB: '0' }, /MAX_FOOTAGE_MB must be/],
    [{ TLS_CERT: 'a' }, /go together/],
    [
      { TLS_CERT: '/nowhere.pem', TLS_KEY: '/nowhere.pem' },
      /TLS_CERT: \/nowhere.pem can’t be read \(ENOENT\)/,
    ],
    [{ TLS_CERT: join(ROOT, 'package.json'), TLS_KEY: join(ROOT, 'package.json') }, /must be a certificate/],
    [{ DATABASE_URL: '' }, /DATABASE_URL must name/],
    [{ DATABASE_URL: 'database' }, /DATABASE_URL must look like/],
    [{ DATABASE_URL: 'mysql://a@b/c' }, /DATABASE_URL must look like/],
    [{ DATABASE_URL: 'postgres://a@b' }, /DATABASE_URL must look like/],
    [{ HOST: 'no host' }, /HOST must be/],
    [{ HOST: '0.0.0.0' }, /lets everyone .* OPEN_TO_NETWORK=everyone-may-change-everything/],
    [{ HOST: '127.attacker.example' }, /lets everyone/],
    [{ HOST: '0.0.0.0', OPEN_TO_NETWORK: 'yes' }, /lets everyone/],
    [{ FOOTAGE_DIR: join(ROOT, 'package.json') }, /FOOTAGE_DIR: .* can’t be written to/],
    [{ PUBLIC_ORIGIN: 'lab.example' }, /PUBLIC_ORIGIN must be/],
    [{ PUBLIC_ORIGIN: 'https://lab.example/path' }, /PUBLIC_ORIGIN must be/],
    [{ TRUST_PROXY: 'perhaps' }, /TRUST_PROXY must be/],
    [{ ALLOWED_HOSTS: 'a.example, https://b.example' }, /ALLOWED_HOSTS must be/],
  ])('that are wrong are named: %j', (wrong, says) => {
    expect(() => readConfig({ ...env, ...wrong })).toThrow(says)
  })

  it('with footage where the converter, which is not root, can’t get in are named', () => {
    const folder = mkdtempSync(join(tmpdir(), 'apokinema-private-'))
    const read = () => readConfig({ ...env, FOOTAGE_DIR: join(folder, 'footage') })
    if (CONVERTER_ACCOUNT) expect(read).toThrow(`only root can enter ${folder}, and videos`)
    else expect(read().footageFolder).toBe(join(folder, 'footage'))
    chmodSync(folder, 0o711)
    expect(read().footageFolder).toBe(join(folder, 'footage'))
    // Nor does it lock itself out where nothing is there yet.
    const deep = join(folder, 'data/of/all/footage')
    expect(readConfig({ ...env, FOOTAGE_DIR: deep }).footageFolder).toBe(deep)
    expect(statSync(deep).mode & 0o077).toBe(0)
    rmSync(folder, { recursive: true })
  })

  it('that open the server knowingly are taken, and all that are wrong are told at once', () => {
    const open = { ...env, HOST: '0.0.0.0', OPEN_TO_NETWORK: 'everyone-may-change-everything' }
    expect(readConfig(open).host).toBe('0.0.0.0')
    const faulty = () =>
      readConfig({ PORT: '0', TLS_KEY: 'a', HOST: '::', TRUST_PROXY: '1', FOOTAGE_DIR: tmpdir() })
    expect(faulty).toThrow(/HOST[\s\S]*PORT[\s\S]*DATABASE_URL[\s\S]*TLS_CERT[\s\S]*TRUST_PROXY/)
  })

  it('that are wrong end the server with their sentence, and with nothing else', () => {
    const run = spawnSync(process.execPath, ['--import', 'tsx', join(ROOT, 'server/src/main.ts')], {
      env: { ...process.env, ...env, PORT: 'abc' },
      encoding: 'utf8',
    })
    expect(run.status).toBe(1)
    expect(run.stderr.trim()).toBe('PORT must be a whole number from 1 to 65535, not "abc".')
  })
})
