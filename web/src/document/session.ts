import type { EditAnswer } from '@apokinema/core/api'
import {
  applyPatch,
  compactPatch,
  edit,
  type Investigation,
  type Patch,
  PatchError,
  type Recipe,
  readInvestigation,
} from '@apokinema/core/investigation'
import { v4 as uuid } from 'uuid'
import { createStore, type StoreApi } from 'zustand/vanilla'
import { AwayError, type Client, RefusedError } from '../api/client.ts'
import type { AsideEdit, LocalRecord, LocalStore, PendingEdit, Step } from './localRecord.ts'

/** Steps that can be undone. */
const MOST_STEPS = 400
/** Saved edits after which the document is written to the local store as a whole again. */
const MOST_SINCE = 100
/** Waits between tries while the server is away, in milliseconds. */
const RETRY = [500, 1000, 2000, 4000, 8000, 15_000, 30_000]
/** Tries of one edit at which something breaks, here or in the server, before it is set aside. */
const MOST_FAULTS = 3

/** Codes by which the server says that this very edit is refused. */
const REFUSING = ['edit-refused', 'too-large', 'not-json']
/** Codes by which it says that it has another state: that is a matter for the person, and nothing is dropped. */
const CONFLICTING = ['edit-conflict', 'unknown-version', 'newer-document']

/**
 * offline: nothing answers. held: something answers, but does not save; `trouble` says what. conflict: the same thing
 * was changed elsewhere. gone: the investigation was deleted elsewhere.
 */
type SaveState = 'saved' | 'saving' | 'offline' | 'held' | 'conflict' | 'gone'

export interface SessionState {
  /** The document as it stands in this browser. */
  document: Investigation
  /** What a drag would make of it, while one goes on. */
  preview: Investigation | null
  save: SaveState
  savedAt: Date | null
  undo: Step[]
  redo: Step[]
  /** Edits that could not be saved, the oldest first. */
  aside: AsideEdit[]
  /** Why nothing is saved just now, for people. */
  failure: string | null
  /** A sentence for the person: a refused change, a conflict. */
  message: string | null
}

/** What a session reaches out to; replaced in tests. */
export interface Reach {
  client: Pick<Client, 'open' | 'edit'>
  localStore: LocalStore
  wait: (milliseconds: number) => Promise<void>
}

/**
 * One investigation at work: edits are applied at once, kept in the browser, and sent to the server one
 * after the other, each under its own key, until it has acknowledged them. Undo is an edit, too.
 */
export class Session {
  readonly store: StoreApi<SessionState>
  private sending: Promise<void> | null = null
  private writing: Promise<void> | null = null
  private writeAgain = false
  private wake: (() => void) | null = null
  private closed = false

  private constructor(
    readonly id: string,
    private readonly reach: Reach,
    /** The server's last known state. */
    private base: { version: number; document: Investigation },
    private pending: PendingEdit[],
    state: Partial<SessionState>,
    /** The server's state as it was last written to the local store as a whole, and what was saved since. */
    private shelved: { document: Investigation; since: Patch[] } = { document: base.document, since: [] },
  ) {
    this.store = createStore<SessionState>(() => ({
      document: base.document,
      preview: null,
      save: 'saved',
      savedAt: null,
      undo: [],
      redo: [],
      aside: [],
      failure: null,
      message: null,
      ...state,
    }))
  }

  /**
   * Opens an investigation: the server's state, with what this browser still has to send on top. Without
   * the server, the state that the browser kept. Rejects where neither has it.
   */
  static async open(id: string, reach: Reach): Promise<Session> {
    const opening = reach.client.open(id)
    opening.catch(() => {})
    const kept = await reach.localStore.read(id).catch(() => undefined)
    let fetched: Awaited<ReturnType<Client['open']>> | null = null
    try {
      fetched = await opening
    } catch (error) {
      if (!(error instanceof AwayError) || !kept) throw error
    }
    const history = { undo: kept?.undo ?? [], redo: kept?.redo ?? [], aside: kept?.aside ?? [] }
    if (kept && (kept.pending.length > 0 || !fetched)) {
      const { document, since = [] } = kept
      const base = { version: kept.version, document: readInvestigation(since.reduce(applyPatch, document)) }
      const state = { ...history, save: fetched ? ('saving' as const) : ('offline' as const) }
      const session = new Session(id, reach, base, kept.pending, state, { document, since })
      session.lay(base.document)
      session.send()
      return session
    }
    const { version, document, updatedAt } = fetched!
    return new Session(id, reach, { version, document }, [], { ...history, savedAt: new Date(updatedAt) })
  }

  /**
   * Makes an edit: at once in the page, then in the local store and on the server. One that changes nothing is none.
   *
   * @param together edits in a row of the same name here are undone in one step
   */
  edit(label: string, recipe: Recipe, together?: string): void {
    const { document, undo } = this.store.getState()
    const edited = edit(document, recipe)
    this.store.setState({ preview: null })
    if (edited.patch.length === 0) return
    const step: Step = { label, patch: edited.patch, inverse: edited.inverse, ...(together && { together }) }
    this.store.setState({ undo: latest([...undo, step]), redo: [] })
    this.take(label, edited.document, edited.patch)
  }

  /** Shows what an edit would do, while a drag goes on; null ends it. */
  preview(recipe: Recipe | null): void {
    const { document } = this.store.getState()
    this.store.setState({ preview: recipe ? edit(document, recipe).document : null })
  }

  /** Takes the last step back, with all that belong together with it. */
  undo(): void {
    const { undo, redo } = this.state
    const steps = lastTogether(undo).reverse()
    this.step(steps, 'inverse', { undo: undo.slice(0, -steps.length), redo: [...redo, ...steps] })
  }

  /** Makes the last step that was taken back again, with all that belong together with it. */
  redo(): void {
    const { undo, redo } = this.state
    const steps = lastTogether(redo).reverse()
    this.step(steps, 'patch', { undo: [...undo, ...steps], redo: redo.slice(0, -steps.length) })
  }

  /** @param steps in the order in which they are made or taken back; none of them changes nothing */
  private step(steps: Step[], way: 'patch' | 'inverse', history: Pick<SessionState, 'undo' | 'redo'>): void {
    if (steps.length === 0) return
    const [{ label }] = steps
    const patch = steps.flatMap((step) => step[way])
    try {
      const document = applyPatch(this.state.document, patch)
      this.store.setState(history)
      this.take(label, document, patch)
    } catch (error) {
      if (!(error instanceof PatchError)) throw error
      // The steps before them may still fit, so they do not stay in their way.
      const { undo, redo } = this.state
      this.store.setState({
        undo: undo.filter((one) => !steps.includes(one)),
        redo: redo.filter((one) => !steps.includes(one)),
        message: `“${label}” does not fit any more: the same thing was changed elsewhere.`,
      })
      this.keep()
    }
  }

  private take(label: string, document: Investigation, patch: Patch): void {
    this.pending.push({ key: uuid(), label, patch: compactPatch(patch, document) })
    const { save } = this.state
    this.store.setState({ document, save: save === 'saved' ? 'saving' : save })
    this.keep()
    this.send()
  }

  private get state(): SessionState {
    return this.store.getState()
  }

  /** Writes to the local store; calls during a write result in one more write. */
  private keep(): void {
    if (this.writing) {
      this.writeAgain = true
      return
    }
    const { undo, redo, aside } = this.state
    // Written whole now and then only: the document of a long run takes long to write.
    if (this.shelved.since.length > MOST_SINCE) this.shelved = { document: this.base.document, since: [] }
    const record: LocalRecord = {
      version: this.base.version,
      ...this.shelved,
      since: [...this.shelved.since],
      pending: [...this.pending],
      aside,
      undo,
      redo,
    }
    this.writing = this.reach.localStore
      .write(this.id, record)
      .catch(() => {
        this.store.setState({
          message:
            'This browser keeps nothing on its disk: what is not saved is lost when the page is closed.',
        })
      })
      .then(() => {
        this.writing = null
        if (this.writeAgain) {
          this.writeAgain = false
          this.keep()
        }
      })
  }

  /** Sends what is pending, one edit after the other, until nothing is left. */
  private send(): void {
    this.sending ??= this.deliver().finally(() => {
      this.sending = null
      if (this.pending.length > 0 && !this.closed && !['conflict', 'gone'].includes(this.state.save))
        this.send()
    })
  }

  private async deliver(): Promise<void> {
    /** Tries in a row that saved nothing, and how many of them broke at the edit that is first now. */
    let [tries, faults] = [0, 0]
    while (this.pending.length > 0 && !this.closed) {
      const first = this.pending[0]
      try {
        const answer = await this.reach.client.edit(this.id, {
          key: first.key,
          patch: first.patch,
          base: this.base.version,
        })
        await this.acknowledge(first, answer)
        ;[tries, faults] = [0, 0]
        continue
      } catch (error) {
        const code = error instanceof RefusedError ? error.code : null
        if (code && CONFLICTING.includes(code)) {
          this.store.setState({ save: 'conflict', message: (error as Error).message })
          return
        }
        if (code === 'not-found') {
          this.store.setState({
            save: 'gone',
            message:
              'This investigation was deleted elsewhere. Bring it back from the list of deleted ones, then reload.',
          })
          return
        }
        const isFault = code === null && !(error instanceof AwayError && error.kind !== 'fault')
        if (isFault) faults++
        if ((code && REFUSING.includes(code)) || faults >= MOST_FAULTS) {
          this.setAside(first, (error as Error).message)
          ;[tries, faults] = [0, 0]
          continue
        }
        const isUnreachable = error instanceof AwayError && error.kind === 'unreachable'
        this.store.setState({
          save: isUnreachable ? 'offline' : 'held',
          failure: (error as Error).message,
        })
      }
      await this.pause(RETRY[Math.min(tries++, RETRY.length - 1)])
    }
  }

  private async pause(milliseconds: number): Promise<void> {
    await Promise.race([
      this.reach.wait(milliseconds),
      new Promise<void>((resolve) => {
        this.wake = resolve
      }),
    ])
  }

  /** Takes in the server's answer to the edit that is first. */
  private async acknowledge(first: PendingEdit, answer: EditAnswer): Promise<void> {
    let isNews = answer.since.length > 0
    try {
      const patches = [...answer.since, first.patch]
      const document = patches.reduce(applyPatch, this.base.document)
      this.base = { version: answer.version, document }
      this.shelved.since.push(...patches)
    } catch {
      // What is known here is not what the server has: it is asked, and its state already holds the edit.
      const { version, document } = await this.reach.client.open(this.id)
      this.rebase(version, document)
      isNews = true
    }
    this.pending.shift()
    this.saved(answer)
    if (isNews) this.lay(this.base.document)
    else this.keep()
  }

  /** Takes the server's state for what it is now. */
  private rebase(version: number, document: Investigation): void {
    this.base = { version, document }
    this.shelved = { document, since: [] }
  }

  private saved({ updatedAt }: EditAnswer): void {
    this.store.setState({
      savedAt: new Date(updatedAt),
      save: this.pending.length > 0 ? 'saving' : 'saved',
      failure: null,
    })
  }

  /** Lays what is pending on a newer state; what does not fit there is set aside. */
  private lay(base: Investigation): void {
    const { document, misfits } = laid(base, this.pending)
    this.pending = this.pending.filter((one) => !misfits.includes(one))
    const why = 'The same thing was changed elsewhere, so it does not fit any more.'
    this.store.setState(({ aside, save }) => ({
      document,
      aside: [...aside, ...misfits.map((one) => ({ ...one, why }))],
      save: this.pending.length === 0 && save === 'saving' ? 'saved' : save,
    }))
    this.keep()
  }

  /** Sets aside the edit that is first: the others are gone on with as far as they fit without it. */
  private setAside(first: PendingEdit, why: string): void {
    this.pending = this.pending.filter((one) => one !== first)
    this.store.setState(({ aside }) => ({
      aside: [...aside, { ...first, why }],
      save: this.pending.length > 0 ? 'saving' : 'saved',
      failure: null,
    }))
    this.lay(this.base.document)
    // The server may have it all the same, where an earlier answer was lost.
    if (this.pending.length === 0) void this.refresh().catch(() => {})
  }

  /** Makes an edit again that was set aside, under a new key; where it does not fit, a message says so. */
  tryAgain(key: string): void {
    const edit = this.state.aside.find((one) => one.key === key)
    if (!edit) return
    try {
      const document = applyPatch(this.state.document, edit.patch)
      this.store.setState(({ aside }) => ({ aside: aside.filter((one) => one !== edit) }))
      this.take(edit.label ?? '', document, edit.patch)
    } catch (error) {
      if (!(error instanceof PatchError)) throw error
      this.store.setState({ message: 'It still does not fit: the same thing was changed elsewhere.' })
    }
  }

  /** Lets all edits go that were set aside. */
  letGo(): void {
    this.store.setState({ aside: [] })
    this.keep()
  }

  /** The document as it is now, with all edits of this browser. */
  get document(): Investigation {
    return this.store.getState().document
  }

  /** Tries again now, for when the connection may be back. */
  retryNow(): void {
    this.wake?.()
  }

  /** Ends a conflict: with `mine` this browser's changes are laid over the newest state, otherwise they are dropped. */
  async resolveConflict(mine: boolean): Promise<void> {
    const { version, document } = await this.reach.client.open(this.id)
    this.rebase(version, document)
    if (!mine) this.pending = []
    this.store.setState({
      message: null,
      failure: null,
      save: this.pending.length > 0 ? 'saving' : 'saved',
      ...(mine ? {} : { undo: [], redo: [] }),
    })
    this.lay(document)
    this.send()
  }

  /** Takes in what others changed, where nothing of one's own waits. */
  async refresh(): Promise<void> {
    if (this.pending.length > 0) return
    try {
      const { version, document, updatedAt } = await this.reach.client.open(this.id)
      if (this.pending.length > 0 || version <= this.base.version) return
      this.rebase(version, document)
      this.store.setState({ document, savedAt: new Date(updatedAt) })
      this.keep()
    } catch (error) {
      if (!(error instanceof AwayError)) throw error
    }
  }

  dismissMessage(): void {
    this.store.setState({ message: null })
  }

  /** Stops sending; pending edits stay in the local store. */
  close(): void {
    this.closed = true
    this.wake?.()
  }
}

/** Steps at the end of a list that belong together, in its order; one where it belongs to none. */
function lastTogether(steps: readonly Step[]): Step[] {
  const name = steps.at(-1)?.together
  if (name === undefined) return steps.slice(-1)
  return steps.slice(steps.findLastIndex(({ together }) => together !== name) + 1)
}

/** The steps of a list that can be undone: so many at most, where those that belong together count as one. */
function latest(steps: Step[]): Step[] {
  if (steps.length <= MOST_STEPS) return steps
  let [count, at] = [0, steps.length]
  while (at > 0 && count < MOST_STEPS) {
    at -= lastTogether(steps.slice(0, at)).length
    count++
  }
  return at > 0 ? steps.slice(at) : steps
}

/** A document with edits on top, without those that do not fit any more. */
function laid(
  base: Investigation,
  pending: readonly PendingEdit[],
): { document: Investigation; misfits: PendingEdit[] } {
  const misfits: PendingEdit[] = []
  const document = pending.reduce((at, edit) => {
    try {
      return applyPatch(at, edit.patch)
    } catch {
      misfits.push(edit)
      return at
    }
  }, base)
  return { document, misfits }
}
