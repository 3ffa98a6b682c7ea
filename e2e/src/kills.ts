import { randomUUID } from 'node:crypto'
import { API, type ConversionAnswer, type EditAnswer, type OpenedInvestigation } from '@apokinema/core/api'
import { clientOf } from '@apokinema/server/testing/client'
import { Movies } from '@apokinema/server/testing/movies'
import pg from 'pg'
import { expect } from 'vitest'
import type { ServerProcess } from './serverProcess.ts'

/** Kills servers and PostgreSQL again and again while clients edit, upload and convert. */

const ROUNDS = 100
/** Number of edits that are acknowledged between two kills. */
const EDITS = 25
/** Timeout of all rounds in milliseconds: each starts a server, on a machine that may be busy. */
export const ROUNDS_TIMEOUT = 3_600_000

/** A client that resends each edit until it is acknowledged, as the page does. */
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

/** Uploads a film for conversion, and goes on where the line breaks, as the page does. */
async function convert(server: ServerProcess, film: Buffer): Promise<{ id: string; footage: string }> {
  const body = Buffer.concat([film, Buffer.from(randomUUID())])
  const [id, footage] = [randomUUID(), randomUUID()]
  const { send, tus, begin, patch, claim } = clientOf(server)
  let path: string | null = null
  for (;;) {
    if (path === null) {
      const begun: Response | null = await begin(body.length).catch(() => null)
      if (begun && begun.status !== 201 && begun.status !== 503)
        throw new Error(`${begun.status}: ${await begun.text()}`)
      path = begun?.headers.get('location') ?? null
    }
    try {
      if (path !== null) {
        await send('POST', API.investigations, { id, title: 'Quay' })
        const held = await tus('HEAD', path, {})
        const arrived = Number(held.headers.get('upload-offset'))
        const upload = path.split('/').at(-1)!
        // It has been taken, and the answer was lost; or a crash left a piece of it.
        if (!held.ok) path = null
        else if (arrived < body.length) await patch(path, arrived, body.subarray(arrived))
        const answer = await claim(id, footage, body, { kind: 'video', name: 'quay.avi', upload })
        if (answer.status === 201) return { id, footage }
      }
    } catch {
      // Killed in the middle.
    }
    await new Promise((resolve) => setTimeout(resolve, 50))
  }
}

async function revisions(databaseUrl: string, id: string): Promise<{ version: number; key: string }[]> {
  const client = new pg.Client({ connectionString: databaseUrl })
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

/**
 * Kills a server or PostgreSQL in each of ROUNDS rounds while edits and conversions go on. Then expects that every
 * acknowledged edit is stored once, in order, and that every conversion is done.
 *
 * @param servers that share a database; the first one owns it
 */
export async function killInRounds(servers: ServerProcess[]): Promise<void> {
  const [first] = servers
  const movies = new Movies()
  movies.make('quay.avi', '-c:v mjpeg -t 0.4')
  const film = movies.read('quay.avi')
  movies.remove()
  const ids = Array.from({ length: 4 }, () => randomUUID())
  for (const id of ids) await clientOf(first).send('POST', API.investigations, { id, title: 'Net float' })
  const people = ids.map((id) => new Person(id, servers))
  const working = people.map((person) => person.work())
  const conversions: Promise<{ id: string; footage: string }>[] = []
  const acknowledged = () => people.reduce((sum, person) => sum + person.acknowledged.length, 0)
  for (let round = 0; round < ROUNDS; round++) {
    const before = acknowledged()
    await expect.poll(acknowledged, { timeout: 60_000, interval: 10 }).toBeGreaterThan(before + EDITS)
    if (round % 10 === 0) conversions.push(convert(servers[conversions.length % servers.length], film))
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
    const stored = await revisions(first.databaseUrl, id)
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
