import { API, type ListedTemplate } from '@apokinema/core/api'
import type { ReportTemplate } from '@apokinema/core/report'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { clientOf, uuid } from '../testing/client.ts'
import { type TestServer, testServer } from '../testing/testServer.ts'

let server: TestServer

beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server?.stop())

const send = (...asked: Parameters<ReturnType<typeof clientOf>['send']>) => clientOf(server).send(...asked)
const template = (name: string): ReportTemplate => ({
  name,
  blocks: [[uuid(), { kind: 'question', question: 'What slowed it?', answer: [] }]],
  named: {},
})
const listed = async () => (await (await send('GET', API.templates)).json()) as ListedTemplate[]

describe('templates of reports', () => {
  it('are kept, listed in the order of time, replaced, read back and deleted', async () => {
    const [first, second] = [uuid(), uuid()]
    const kept = template('Lab report of 10b')
    expect((await send('PUT', API.template(first), kept)).status).toBe(204)
    expect((await send('PUT', API.template(second), template('Short one'))).status).toBe(204)
    expect(await listed()).toEqual([
      { id: first, name: 'Lab report of 10b' },
      { id: second, name: 'Short one' },
    ])
    expect(await (await send('GET', API.template(first))).json()).toEqual(kept)
    expect((await send('PUT', API.template(first), { ...kept, name: 'Lab report' })).status).toBe(204)
    expect((await listed()).map(({ name }) => name)).toEqual(['Lab report', 'Short one'])
    expect((await send('DELETE', API.template(first))).status).toBe(204)
    expect((await send('GET', API.template(first))).status).toBe(404)
    expect((await listed()).map(({ name }) => name)).toEqual(['Short one'])
  })

  it('outlive the server', async () => {
    const id = uuid()
    await send('PUT', API.template(id), template('Kept'))
    await server.restart()
    expect((await listed()).map((one) => one.id)).toContain(id)
  })

  it('that are none are refused, and nothing is kept', async () => {
    const before = await listed()
    const good = template('Good')
    const bad: unknown[] = [
      {},
      [],
      { ...good, name: '' },
      { ...good, name: 'two\nlines' },
      { ...good, name: 'nul \u0000' },
      { ...good, blocks: [['no-id', good.blocks[0][1]]] },
      { ...good, named: { [uuid()]: { kind: 'constant', place: 0, traits: ['\u0000'] } } },
    ]
    for (const one of bad) expect((await send('PUT', API.template(uuid()), one)).status).toBe(422)
    expect((await send('PUT', API.template('x'), good)).status).toBe(404)
    expect(await listed()).toEqual(before)
  })

  it('are no more than a list can show', async () => {
    while ((await listed()).length < 100) await send('PUT', API.template(uuid()), template('One of many'))
    const refused = await send('PUT', API.template(uuid()), template('One too many'))
    expect(refused.status).toBe(409)
    const [{ id }] = await listed()
    expect((await send('PUT', API.template(id), template('Replaced'))).status).toBe(204)
  })
})
