import type { EditRequest, OpenedInvestigation } from '@apokinema/core/api'
import { edit, edits, FIRST_AXES, type Mutator, readInvestigation } from '@apokinema/core/investigation'
import { describe, expect, it, vi } from 'vitest'
import { AwayError, RefusedError } from '../api/client.ts'
import { ServerInMemory } from '../testing/serverInMemory.ts'
import type { LocalRecord } from './localRecord.ts'
import { openSession } from './openSession.ts'
import type { Session } from './session.ts'
import type { Reach } from './sessionState.ts'

/** Returns a server and a local store in memory that behave like the real ones. */
function world() {
  const server = Object.assign(new ServerInMemory(), {
    away: false,
    /** The answer to the next edit is lost on its way. */
    loseAnswer: false,
    refuse: null as RefusedError | null,
    /** A value at which the server makes a mistake each time. */
    breaksAt: null as unknown,
  })
  const kept = new Map<string, LocalRecord>()
  const reach: Reach = {
    client: {
      open: async (id): Promise<OpenedInvestigation> => {
        if (server.away) throw new AwayError('away')
        return server.open(id)
      },
      edit: async (_id, request: EditRequest) => {
        if (server.away) throw new AwayError('away')
        if (server.refuse) {
          const refusal = server.refuse
          server.refuse = null
          throw refusal
        }
        if (
          server.breaksAt !== null &&
          request.patch.some((one) => 'value' in one && one.value === server.breaksAt)
        )
          throw new AwayError('Something went wrong on the server.', 'fault')
        const answer = server.edit(request)
        if (server.loseAnswer) {
          server.loseAnswer = false
          throw new AwayError('lost')
        }
        return answer
      },
    },
    localStore: {
      read: async (id) => structuredClone(kept.get(id)),
      write: async (id, record) => void kept.set(id, structuredClone(record)),
    },
    read: readInvestigation,
    wait: () => new Promise((resolve) => setTimeout(resolve, 1)),
  }
  return { server, kept, reach }
}

const uuid = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`

/** Waits with patience: a shared machine can be slow for a while. */
const patiently = (check: () => void) => vi.waitFor(check, { timeout: 20_000 })

const settled = (session: Session, save = 'saved') =>
  patiently(() => expect(session.store.getState().save).toBe(save))

describe('session', () => {
  it('sends edits in order and says when they are saved', async () => {
    const { server, reach } = world()
    const session = await openSession('a', reach)
    session.edit('title', edits.setTitle('First'))
    session.edit('title', edits.setTitle('Second'))
    expect(session.store.getState()).toMatchObject({ save: 'saving', document: { title: 'Second' } })
    await settled(session)
    expect(server.document.title).toBe('Second')
    expect(server.version).toBe(3)
  })

  it('tells those who look at it of an edit and of its undoing once, and of one that changes nothing never', async () => {
    const session = await openSession('a', world().reach)
    const told = vi.fn()
    session.store.subscribe(told)
    session.edit('title', edits.setTitle('First'))
    expect(told).toHaveBeenCalledTimes(1)
    session.undo()
    expect(told).toHaveBeenCalledTimes(2)
    session.edit('title', edits.setTitle('Net float'))
    expect(told).toHaveBeenCalledTimes(2)
    await settled(session)
  })

  it('undoes edits that belong together in one step, also with another between the runs', async () => {
    const { server, reach } = world()
    const session = await openSession('a', reach)
    session.edit('follow', edits.setTitle('One'), 'run 1')
    session.edit('follow', edits.setTitle('Two'), 'run 1')
    session.edit('follow', edits.setTitle('Three'), 'run 1')
    session.edit('title', edits.setTitle('By hand'))
    session.edit('follow', edits.setTitle('Four'), 'run 1')
    session.undo()
    session.undo()
    expect(session.store.getState().document.title).toBe('Three')
    session.undo()
    expect(session.store.getState().document.title).toBe('Net float')
    expect(session.store.getState().undo).toEqual([])
    session.redo()
    await settled(session)
    expect(server.document.title).toBe('Three')
  })

  it('undoes and redoes, also after it was opened again', async () => {
    const { server, reach } = world()
    const session = await openSession('a', reach)
    session.edit('title', edits.setTitle('First'))
    session.edit('title', edits.setTitle('Second'))
    await settled(session)
    const again = await openSession('a', reach)
    again.undo()
    again.undo()
    expect(again.store.getState().document.title).toBe('Net float')
    again.redo()
    await settled(again)
    expect(server.document.title).toBe('First')
    expect(again.store.getState().redo).toHaveLength(1)
  })

  it('keeps edits while the server is away and delivers them later, once each', async () => {
    const { server, kept, reach } = world()
    const session = await openSession('a', reach)
    server.away = true
    for (let n = 0; n < 30; n++) session.edit('title', edits.setTitle(`Title ${n}`))
    await settled(session, 'offline')
    await patiently(() => expect(kept.get('a')!.pending).toHaveLength(30))
    session.close()

    const later = await openSession('a', reach)
    expect(later.store.getState().document.title).toBe('Title 29')
    server.away = false
    later.retryNow()
    await settled(later)
    expect(server.document.title).toBe('Title 29')
    expect(server.version).toBe(31)
  })

  it('keeps undo steps in the local store, also without a server', async () => {
    const { server, kept, reach } = world()
    const session = await openSession('a', reach)
    session.edit('title', edits.setTitle('First'))
    await settled(session)
    server.away = true
    session.undo()
    await patiently(() => expect(kept.get('a')).toMatchObject({ undo: [], redo: [{ label: 'title' }] }))
    session.close()
    const later = await openSession('a', reach)
    later.redo()
    expect(later.store.getState().document.title).toBe('First')
    later.close()
  })

  it('sends an edit again whose answer was lost, and it is applied once', async () => {
    const { server, reach } = world()
    const session = await openSession('a', reach)
    server.loseAnswer = true
    session.edit('title', edits.setTitle('Once'))
    await settled(session)
    expect(server.version).toBe(2)
  })

  it('takes in what others changed in between', async () => {
    const { server, reach } = world()
    const session = await openSession('a', reach)
    const theirs = edit(server.document, edits.setAxes({ tilt: 0.5 })).patch
    server.apply(theirs)
    session.edit('title', edits.setTitle('Mine'))
    await settled(session)
    expect(session.store.getState().document).toMatchObject({
      title: 'Mine',
      axes: { [FIRST_AXES]: { tilt: 0.5 } },
    })
  })

  it('stops at a conflict, keeps the edit, and lets the person choose', async () => {
    for (const mine of [true, false]) {
      const { server, kept, reach } = world()
      const session = await openSession('a', reach)
      server.refuse = new RefusedError(409, 'edit-conflict', 'changed elsewhere')
      session.edit('title', edits.setTitle('Mine'))
      await settled(session, 'conflict')
      await patiently(() => expect(kept.get('a')!.pending).toHaveLength(1))
      await session.resolveConflict(mine)
      await settled(session)
      expect(server.document.title).toBe(mine ? 'Mine' : 'Net float')
    }
  })

  it('sets aside an edit that the server refuses, keeps it, and goes on with the others', async () => {
    const { server, kept, reach } = world()
    const session = await openSession('a', reach)
    session.edit('unit', edits.setLengthUnit('cm'))
    await settled(session)
    server.refuse = new RefusedError(422, 'edit-refused', 'This change was refused.')
    session.edit('title', edits.setTitle('Bad'))
    session.edit('axes', edits.setAxes({ tilt: 0.5 }))
    await settled(session)
    const aside = [{ label: 'title', why: 'This change was refused.' }]
    expect(session.store.getState()).toMatchObject({
      document: { title: 'Net float', lengthUnit: 'cm', axes: { [FIRST_AXES]: { tilt: 0.5 } } },
      aside,
    })
    expect(server.document).toEqual(session.store.getState().document)
    // What came before can still be taken back.
    session.undo()
    session.undo()
    session.undo()
    await settled(session)
    expect(server.document.lengthUnit).toBe('m')
    // It is still there after a reload, and can be tried again.
    await patiently(() => expect(kept.get('a')).toMatchObject({ pending: [], aside }))
    const again = await openSession('a', reach)
    again.tryAgain(again.store.getState().aside[0].key)
    await settled(again)
    expect(server.document.title).toBe('Bad')
    expect(again.store.getState().aside).toEqual([])
  })

  it('tells which of its edits no longer fit a newer state, and keeps them', async () => {
    const { server, reach } = world()
    const [body, graphs] = [uuid(1), { position: uuid(2), velocity: uuid(3) }]
    const theirs = (mutator: Mutator) => {
      server.apply(edit(server.document, mutator).patch)
    }
    theirs(edits.addBody(body, graphs))
    const session = await openSession('a', reach)
    theirs(edits.removeBody(body))
    server.refuse = new RefusedError(409, 'edit-conflict', 'changed elsewhere')
    session.edit('mark', edits.setMark(body, 3, { x: 1, y: 2 }))
    session.edit('title', edits.setTitle('Mine'))
    await settled(session, 'conflict')
    await session.resolveConflict(true)
    await settled(session)
    expect(server.document).toMatchObject({ title: 'Mine', bodies: {} })
    expect(session.store.getState().aside).toMatchObject([{ label: 'mark', why: expect.any(String) }])
  })

  it('sets aside an edit at which the server breaks each time, and goes on', async () => {
    const { server, reach } = world()
    const session = await openSession('a', reach)
    server.breaksAt = 'Bad'
    session.edit('title', edits.setTitle('Bad'))
    session.edit('axes', edits.setAxes({ tilt: 0.5 }))
    await settled(session)
    expect(session.store.getState()).toMatchObject({
      document: { title: 'Net float', axes: { [FIRST_AXES]: { tilt: 0.5 } } },
      aside: [{ label: 'title', why: 'Something went wrong on the server.' }],
    })
  })

  it('asks for the server’s state where its answer does not fit what is known here', async () => {
    const { server, reach } = world()
    const session = await openSession('a', reach)
    const { edit: send } = reach.client
    reach.client.edit = async (...asked) => ({
      ...(await send(...asked)),
      since: [[{ op: 'remove', path: '/bodies/nobody' }]],
    })
    session.edit('title', edits.setTitle('Mine'))
    await settled(session)
    expect(session.store.getState()).toMatchObject({ document: { title: 'Mine' }, aside: [] })
    expect(server.version).toBe(2)
  })

  it('takes a run of 24,000 marks back as one change, and the steps before it stay', async () => {
    const { server, reach } = world()
    const session = await openSession('a', reach)
    const body = uuid(1)
    session.edit('add', edits.addBody(body, { position: uuid(2), velocity: uuid(3) }))
    for (let part = 0; part < 3; part++) {
      const found = Array.from({ length: 8000 }, (_, i) => [8000 * part + i, { x: i, y: part, certainty: 1 }])
      session.edit('follow', edits.setFollowed(body, Object.fromEntries(found)), 'run 1')
    }
    session.undo()
    await settled(session)
    expect(server.document.bodies[body].marks).toEqual({})
    expect(server.patches.at(-1)).toEqual([{ op: 'replace', path: `/bodies/${body}/marks`, value: {} }])
    session.redo()
    await settled(session)
    expect(Object.keys(server.document.bodies[body].marks)).toHaveLength(24_000)
    session.undo()
    session.undo()
    expect(session.store.getState()).toMatchObject({ undo: [], document: { bodies: {} } })
  })

  it('keeps what was saved since the local store had the whole document, and goes on from there', async () => {
    const { server, reach, kept } = world()
    const session = await openSession('a', reach)
    const written = () => kept.get('a')!.document.title
    for (let n = 1; n <= 150; n++) {
      session.edit('title', edits.setTitle(`Title ${n}`))
      await settled(session)
    }
    await patiently(() => expect(kept.get('a')!.version).toBe(151))
    // Written whole once on the way, not at each edit.
    expect(written()).toBe('Title 101')
    server.away = true
    const again = await openSession('a', reach)
    expect(again.store.getState().document.title).toBe('Title 150')
  })

  it('takes a step out of the way that does not fit any more', async () => {
    const { server, reach } = world()
    const session = await openSession('a', reach)
    const body = uuid(1)
    session.edit('title', edits.setTitle('Mine'))
    session.edit('add', edits.addBody(body, { position: uuid(2), velocity: uuid(3) }))
    await settled(session)
    server.apply(edit(server.document, edits.removeBody(body)).patch)
    await session.refresh()
    session.undo()
    expect(session.store.getState().message).toMatch(/does not fit/)
    session.undo()
    await settled(session)
    expect(server.document.title).toBe('Net float')
  })

  it('shows a preview without making an edit', async () => {
    const { server, reach } = world()
    const session = await openSession('a', reach)
    session.preview(edits.setTitle('While dragging'))
    expect(session.store.getState()).toMatchObject({
      preview: { title: 'While dragging' },
      document: { title: 'Net float' },
    })
    session.preview(null)
    session.edit('nothing', () => {})
    expect(server.version).toBe(1)
    expect(session.store.getState().undo).toHaveLength(0)
  })
})
