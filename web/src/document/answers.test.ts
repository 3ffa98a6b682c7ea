import { API, type EditRequest } from '@apokinema/core/api'
import { readInvestigation } from '@apokinema/core/investigation'
import { randomSource } from '@apokinema/core/random'
import { IS_SLOW } from '@apokinema/core/testing/extent'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { client } from '../api/client.ts'
import { ServerInMemory } from '../testing/serverInMemory.ts'
import type { LocalRecord } from './localRecord.ts'
import { openSession } from './openSession.ts'

/** Returns what answers in the place of a server that is well: Apokinema with a problem, or something between it and the page. */
const problem = (status: number, code: string) =>
  new Response(
    JSON.stringify({ type: `urn:apokinema:${code}`, title: code, status, code, detail: `It said ${code}.` }),
    {
      status,
      headers: { 'Content-Type': 'application/problem+json' },
    },
  )
const page = (status: number) =>
  new Response('<!doctype html><title>Sign in</title>', { status, headers: { 'Content-Type': 'text/html' } })

const ANSWERS: (() => Response)[] = [
  ...[401, 403, 404, 405, 407, 409, 413, 421, 422, 429, 500, 502, 503, 200].map(
    (status) => () => page(status),
  ),
  () => problem(403, 'other-origin'),
  () => problem(409, 'edit-conflict'),
  () => problem(413, 'too-large'),
  () => problem(421, 'other-name'),
  () => problem(422, 'edit-refused'),
  () => problem(429, 'too-many'),
  () => problem(500, 'fault'),
  () => problem(503, 'database-away'),
  () => problem(507, 'disk-full'),
  () => new Response('{}', { status: 200 }),
  () => new Response('null', { status: 200 }),
]

/** Returns a server behind `fetch` that is well but for the next so many requests to save. */
function badTempered(random: () => number, disturbances: number) {
  const server = new ServerInMemory()
  let left = disturbances
  vi.stubGlobal('fetch', async (path: string, { method, body }: { method: string; body?: string }) => {
    if (method === 'GET' && path === API.investigation('a')) {
      return Response.json(server.open('a'))
    }
    const request = JSON.parse(body!) as EditRequest
    if (left > 0) {
      left--
      const kind = random()
      // The line is cut before the server has the edit, or after it has saved it.
      if (kind < 0.1) throw new TypeError('Failed to fetch')
      if (kind < 0.2) {
        server.edit(request)
        throw new TypeError('Failed to fetch')
      }
      if (kind < 0.75) return ANSWERS[Math.floor(random() * ANSWERS.length)]()
    }
    return Response.json(server.edit(request))
  })
  return server
}

afterEach(() => vi.unstubAllGlobals())

describe('whatever answers in the server’s place', () => {
  it('no edit vanishes without being shown, in random sequences of answers', async () => {
    let [aside, conflicts] = [0, 0]
    const sequences = IS_SLOW ? 1000 : 150
    for (let seed = 1; seed <= sequences; seed++) {
      const random = randomSource(seed)
      const server = badTempered(random, Math.floor(random() * 30))
      const kept = new Map<string, LocalRecord>()
      const session = await openSession('a', {
        client,
        localStore: {
          read: async (id) => structuredClone(kept.get(id)),
          write: async (id, record) => void kept.set(id, structuredClone(record)),
        },
        read: readInvestigation,
        wait: () => Promise.resolve(),
      })
      const made: string[] = []
      const constants: string[] = []
      for (let n = 0; n < 8; n++) {
        const label = `edit ${n}`
        // Some stand on one that was made before.
        const on = random() < 0.4 ? constants[Math.floor(random() * constants.length)] : undefined
        const id = on ?? `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`
        if (!on) constants.push(id)
        session.edit(label, (draft) => {
          if (on) draft.constants[id].name = label
          else draft.constants[id] = { order: n, name: label, value: 1, error: 0, unit: '' }
        })
        made.push(label)
        if (random() < 0.5) await Promise.resolve()
      }
      await vi.waitFor(
        async () => {
          const { save } = session.store.getState()
          if (save === 'conflict') {
            conflicts++
            await session.resolveConflict(true)
          }
          expect(save, `seed ${seed}`).toBe('saved')
        },
        { timeout: 20_000, interval: 1 },
      )
      const state = session.store.getState()
      const saved = JSON.stringify(server.patches)
      for (const label of made) {
        const isShown = state.aside.some((one) => one.label === label && one.why !== '')
        expect(saved.includes(`"${label}"`) || isShown, `seed ${seed}, ${label}`).toBe(true)
      }
      await vi.waitFor(() =>
        expect(session.store.getState().document, `seed ${seed}`).toEqual(server.document),
      )
      await vi.waitFor(() => expect(kept.get('a')).toMatchObject({ pending: [], aside: state.aside }))
      aside += state.aside.length
      session.close()
    }
    // Otherwise nothing was tried.
    expect(aside).toBeGreaterThan(sequences / 4)
    expect(conflicts).toBeGreaterThan(sequences / 4)
  })

  it.each([
    ['a page to sign in at', () => page(401), 'held'],
    ['a page to sign in at that says all is well', () => page(200), 'held'],
    ['a proxy that forbids it', () => page(403), 'held'],
    ['a proxy that counts requests', () => page(429), 'held'],
    ['a proxy without a server behind it', () => page(502), 'offline'],
    ['a full disk', () => problem(507, 'disk-full'), 'held'],
    ['a database that is away', () => problem(503, 'database-away'), 'offline'],
  ])('%s holds all that waits, and says so', async (_, answer, save) => {
    badTempered(Math.random, 0)
    const known = fetch
    let isWell = false
    vi.stubGlobal('fetch', (path: string, init: RequestInit) =>
      isWell || init.method === 'GET' ? known(path, init) : Promise.resolve(answer()),
    )
    const session = await openSession('a', {
      client,
      localStore: { read: async () => undefined, write: async () => {} },
      read: readInvestigation,
      wait: () => new Promise((resolve) => setTimeout(resolve, 1)),
    })
    for (let n = 0; n < 21; n++)
      session.edit('title', (draft) => {
        draft.title = `Title ${n}`
      })
    await vi.waitFor(() => expect(session.store.getState().save).toBe(save))
    expect(session.store.getState()).toMatchObject({
      failure: expect.stringMatching(/\w/),
      document: { title: 'Title 20' },
      aside: [],
    })
    isWell = true
    session.retryNow()
    await vi.waitFor(() => expect(session.store.getState()).toMatchObject({ save: 'saved', failure: null }))
    expect((await client.open('a')).document.title).toBe('Title 20')
  })
})
