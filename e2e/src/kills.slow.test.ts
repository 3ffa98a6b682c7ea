import { randomUUID } from 'node:crypto'
import { readdirSync } from 'node:fs'
import { join } from 'node:path'
import { API, type ConversionAnswer, type EditAnswer, type OpenedInvestigation } from '@apokinema/core/api'
import { clientOf } from '@apokinema/server/testing/client'
import { Movies } from '@apokinema/server/testing/movies'
import pg from 'pg'
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { ServerProcess } from './serverProcess.ts'

/** Servers and PostgreSQL are killed again and again while people edit, upload and have films converted. */

const ROUNDS = 100
/** Edits that are acknowledged between two kills. */
const EDITS = 25

const movies = new Movies()
let first: ServerProcess

beforeAll(() => {
  movies.make('quay.avi', '-c:v mjpeg -t 0.4')
})
beforeEach(async () => {
  first = await ServerProcess.start()
})
afterEach(() => first?.stop())
afterAll(() => movies.remove())

/** Somebody whose edits are sent until they are acknowledged, the way the page does. */
class Person {
  readonly acknowledged: string[] = []
  private version = 1
  isOver = false

  constructor(
    private readonly id: string,
    private readonly servers: ServerProcess[],
  ) {}

  async edit(): Promise<void> {
    const key = randomUUID()
    const patch = [{ op: 'replace', path: '/title', value: `Throw ${this.acknowledged.length + 1}` }]
    for (let tries = 0; ; tries++) {
      const server = this.servers[(this.acknowledged.length + tries) % this.servers.length]
      const answer = await clientOf(server)
        .send('POST', API.edits(this.id), { key, base: this.version, patch })
        .catch(() => null)
      if (answer?.status === 200) {
        this.version = ((await answer.json()) as EditAnswer).version
        this.acknowledged.push(key)
        return
      }
      // Away: 503 by a server whose database is gone, or none at all. All else is a fault.
      if (answer && answer.status !== 503) throw new Error(`${answer.status}: ${await answer.text()}`)
      await new Promise((resolve) => setTimeout(resolve, 20))
    }
  }

  async work(): Promise<void> {
    while (!this.isOver) await this.edit()
  }
}

/** Uploads a film for conversion, however often the line breaks. */
async function convert(server: ServerProcess): Promise<{ id: string; footage: string }> {
  const body = Buffer.concat([movies.read('quay.avi'), Buffer.from(randomUUID())])
  const [id, footage] = [randomUUID(), randomUUID()]
  for (;;) {
    try {
      await clientOf(server).send('POST', API.investigations, { id, title: 'Quay' })
      const answer = await clientOf(server).claim(id, footage, body, { kind: 'video', name: 'quay.avi' })
      if (answer.status === 201) return { id, footage }
    } catch {
      // Killed in the middle.
    }
    await new Promise((resolve) => setTimeout(resolve, 50))
  }
}

async function revisions(id: string): Promise<{ version: number; key: string }[]> {
  const client = new pg.Client({ connectionString: first.databaseUrl })
  await client.connect()
  try {
    const { rows } = await client.query(
      'select version, key from revisions where investigation_id = $1 order by version',
      [id],
    )
    return rows
  } finally {
    await client.end()
  }
}

/** Kills one after the other, in so many rounds, while edits and conversions go on; then looks at what is there. */
async function rounds(servers: ServerProcess[]): Promise<void> {
  const ids = Array.from({ length: 4 }, () => randomUUID())
  for (const id of ids) await clientOf(first).send('POST', API.investigations, { id, title: 'Net float' })
  const people = ids.map((id) => new Person(id, servers))
  const working = people.map((person) => person.work())
  const conversions: Promise<{ id: string; footage: string }>[] = []
  const acknowledged = () => people.reduce((sum, person) => sum + person.acknowledged.length, 0)
  for (let round = 0; round < ROUNDS; round++) {
    const before = acknowledged()
    await expect.poll(acknowledged, { timeout: 60_000, interval: 10 }).toBeGreaterThan(before + EDITS)
    if (round % 10 === 0) conversions.push(convert(servers[conversions.length % servers.length]))
    if (round % 5 === 4) {
      await first.killDatabase()
      await first.reviveDatabase()
      for (const other of servers.slice(1)) await other.restart()
    } else {
      const killed = servers[round % servers.length]
      await killed.killServer()
      await killed.startServer()
    }
  }
  for (const person of people) person.isOver = true
  await Promise.all(working)

  for (const [i, id] of ids.entries()) {
    const stored = await revisions(id)
    expect(stored.map(({ key }) => key)).toEqual(people[i].acknowledged)
    expect(stored.map(({ version }) => version)).toEqual(stored.map((_, at) => at + 2))
    const { document, version } = (await (
      await clientOf(first).send('GET', API.investigation(id))
    ).json()) as OpenedInvestigation
    expect(document.title).toBe(`Throw ${people[i].acknowledged.length}`)
    expect(version).toBe(people[i].acknowledged.length + 1)
  }
  for (const { id, footage } of await Promise.all(conversions)) {
    const state = async () =>
      ((await (await clientOf(first).send('GET', API.conversion(id))).json()) as ConversionAnswer).state
    await expect.poll(state, { timeout: 120_000, interval: 500 }).toBe('done')
    expect((await clientOf(first).send('GET', API.footage(id, footage))).status).toBe(200)
  }
  console.log(`${acknowledged()} edits and ${conversions.length} conversions through ${ROUNDS} kills`)
}

describe('through a hundred kills nothing is lost, and nothing done twice', () => {
  it('with one server', async () => {
    await rounds([first])
  })

  it('with two servers on one database, and what killed ones left is tidied', async () => {
    const second = await first.beside()
    try {
      await rounds([first, second])
      // Those that ended are struck off after some seconds, and their folders go with the next look.
      const folders = () => readdirSync(join(first.footageFolder, 'incoming'))
      await expect
        .poll(
          async () => {
            await second.restart()
            return folders().length
          },
          { timeout: 120_000, interval: 5000 },
        )
        .toBe(2)
    } finally {
      await second.stopServer()
    }
  })
})
