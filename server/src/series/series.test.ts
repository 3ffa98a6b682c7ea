import {
  API,
  type EditAnswer,
  type ListedInvestigations,
  type ListedSeries,
  MOST_TRIALS_AT_ONCE,
  type OpenedInvestigation,
  type OpenedSeries,
  type TrialEditAnswers,
} from '@apokinema/core/api'
import { PACKED_ENTRY, readPacked } from '@apokinema/core/formats'
import { edit, type Mutator } from '@apokinema/core/investigation'
import { newSeries, readSeries, SERIES_VERSION, type Series, seriesEdits } from '@apokinema/core/series'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { LOCAL_PERSON } from '../people.ts'
import { clientOf, uuid } from '../testing/client.ts'
import { type TestServer, testServer } from '../testing/testServer.ts'
import { entriesOf } from '../testing/zips.ts'

let server: TestServer

beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server?.stop())

const send = (...asked: Parameters<ReturnType<typeof clientOf>['send']>) => clientOf(server).send(...asked)

async function newInvestigation(title = 'Throw'): Promise<string> {
  const id = uuid()
  expect((await send('POST', API.investigations, { id, title })).status).toBe(201)
  return id
}

/** Creates a series with these trials. */
async function newSeriesOf(...trials: string[]): Promise<string> {
  const id = uuid()
  const document = trials.reduce(
    (series, trial) => edit(series, seriesEdits.addTrial(trial)).document,
    newSeries('Throws'),
  )
  expect((await send('POST', API.allSeries, { id, document })).status).toBe(201)
  return id
}

const open = async (id: string) => (await (await send('GET', API.series(id))).json()) as OpenedSeries

/** Sends an edit of the newest state, or of an older one. */
async function change(
  id: string,
  mutator: Mutator<Series>,
  { base, key = uuid() }: { base?: number; key?: string } = {},
) {
  const opened = await open(id)
  const { patch } = edit(opened.document, mutator)
  return send('POST', API.seriesEdits(id), { key, base: base ?? opened.version, patch })
}

const codeOf = async (answer: Response) => ((await answer.json()) as { code: string }).code

describe('a series in one file', () => {
  const packed = async (id: string) => {
    const answer = await send('GET', API.packedSeries(id))
    expect(answer.status).toBe(200)
    return entriesOf(Buffer.from(await answer.arrayBuffer()))
  }

  it('has the series, and each trial with its footage as an investigation that can be opened', async () => {
    const client = clientOf(server)
    const [first, second] = [await client.make('cart-at-5'), await client.make('cart-at-8')]
    const id = await newSeriesOf(first.id, second.id)
    const entries = await packed(id)
    expect([...entries.keys()]).toEqual([
      'series.json',
      `trials/1 ${first.document.title}.zip`,
      `trials/2 ${second.document.title}.zip`,
    ])
    expect(readSeries(JSON.parse(entries.get('series.json')!.toString()))).toEqual((await open(id)).document)
    const trial = await entriesOf(entries.get(`trials/2 ${second.document.title}.zip`)!)
    const { document, footage } = readPacked(trial.get(PACKED_ENTRY)!.toString())
    expect(document).toEqual(second.document)
    expect(trial.get(footage!)).toHaveLength(document.footage!.size)
  })

  it('has what is stored of a trial that can’t be read, and nothing of one that was deleted', async () => {
    const [odd, gone] = [await newInvestigation('Odd'), await newInvestigation('Gone')]
    const id = await newSeriesOf(odd, gone)
    const { database } = server.services
    const patch = JSON.stringify([{ op: 'replace', path: '/bodies', value: 7 }])
    const author_id = LOCAL_PERSON.id
    await database('revisions').insert({ investigation_id: odd, version: 2, key: uuid(), author_id, patch })
    await database('investigations').where({ id: odd }).update({ version: 2, summary: null })
    await send('DELETE', API.investigation(gone))
    const entries = await packed(id)
    expect([...entries.keys()]).toEqual(['series.json', 'trials/1 Odd.zip'])
    const trial = await entriesOf(entries.get('trials/1 Odd.zip')!)
    expect(JSON.parse(trial.get('stored.json')!.toString())).toMatchObject({ title: 'Odd', version: 2 })
  })

  it('can be one without trials, and is no other than one’s own', async () => {
    expect([...(await packed(await newSeriesOf())).keys()]).toEqual(['series.json'])
    expect((await send('GET', API.packedSeries(uuid()))).status).toBe(404)
  })
})

describe('a series', () => {
  it('is kept with its trials in order, listed, edited and read back after a restart', async () => {
    const [first, second] = [await newInvestigation('First'), await newInvestigation('Second')]
    const id = await newSeriesOf(first, second)
    expect((await change(id, seriesEdits.setTitle('Three throws'))).status).toBe(200)
    await server.restart()
    const { document, version, trials } = await open(id)
    expect([document.title, version]).toEqual(['Three throws', 2])
    expect(trials.map(({ title }) => title)).toEqual(['First', 'Second'])
    const listed = (await (await send('GET', API.allSeries)).json()) as ListedSeries[]
    expect(listed.find((one) => one.id === id)).toMatchObject({ title: 'Three throws', count: 2 })
    const { investigations } = (await (await send('GET', API.investigations)).json()) as ListedInvestigations
    expect(investigations.find((one) => one.id === first)?.series).toBe(id)
  })

  it('takes an edit once, rebases one of an older state, and refuses one that meets another', async () => {
    const id = await newSeriesOf()
    const key = uuid()
    const column = (name: string) =>
      seriesEdits.setColumn(uuid(), { name, symbol: name, unit: '', content: { kind: 'word' } })
    expect((await change(id, column('surface'), { key, base: 1 })).status).toBe(200)
    const again = (await (await change(id, column('surface'), { key, base: 1 })).json()) as EditAnswer
    expect(again.version).toBe(2)
    const rebased = await change(id, seriesEdits.setTitle('Ice'), { base: 1 })
    expect(((await rebased.json()) as EditAnswer).since).toHaveLength(1)
    const meeting = await change(id, seriesEdits.setTitle('Boards'), { base: 1 })
    expect([meeting.status, await codeOf(meeting)]).toEqual([409, 'edit-conflict'])
    const { document, version } = await open(id)
    expect([document.title, Object.keys(document.columns).length, version]).toEqual(['Ice', 1, 3])
    expect(await codeOf(await change(id, seriesEdits.setTitle('Later'), { base: 9 }))).toBe('unknown-version')
  })

  it('shares no trial with another one, and takes nobody’s', async () => {
    const trial = await newInvestigation()
    const [mine, other] = [await newSeriesOf(trial), await newSeriesOf()]
    expect(await codeOf(await change(other, seriesEdits.addTrial(trial)))).toBe('in-another-series')
    expect(await codeOf(await change(other, seriesEdits.addTrial(uuid())))).toBe('edit-refused')
    expect((await open(other)).version).toBe(1)
    await change(mine, seriesEdits.removeTrial(trial))
    expect((await change(other, seriesEdits.addTrial(trial))).status).toBe(200)
    expect((await open(other)).trials).toHaveLength(1)
  })

  it('gives a trial to one of two that ask at once', async () => {
    const trial = await newInvestigation()
    const both = [await newSeriesOf(), await newSeriesOf()]
    const answers = await Promise.all(both.map((id) => change(id, seriesEdits.addTrial(trial))))
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 409])
  })

  it('goes on without a trial that is deleted or erased, and has it again when it is restored', async () => {
    const [first, second] = [await newInvestigation(), await newInvestigation()]
    const id = await newSeriesOf(first, second)
    await send('DELETE', API.investigation(first))
    expect((await open(id)).trials.map((trial) => trial.id)).toEqual([second])
    await send('POST', API.restored(first))
    expect((await open(id)).trials).toHaveLength(2)
    await server.services.database('investigations').where({ id: first }).delete()
    expect((await change(id, seriesEdits.leaveOut(first, 'It is gone.'))).status).toBe(200)
    expect((await open(id)).trials.map((trial) => trial.id)).toEqual([second])
  })

  it('that is deleted leaves its investigations, and takes back those that are free when it is restored', async () => {
    const [first, second] = [await newInvestigation(), await newInvestigation()]
    const id = await newSeriesOf(first, second)
    expect((await send('DELETE', API.series(id))).status).toBe(204)
    expect((await send('GET', API.series(id))).status).toBe(404)
    await newSeriesOf(first)
    expect((await send('POST', API.seriesRestored(id))).status).toBe(204)
    expect((await open(id)).trials.map((trial) => trial.id)).toEqual([second])
    const later = new Date(Date.now() + 31 * 86_400_000)
    await send('DELETE', API.series(id))
    await server.services.series.sweep(later)
    expect((await send('POST', API.seriesRestored(id))).status).toBe(404)
  })

  it('sends the investigations that are asked for, and no others', async () => {
    const [first, stranger] = [await newInvestigation('Asked'), await newInvestigation()]
    const id = await newSeriesOf(first)
    const answer = await send('GET', `${API.trials(id)}?ids=${first},${stranger},nonsense`)
    const opened = (await answer.json()) as { id: string; document: { title: string } }[]
    expect(opened.map((one) => [one.id, one.document.title])).toEqual([[first, 'Asked']])
  })

  it('takes edits of several trials at once, each as if it had come alone, and once', async () => {
    const [first, second, third, stranger] = [
      await newInvestigation('First'),
      await newInvestigation('Second'),
      await newInvestigation('Third'),
      await newInvestigation('Stranger'),
    ]
    const id = await newSeriesOf(first, second, third)
    const renamed = (trial: string, title: string, base = 1) => ({
      id: trial,
      key: uuid(),
      base,
      patch: [{ op: 'replace', path: '/title', value: title }],
    })
    const list = [
      renamed(first, 'Changed'),
      renamed(stranger, 'Not of it'),
      { ...renamed(third, 'Odd'), patch: [{ op: 'replace', path: '/title', value: 7 }] },
      renamed(third, 'Of a later version', 5),
      renamed(second, 'Changed, too'),
    ]
    const sendList = async () =>
      (await (await send('POST', API.trialEdits(id), list)).json()) as TrialEditAnswers
    const what = (answers: TrialEditAnswers) =>
      answers.map((answer) => ('code' in answer ? answer.code : answer.version))
    const expected = [2, 'not-found', 'edit-refused', 'unknown-version', 2]
    expect(what(await sendList())).toEqual(expected)
    expect((await open(id)).trials.map(({ title, version }) => [title, version])).toEqual([
      ['Changed', 2],
      ['Changed, too', 2],
      ['Third', 1],
    ])
    const { document } = (await (
      await send('GET', API.investigation(stranger))
    ).json()) as OpenedInvestigation
    expect(document.title).toBe('Stranger')
  })

  it.each<[string, unknown]>([
    ['nothing', []],
    [
      'more than are taken at a time',
      Array.from({ length: MOST_TRIALS_AT_ONCE + 1 }, () => ({ id: uuid() })),
    ],
    ['no list', { id: uuid() }],
    ['numbers', [1, 2]],
    ['an id that is none', [{ id: 'first' }]],
  ])('refuses %s as edits of its trials', async (_, body) => {
    const id = await newSeriesOf(await newInvestigation())
    expect((await send('POST', API.trialEdits(id), body)).status).toBe(422)
  })

  it.each<[string, unknown]>([
    ['no document', {}],
    ['a newer form', { id: uuid(), document: { ...newSeries('Newer'), version: SERIES_VERSION + 1 } }],
    ['an unknown field', { id: uuid(), document: { ...newSeries('Odd'), owner: 'me' } }],
    ['a title of two lines', { id: uuid(), document: newSeries('two\nlines') }],
    ['a list', []],
  ])('with %s is refused, and nothing is kept', async (_, body) => {
    const before = ((await (await send('GET', API.allSeries)).json()) as ListedSeries[]).length
    expect((await send('POST', API.allSeries, body)).status).toBeGreaterThanOrEqual(400)
    expect(((await (await send('GET', API.allSeries)).json()) as ListedSeries[]).length).toBe(before)
  })
})
