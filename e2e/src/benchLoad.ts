import { randomUUID } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { Agent, request } from 'node:http'
import { setTimeout as wait } from 'node:timers/promises'
import { API, type EditAnswer } from '@apokinema/core/api'
import {
  edit,
  edits,
  type Investigation,
  type Mutator,
  newInvestigation,
} from '@apokinema/core/investigation'
import { clientOf } from '@apokinema/server/testing/client'
import { milliseconds, quantile } from './benchFigures.ts'
import type { ServerProcess } from './serverProcess.ts'

/** How many people a server holds, for `npm run bench -- load`. */

type Note = (what: string, value: string) => void

const PEOPLE = 300
const MARKS = 300
/** Seconds of work before anything is measured, of the main measurement, and of each step towards the highest rate. */
const SECONDS = { warm: 15, main: 120, step: 15 }
/** Milliseconds that nineteen of twenty edits may take. */
const MOST = 100

const agent = new Agent({ keepAlive: true, maxSockets: 400 })

interface Answered {
  status: number
  body: Buffer
  /** Milliseconds until the first byte of the body, and until the last one. */
  first: number
  all: number
}

/** @param keeps whether the answer's body is kept: 50 clips at once would keep the bench busy, not the server */
function ask(
  server: ServerProcess,
  method: string,
  path: string,
  body?: string,
  keeps = true,
): Promise<Answered> {
  const began = performance.now()
  return new Promise((resolve, reject) => {
    const asked = request(
      {
        agent,
        method,
        path,
        host: '127.0.0.1',
        port: server.port,
        headers: { Origin: server.origin, 'Content-Type': 'application/json' },
      },
      (answer) => {
        const parts: Buffer[] = []
        let first = 0
        answer.on('data', (part: Buffer) => {
          if (first === 0) first = performance.now() - began
          if (keeps) parts.push(part)
        })
        answer.once('error', reject)
        answer.once('end', () =>
          resolve({
            status: answer.statusCode!,
            body: Buffer.concat(parts),
            first,
            all: performance.now() - began,
          }),
        )
      },
    )
    asked.once('error', reject)
    asked.end(body)
  })
}

/** Returns an investigation with so many marks on so many bodies. */
function marked(bodies: number, marks: number): { document: Investigation; body: string } {
  const mutator: Mutator = (draft) => {
    edits.setFootage({
      id: randomUUID(),
      name: 'quay.mp4',
      size: 1000,
      width: 1280,
      height: 720,
      timeBase: { numerator: 1, denominator: 15360 },
      ticks: { first: 0, runs: [[256, marks]] },
      rotation: 0,
      notedCaptureRate: null,
      converted: false,
    })(draft)
    for (let n = 0; n < bodies; n++) {
      const id = randomUUID()
      edits.addBody(id, { position: randomUUID(), velocity: randomUUID() }, `Float ${n + 1}`)(draft)
      for (let frame = 0; frame < marks; frame++)
        draft.bodies[id].marks[frame] = { x: 400 + frame / 7, y: 300 + 20 * Math.sin(frame / 40), by: 'hand' }
    }
  }
  const { document } = edit(newInvestigation('Net float'), mutator)
  return { document, body: Object.keys(document.bodies)[0] }
}

async function make(server: ServerProcess, document: Investigation): Promise<string> {
  const id = randomUUID()
  const made = await ask(
    server,
    'POST',
    API.investigations,
    JSON.stringify({ id, title: document.title, document }),
  )
  if (made.status !== 201) throw new Error(made.body.toString())
  return id
}

/** One person at work: an edit after the other, each based on the answer to the one before. */
class Person {
  private version = 1
  private count = 0

  constructor(
    private readonly server: ServerProcess,
    private readonly id: string,
    private readonly body: string,
  ) {}

  /** Moves a mark; returns the time until it is saved in milliseconds. Retries on 503, as the page does. */
  async edit(): Promise<number> {
    const path = `/bodies/${this.body}/marks/${this.count % MARKS}/x`
    const patch = [{ op: 'replace', path, value: 100 + this.count++ }]
    const body = JSON.stringify({ key: randomUUID(), base: this.version, patch })
    const began = performance.now()
    for (;;) {
      const { status, body: answer } = await ask(this.server, 'POST', API.edits(this.id), body)
      if (status === 200) {
        this.version = (JSON.parse(answer.toString()) as EditAnswer).version
        return performance.now() - began
      }
      if (status !== 503) throw new Error(answer.toString())
      await wait(500)
    }
  }
}

/** Everybody edits so often a second for so long; how long edits took, and how many were not sent in time at the end. */
async function work(people: Person[], perSecond: number, seconds: number) {
  const took: number[] = []
  let behind = 0
  const pause = (1000 * people.length) / perSecond
  const end = performance.now() + 1000 * seconds
  await Promise.all(
    people.map(async (person, n) => {
      let next = performance.now() + (pause * n) / people.length
      while (next < end) {
        await wait(Math.max(0, next - performance.now()))
        took.push(await person.edit())
        next += pause
        if (next >= end && performance.now() > next) behind++
      }
    }),
  )
  return { took, behind }
}

const memoryOf = (server: ServerProcess) =>
  Number(/VmRSS:\s+(\d+) kB/.exec(readFileSync(`/proc/${server.serverPid}/status`, 'utf8'))![1]) / 1024

/** Returns the longest that somebody else waits for a small answer while something large is done. */
async function waitOfOthers(server: ServerProcess, act: () => Promise<unknown>) {
  let isOver = false
  const waits: number[] = []
  const asking = (async () => {
    while (!isOver) {
      waits.push((await ask(server, 'GET', API.alive)).all)
      await wait(5)
    }
  })()
  const began = performance.now()
  await act()
  const took = performance.now() - began
  isOver = true
  await asking
  return `${milliseconds(Math.max(...waits))} (it took ${(took / 1000).toFixed(1)} s)`
}

async function benchWaits(server: ServerProcess, note: Note): Promise<void> {
  const [small, large, largest] = [marked(1, 300), marked(10, 3000), marked(10, 9900)]
  for (const [name, { document, body }] of Object.entries({
    '300 marks': small,
    '30,000 marks': large,
    '99,000 marks': largest,
  })) {
    const text = JSON.stringify({ id: randomUUID(), title: 'Large', document })
    note(
      `longest wait of others while ${name} are imported`,
      await waitOfOthers(server, () => ask(server, 'POST', API.investigations, text)),
    )
    const id = await make(server, document)
    const person = new Person(server, id, body)
    const took: number[] = []
    for (let n = 0; n < 120; n++) took.push(await person.edit())
    note(
      `… an edit of it, p50 and p95`,
      `${milliseconds(quantile(took, 0.5))}, ${milliseconds(quantile(took, 0.95))}`,
    )
    await server.restart()
    note(
      '… it is opened after a restart',
      await waitOfOthers(server, () => ask(server, 'GET', API.investigation(id))),
    )
    note(
      '… it is opened once more',
      await waitOfOthers(server, () => ask(server, 'GET', API.investigation(id))),
    )
    note('… it is packed', await waitOfOthers(server, () => ask(server, 'GET', API.packed(id))))
  }
}

async function benchEditing(server: ServerProcess, note: Note): Promise<void> {
  const { document, body } = marked(1, MARKS)
  const people: Person[] = []
  for (let n = 0; n < PEOPLE; n++) people.push(new Person(server, await make(server, document), body))
  await work(people, PEOPLE / 3, SECONDS.warm)
  const memory = [memoryOf(server)]
  const watch = setInterval(() => memory.push(memoryOf(server)), 10_000)
  const { took, behind } = await work(people, PEOPLE, SECONDS.main)
  clearInterval(watch)
  note(
    `${PEOPLE} people, an edit a second each, ${SECONDS.main} s: p50, p95, longest`,
    [0.5, 0.95, 1].map((q) => milliseconds(quantile(took, q))).join(', '),
  )
  note('… edits, and people behind at the end', `${took.length}, ${behind}`)
  note('… memory of the server on the way', `${memory.map((one) => one.toFixed(0)).join(', ')} MB`)
  let held = 0
  let missed = ''
  for (let rate = PEOPLE; rate <= 3000 && !missed; rate += 100) {
    const { took, behind } = await work(people, rate, SECONDS.step)
    const late = quantile(took, 0.95)
    if (late > MOST || behind > 0) missed = `${rate}: p95 ${milliseconds(late)}, ${behind} people behind`
    else held = rate
  }
  note(`highest rate with p95 under ${MOST} ms and nobody behind`, `${held} edits a second (at ${missed})`)
}

/** 50 people open one clip of 8 MB at once. */
async function benchClip(server: ServerProcess, note: Note): Promise<void> {
  const id = await make(server, newInvestigation('Net float'))
  const clip = Buffer.alloc(8_000_000, 7)
  clip.write('\0\0\0\x10ftypisom', 'latin1')
  const footage = randomUUID()
  const claimed = await clientOf(server).claim(id, footage, clip)
  if (claimed.status !== 201) throw new Error(await claimed.text())
  const opened = await Promise.all(
    Array.from({ length: 50 }, () => ask(server, 'GET', API.footage(id, footage), undefined, false)),
  )
  note(
    '50 people open one clip of 8 MB: first byte p50, p95; last byte p95',
    [
      quantile(
        opened.map(({ first }) => first),
        0.5,
      ),
      quantile(
        opened.map(({ first }) => first),
        0.95,
      ),
      quantile(
        opened.map(({ all }) => all),
        0.95,
      ),
    ]
      .map(milliseconds)
      .join(', '),
  )
}

export async function benchLoad(server: ServerProcess, note: Note): Promise<void> {
  await benchEditing(server, note)
  await benchClip(server, note)
  await benchWaits(server, note)
}
