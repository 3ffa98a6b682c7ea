import type { EditRequest, OpenedInvestigation } from '@apokinema/core/api'
import {
  applyPatch,
  edit,
  edits,
  FIRST_AXES,
  type Investigation,
  newInvestigation,
  type Patch,
} from '@apokinema/core/investigation'
import { describe, expect, it, vi } from 'vitest'
import { AwayError, RefusedError } from '../api/client.ts'
import { type Reach, Session } from './session.ts'
import type { ShelfRecord } from './shelf.ts'

/** A server and a shelf in memory that keep the promises of the real ones. */
function world() {
  const server = {
    document: newInvestigation('Net float') as Investigation,
    version: 1,
    applied: new Map<string, number>(),
    patches: [] as Patch[],
    away: false,
    /** The answer to the next edit is lost on its way. */
    loseAnswer: false,
    refuse: null as RefusedError | null,
  }
  const kept = new Map<string, ShelfRecord>()
  const reach: Reach = {
    client: {
      open: async (id): Promise<OpenedInvestigation> => {
        if (server.away) throw new AwayError('away')
        return {
          id,
          version: server.version,
          document: server.document,
          footageStored: false,
          updatedAt: '2026-06-01T10:00:00Z',
        }
      },
      edit: async (_id, { key, base, patch }: EditRequest) => {
        if (server.away) throw new AwayError('away')
        if (server.refuse) {
          const refusal = server.refuse
          server.refuse = null
          throw refusal
        }
        const known = server.applied.get(key)
        const until = known ?? server.version
        const since = server.patches.slice(base - 1, known ? known - 2 : until - 1)
        if (!known) {
          server.document = applyPatch(server.document, patch)
          server.patches.push(patch)
          server.version++
          server.applied.set(key, server.version)
        }
        if (server.loseAnswer) {
          server.loseAnswer = false
          throw new AwayError('lost')
        }
        return { version: known ?? server.version, since, updatedAt: '2026-06-01T10:00:01Z' }
      },
    },
    shelf: {
      read: async (id) => structuredClone(kept.get(id)),
      write: async (id, record) => void kept.set(id, structuredClone(record)),
    },
    wait: () => new Promise((resolve) => setTimeout(resolve, 1)),
  }
  return { server, kept, reach }
}

/** A shared machine can be slow for a while. */
const patiently = (check: () => void) => vi.waitFor(check, { timeout: 20_000 })

const settled = (session: Session, save = 'saved') =>
  patiently(() => expect(session.store.getState().save).toBe(save))

describe('session', () => {
  it('sends edits in order and says when they are saved', async () => {
    const { server, reach } = world()
    const session = await Session.open('a', reach)
    session.edit('title', edits.setTitle('First'))
    session.edit('title', edits.setTitle('Second'))
    expect(session.store.getState()).toMatchObject({ save: 'saving', document: { title: 'Second' } })
    await settled(session)
    expect(server.document.title).toBe('Second')
    expect(server.version).toBe(3)
  })

  it('undoes edits that belong together in one step, also with another between the runs', async () => {
    const { server, reach } = world()
    const session = await Session.open('a', reach)
    session.edit('follow', edits.setTitle('One'), 'run 1')
    session.edit('follow', edits.setTitle('Two'), 'run 1')
    session.edit('follow', edits.setTitle('Three'), 'run 1')
    session.edit('title', edits.setTitle('By hand'))
    session.edit('follow', edits.setTitle('Four'), 'run 1')
    expect(session.store.getState().undo).toHaveLength(3)
    session.undo()
    session.undo()
    expect(session.store.getState().document.title).toBe('Three')
    session.undo()
    expect(session.store.getState().document.title).toBe('Net float')
    session.redo()
    await settled(session)
    expect(server.document.title).toBe('Three')
  })

  it('undoes and redoes, also after it was opened again', async () => {
    const { server, reach } = world()
    const session = await Session.open('a', reach)
    session.edit('title', edits.setTitle('First'))
    session.edit('title', edits.setTitle('Second'))
    await settled(session)
    const again = await Session.open('a', reach)
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
    const session = await Session.open('a', reach)
    server.away = true
    for (let n = 0; n < 30; n++) session.edit('title', edits.setTitle(`Title ${n}`))
    await settled(session, 'offline')
    await patiently(() => expect(kept.get('a')!.pending).toHaveLength(30))
    session.close()

    const later = await Session.open('a', reach)
    expect(later.store.getState().document.title).toBe('Title 29')
    server.away = false
    later.nudge()
    await settled(later)
    expect(server.document.title).toBe('Title 29')
    expect(server.version).toBe(31)
  })

  it('keeps undo steps on the shelf as they are, also without a server', async () => {
    const { server, kept, reach } = world()
    const session = await Session.open('a', reach)
    session.edit('title', edits.setTitle('First'))
    await settled(session)
    server.away = true
    session.undo()
    await patiently(() => expect(kept.get('a')).toMatchObject({ undo: [], redo: [{ label: 'title' }] }))
    session.close()
    const later = await Session.open('a', reach)
    later.redo()
    expect(later.store.getState().document.title).toBe('First')
    later.close()
  })

  it('sends an edit again whose answer was lost, and it is applied once', async () => {
    const { server, reach } = world()
    const session = await Session.open('a', reach)
    server.loseAnswer = true
    session.edit('title', edits.setTitle('Once'))
    await settled(session)
    expect(server.version).toBe(2)
  })

  it('takes in what others changed in between', async () => {
    const { server, reach } = world()
    const session = await Session.open('a', reach)
    const theirs = edit(server.document, edits.setAxes({ tilt: 0.5 })).patch
    server.document = applyPatch(server.document, theirs)
    server.patches.push(theirs)
    server.version++
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
      const session = await Session.open('a', reach)
      server.refuse = new RefusedError(409, 'edit-conflict', 'changed elsewhere')
      session.edit('title', edits.setTitle('Mine'))
      await settled(session, 'conflict')
      await patiently(() => expect(kept.get('a')!.pending).toHaveLength(1))
      await session.settle(mine)
      await settled(session)
      expect(server.document.title).toBe(mine ? 'Mine' : 'Net float')
    }
  })

  it('takes back an edit that the server refuses, and says so', async () => {
    const { server, reach } = world()
    const session = await Session.open('a', reach)
    server.refuse = new RefusedError(422, 'edit-refused', 'This change was refused.')
    session.edit('title', edits.setTitle('Bad'))
    await settled(session)
    expect(session.store.getState()).toMatchObject({
      document: { title: 'Net float' },
      message: 'This change was refused.',
    })
  })

  it('shows a preview without making an edit', async () => {
    const { server, reach } = world()
    const session = await Session.open('a', reach)
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
