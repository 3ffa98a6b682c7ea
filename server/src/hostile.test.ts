import { API, type ListedInvestigations } from '@apokinema/core/api'
import { edit, edits, type Investigation } from '@apokinema/core/investigation'
import { full } from '@apokinema/core/testing/built'
import { IS_SLOW } from '@apokinema/core/testing/extent'
import { builtIns, HostilePatches } from '@apokinema/core/testing/hostile'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { LOCAL_PERSON } from './people.ts'
import { clientOf, uuid } from './testing/client.ts'
import { type TestServer, testServer } from './testing/testServer.ts'

/** Requests that mean harm: whatever they say, the next person finds everything as it was. */

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server?.stop())

const send = (...asked: Parameters<ReturnType<typeof clientOf>['send']>) => clientOf(server).send(...asked)

/** Sends a body as it stands: JSON can say more than JavaScript's objects hold. */
const sendText = (path: string, body: string) =>
  fetch(server.origin + path, {
    method: 'POST',
    headers: { Origin: server.origin, 'Content-Type': 'application/json' },
    body,
  })

async function made(document: Investigation = full()): Promise<string> {
  const id = uuid()
  const answer = await send('POST', API.investigations, { id, title: document.title, document })
  expect(answer.status).toBe(201)
  return id
}

/** That the list and the investigation are answered, and saved work goes on. */
async function expectAllWell(id: string) {
  expect((await send('GET', API.investigations)).status).toBe(200)
  const answer = await send('GET', API.investigation(id))
  expect(answer.status).toBe(200)
  const { version, document } = (await answer.json()) as { version: number; document: Investigation }
  const { patch } = edit(document, edits.setTitle(`Title ${version}`))
  expect((await send('POST', API.edits(id), { key: uuid(), base: version, patch })).status).toBe(200)
}

describe('patches', () => {
  it('that mean harm are refused or taken, and nobody else is harmed', async () => {
    const hostile = new HostilePatches(2718)
    const born = builtIns()
    let id = await made()
    let [version, document] = [1, full()]
    let taken = 0
    for (let n = 0; n < (IS_SLOW ? 5000 : 200); n++) {
      if (n % 40 === 39) {
        id = await made()
        ;[version, document] = [1, full()]
      }
      const patch = hostile.next(document)
      const body = JSON.stringify({ key: uuid(), base: version, patch })
      const answer = await sendText(API.edits(id), body)
      // 400: what can't be read at all, for its names.
      expect([200, 400, 409, 422], body).toContain(answer.status)
      expect(
        builtIns().every((one, i) => Object.is(one, born[i])),
        body,
      ).toBe(true)
      const opened = await send('GET', API.investigation(id))
      expect(opened.status, body).toBe(200)
      ;({ version, document } = (await opened.json()) as { version: number; document: Investigation })
      if (answer.status === 200) taken++
      else expect((await answer.json()) as { detail: string }).toMatchObject({ detail: expect.any(String) })
    }
    expect(taken).toBeGreaterThan(0)
    await expectAllWell(id)
  })

  it.each([
    ['a function that all objects share', [{ op: 'add', path: '/bodies/hasOwnProperty/call', value: 1 }]],
    ['what turns objects into text', [{ op: 'add', path: '/bodies/toString/call', value: 1 }]],
    ['what turns a title into text', [{ op: 'add', path: '/title/toString/call', value: 1 }]],
    ['the length of a list', [{ op: 'replace', path: '/footage/ticks/runs/length', value: 4_294_967_295 }]],
    [
      'the length of a list of repeats',
      [
        { op: 'replace', path: '/timing/repeats', value: { frames: [3], use: 'keep', originalRate: null } },
        { op: 'replace', path: '/timing/repeats/frames/length', value: 9 },
      ],
    ],
    ['half a character', [{ op: 'replace', path: '/title', value: 'half \ud83d' }]],
    ['a NUL', [{ op: 'replace', path: '/title', value: 'nul \u0000' }]],
  ])('to %s are refused in a sentence', async (_, patch) => {
    const id = await made()
    const answer = await send('POST', API.edits(id), { key: uuid(), base: 1, patch })
    expect(answer.status).toBe(422)
    expect(await answer.json()).toMatchObject({
      code: 'edit-refused',
      detail: expect.stringMatching(/refused/),
    })
    await expectAllWell(id)
  })

  it('with an axis that ends nowhere are refused', async () => {
    const id = await made()
    const [graph] = Object.keys(full().graphs)
    const path = `/graphs/${graph}/scaleY/to`
    const body = `{"key":"${uuid()}","base":1,"patch":[{"op":"replace","path":"${path}","value":1e400}]}`
    expect((await sendText(API.edits(id), body)).status).toBe(422)
    await expectAllWell(id)
  })
})

describe('documents from elsewhere', () => {
  it.each<[string, (document: Record<string, unknown>) => void]>([
    ['is of an older form that it does not keep to', (d) => Object.assign(d, { version: 2, axes: null })],
    ['is of a form before all others', (d) => Object.assign(d, { version: -1e9 })],
    ['is of half a form', (d) => Object.assign(d, { version: 2.5 })],
    ['has a title of half a character', (d) => Object.assign(d, { bodies: { a: '\ud83d' } })],
    ['holds a name that all objects have', (d) => Object.assign(d, { constants: { toString: {} } })],
    [
      'says nothing',
      (d) => {
        for (const name of Object.keys(d)) delete d[name]
      },
    ],
  ])('one that %s is refused in a sentence', async (_, spoil) => {
    const document = JSON.parse(JSON.stringify(full())) as Record<string, unknown>
    spoil(document)
    const answer = await send('POST', API.investigations, { id: uuid(), title: 'Elsewhere', document })
    expect(answer.status).toBe(422)
    expect(await answer.json()).toMatchObject({ detail: expect.stringMatching(/refused|no investigation/) })
    expect((await send('GET', API.investigations)).status).toBe(200)
  })
})

describe('investigations from one file', () => {
  it('that are spoilt are refused, or open and can be edited; nothing of those refused is left', async () => {
    const hostile = new HostilePatches(1618)
    const born = builtIns()
    const sound = await made()
    const answers = new Map<number, number>()
    for (let n = 0; n < (IS_SLOW ? 600 : 60); n++) {
      const id = uuid()
      const body = JSON.stringify({ id, title: 'From a file', document: hostile.spoiltDocument(full()) })
      const answer = await sendText(API.investigations, body)
      // 400: what can't be read at all, for its names; 409: of a newer version.
      expect([201, 400, 409, 422], body).toContain(answer.status)
      answers.set(answer.status, (answers.get(answer.status) ?? 0) + 1)
      expect(
        builtIns().every((one, i) => Object.is(one, born[i])),
        body,
      ).toBe(true)
      if (answer.status === 201) await expectAllWell(id)
      else {
        expect(await answer.json()).toMatchObject({ code: expect.any(String), detail: expect.any(String) })
        expect((await send('GET', API.investigation(id))).status).toBe(404)
      }
    }
    expect(answers.get(422)).toBeGreaterThan(20)
    await expectAllWell(sound)
  })
})

describe('an investigation whose document can’t be read', () => {
  it('stands in the list as such and hides no other; its last readable state can be copied, all of it saved', async () => {
    const other = await made()
    const id = await made()
    const { patch } = edit(full(), edits.setTitle('Still sound'))
    expect((await send('POST', API.edits(id), { key: uuid(), base: 1, patch })).status).toBe(200)
    // As a fault of ours would leave it behind.
    const { database } = server.services
    await database('revisions').insert({
      investigation_id: id,
      version: 3,
      key: uuid(),
      author_id: LOCAL_PERSON.id,
      patch: JSON.stringify([{ op: 'replace', path: '/bodies', value: 7 }]),
    })
    await database('investigations').where({ id }).update({ version: 3, summary: null })

    const { investigations } = (await (await send('GET', API.investigations)).json()) as ListedInvestigations
    expect(investigations.find((one) => one.id === id)).toMatchObject({ title: 'Still sound', summary: null })
    expect(investigations.find((one) => one.id === other)).toMatchObject({ summary: { bodies: 1 } })
    const answer = await send('GET', API.investigation(id))
    expect(answer.status).toBe(409)
    expect(await answer.json()).toMatchObject({ code: 'unreadable-document' })
    const copy = uuid()
    expect((await send('POST', API.copies(id), { id: copy, readable: true })).status).toBe(201)
    expect(await (await send('GET', API.investigation(copy))).json()).toMatchObject({
      document: { title: 'Still sound, copy', bodies: full().bodies },
    })
    const stored = (await (await send('GET', API.stored(id))).json()) as Record<string, unknown[]>
    expect([stored.snapshots, stored.revisions].map((all) => all.length)).toEqual([1, 2])
    expect((await send('DELETE', API.investigation(id))).status).toBe(204)
  })

  it('is not made by an edit: what the list shows is derived before anything is stored', async () => {
    const id = await made()
    const runs = [{ op: 'replace', path: '/footage/ticks/runs', value: [[1, 999_998]] }]
    expect((await send('POST', API.edits(id), { key: uuid(), base: 1, patch: runs })).status).toBe(200)
    await expectAllWell(id)
  })
})

describe('a server that starts again', () => {
  it('finds every document as it was, out of its snapshots and the patches since', async () => {
    const id = await made()
    let [version, document] = [1, full()]
    for (let n = 0; n < 120; n++) {
      const edited = edit(
        document,
        edits.setMark(Object.keys(document.bodies)[0], 13 + n, { x: n, y: 2 * n }),
      )
      const answer = await send('POST', API.edits(id), { key: uuid(), base: version, patch: edited.patch })
      expect(answer.status).toBe(200)
      version++
      document = edited.document
    }
    await server.restart()
    expect(await (await send('GET', API.investigation(id))).json()).toMatchObject({ version, document })
    await expectAllWell(id)
  })
})

describe('titles', () => {
  it('are copied between two emoji, not through one', async () => {
    const id = await made({ ...full(), title: `x${'🪁'.repeat(99)}` })
    const copy = uuid()
    const answer = await send('POST', API.copies(id), { id: copy })
    expect(answer.status).toBe(201)
    expect(await answer.json()).toMatchObject({ document: { title: `x${'🪁'.repeat(94)}, copy` } })
  })
})
